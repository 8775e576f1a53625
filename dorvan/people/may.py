"""Who may do what: every address that something is posted to, in one table. What is not in it nobody may.

Some acts hang on more than a role, and say so where they are done: a kind of job that asks less of the gate, and taking
off that a part is structural, are a lead's once metal was cut (``tickets.gate``).
"""

from django.core.exceptions import PermissionDenied
from django.http import HttpResponseNotAllowed
from django.shortcuts import render

from . import pins

OPEN = {"people:sign-in", "people:sign-out", "people:first", "people:take-over"}
"""Who is not signed in may too."""
EVERYONE = {
    # tickets and what lies beside them
    "tickets:create", "tickets:read-in", "tickets:look-again", "tickets:change", "tickets:undo", "tickets:duplicate",
    "tickets:twin", "tickets:set-up", "tickets:archive", "tickets:cut", "tickets:keep-photograph",
    "tickets:gate-act", "tickets:kit-add", "tickets:kit-piece", "tickets:kit-sizes", "tickets:kit-made",
    "tickets:kit-bought", "tickets:kit-orders-stop", "joining:choose", "outside:choose", "outside:send", "outside:back",
    # orders
    "tickets:know", "tickets:try", "tickets:take", "tickets:search", "tickets:looking", "tickets:trying",
    "tickets:stop-remedies", "tickets:important",
    # the floor
    "floor:release", "floor:record", "floor:log", "floor:look-over", "floor:structural", "floor:save-check",
    "floor:decide", "floor:keep-photograph", "floor:take-k",
    # proof bends and samples
    "ledger:begin-proof", "ledger:strip", "ledger:save-part", "ledger:mark", "ledger:read-in",
    # metal, site, cutting, day
    "stockroom:add-lot", "stockroom:measure", "stockroom:leftover", "site:new", "site:act", "cutting:new",
    "cutting:change", "cutting:move", "cutting:cut", "cutting:end", "cutting:away",
    "day:new", "day:end", "day:fix", "day:away",
    # oneself
    "people:units", "people:read-so", "people:own-phrase", "people:own-pin",
    "simulated:begin", "simulated:bend", "simulated:look", "simulated:choose",
}
LEADS = {
    "tickets:remove", "tickets:override", "tickets:ask", "tickets:section-outline",
    "brakes:begin", "brakes:again", "brakes:size",
    "brakes:add-tool", "brakes:tool-size", "brakes:tool-act", "brakes:compare-tool",
    "brakes:upload", "brakes:sample", "brakes:change", "brakes:hands", "brakes:add-tooling", "brakes:remove-tooling",
    "ledger:adopt", "ledger:withdraw", "ledger:rules", "ledger:add-chart", "ledger:remove-chart",
    "stockroom:add-material", "stockroom:set-value", "outside:read-in", "outside:begin", "outside:limit",
    "day:hours", "day:rates", "day:hand",
    "people:add", "people:change", "people:trust", "people:withdraw", "office:put",
    "office:take-mark", "office:leave", "office:read-bundle",
}
LEADS_READ = {
    "brakes:new", "office:settings", "office:bundles", "office:whole",
    "people:people", "people:deeds", "stockroom:new-material"}
"""Pages that only leads look at."""


class May:
    """Refuses what the table does not allow, before a view is called."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        return self.get_response(request)

    def process_view(self, request, view, args, kwargs):
        name, reads = request.resolver_match.view_name, request.method in ("GET", "HEAD", "OPTIONS")
        if not (name in OPEN or request.user.is_authenticated):
            return None  # sent to sign in
        lead = request.user.is_authenticated and request.user.is_lead
        if name in (LEADS_READ if reads else LEADS) and not lead:
            raise PermissionDenied
        if name in pins.BY_PHRASE and request.user.is_authenticated and request.session.get("by_pin"):
            return render(request, "people/phrase_first.html", status=403)
        if reads or any(name in table for table in (OPEN, EVERYONE, LEADS)):
            return None
        return HttpResponseNotAllowed(["GET", "HEAD"])

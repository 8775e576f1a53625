"""The tools of a press brake: put up, copied, lent to another brake, renamed, taken off its rack."""

from django.contrib import messages
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.brakes.brake import read_brake
from bendcore.brakes.measured.described import (
    TOOLS,
    another_opening,
    copied,
    kind_of,
    lent,
    renamed,
    retired,
    taken,
    tool_at,
    with_tool,
    without,
)
from bendcore.errors import Refusal
from bendcore.files import read_json
from dorvan import fields
from dorvan.drawings.measured import kind_view
from dorvan.drawings.tools import shelf_view
from dorvan.versions.doing import retried, status_of

from .models import Brake
from .sizes import page

TOUCHED = ("tools",)
"""What every act here touches of a brake."""
RACKS = {"punches": "punch", "dies": "die"}
"""The lists of a brake file, and the ticket's field that names a tool of each."""


def press_or_404(pk: int) -> Brake:
    """A brake that has tools."""
    found = get_object_or_404(Brake, pk=pk)
    if not found.press:
        raise Http404
    return found


@require_safe
def shelf(request, pk: int):
    """All tools of a press brake to one scale, those put away too."""
    return _shelf(request, press_or_404(pk))


def _shelf(request, found: Brake, error: Refusal | None = None):
    data = read_json(found.file.encode())
    asked = request.GET.get("q", "").strip()[:40]
    rows = [row | {"kind": kind_of(row["tool"])} for row in shelf_view(data)]
    rows = [row for row in rows if asked.casefold() in f"{row['tool']['name']} {_called(row)}".casefold()]
    for row in rows:
        row["unsaid"] = sum(not one.is_measured for one in taken(row["tool"], data["units"]))
    kinds = [{"kind": kind, "view": kind_view(kind, 120, 104)} for kind in TOOLS.values()]
    return render(request, "brakes/shelf.html", {
        "at": "brakes", "brake": found, "rows": rows, "asked": asked, "kinds": kinds, "units": request.user.units,
        "error": fields.told(error), "typed": request.POST if error else {}}, status=status_of(error))


def _called(row) -> str:
    """The kind of a tool on the shelf, as it is looked for."""
    return row["kind"].title if row["kind"] else ("punch" if row["rack"] == "punches" else "die")


@require_POST
@retried
def add(request, pk: int):
    """A tool of a kind, of start sizes, to be measured."""
    found, form = press_or_404(pk), request.POST
    try:
        found.refuse_clash(form, TOUCHED)
        kind = TOOLS[fields.one_of(form.get("kind"), TOOLS, "kind")]
        data, number = with_tool(read_json(found.file.encode()), kind, fields.words(form.get("name"), 80))
        read_brake(data)
    except Refusal as refusal:
        return _shelf(request, found, refusal)
    found.rewrite(request.user, TOUCHED, f"put up {data[kind.rack][number]['name']}", data)
    return redirect("brakes:tool", pk=pk, rack=kind.rack, number=number)


@require_POST
@retried
def act(request, pk: int, rack: str, number: int):
    """Copy a tool, lend it to another brake, give it another name, take it off the rack or put it up again."""
    found, form = press_or_404(pk), request.POST
    data = read_json(found.file.encode())
    try:
        tool = tool_at(data, rack, number)
    except Refusal:
        raise Http404 from None
    try:
        found.refuse_clash(form, TOUCHED)
        what = fields.one_of(form.get("what"), ("copy", "opening", "lend", "rename", "off", "up"), "what")
        if what == "lend":
            return _lend(request, found, data, rack, number)
        name = fields.words(form.get("name"), 80)
        changed, at, said = _changed(found, data, rack, number, what, name)
        read_brake(changed)
    except Refusal as refusal:
        return page(request, found, rack, number, refusal)
    found.rewrite(request.user, TOUCHED, said.format(tool["name"]), changed)
    messages.success(request, f"{tool['name']}: {said.format('it')}.")
    return redirect("brakes:shelf", pk=pk) if at is None else redirect("brakes:tool", pk=pk, rack=rack, number=at)


def _changed(found, data, rack, number, what, name) -> tuple[dict, int | None, str]:
    """The file after the act, the tool's number to look at next, and what was done in words."""
    if what == "copy":
        return *copied(data, rack, number, name), "copied {}"
    if what == "opening":
        return *another_opening(data, rack, number, name), "put up another opening of the block of {}"
    old = tool_at(data, rack, number)["name"]
    in_use = _users(found, rack, old)
    if what == "rename":
        if in_use:
            raise Refusal("name", f"is what {in_use} calls it: copy it under another name instead")
        return renamed(data, rack, number, name), number, "renamed {}"
    if what == "up":
        return retired(data, rack, number, False), number, "put {} up again"
    if in_use:
        return retired(data, rack, number, True), None, "put {} away: tickets name it, so its figures are kept"
    return without(data, rack, number), None, "took {} off the rack"


def _users(found, rack, name) -> str:
    """The first tickets that name a tool."""
    tags = [ticket.tag for ticket in found.ticket_set.filter(**{RACKS[rack]: name})[:3]]
    frozen = found.ticket_set.filter(**{f"revisions__choices__{RACKS[rack]}": name}).distinct()[:3]
    return ", ".join(dict.fromkeys([*tags, *(ticket.tag for ticket in frozen)]))


def _lend(request, found, data, rack, number):
    """Put the tool on another press brake's rack too."""
    other = fields.row(Brake, request.POST.get("to"))
    if not other.press or other == found:
        raise Refusal("to", "must be another press brake")
    changed = lent(data, rack, number, read_json(other.file.encode()))
    read_brake(changed)
    name = tool_at(data, rack, number)["name"]
    other.rewrite(request.user, TOUCHED, f"put up {name} of {found.name}", changed)
    messages.success(request, f"{name} is on the rack of {other.name} too.")
    return redirect("brakes:tool", pk=found.pk, rack=rack, number=number)

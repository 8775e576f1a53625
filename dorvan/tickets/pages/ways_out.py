"""Ways out of a part for which there is no order: each simulated, shown with what it would change, taken at a press."""

from dataclasses import dataclass

from django.shortcuts import render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.fields import Group
from bendcore.order.plan import Remedy
from bendcore.part_file import field_at
from dorvan.brakes.models import Brake
from dorvan.drawings.film import Picture, finished
from dorvan.longwork.desk import Working

from ..families.rows import Rows
from ..file.actions import at, with_fields
from ..models import Ticket
from ..results.derived import Figures, figures
from .lookup import ordered_or_404, ticket_or_404

FINGER = "finger"
"""A way out that is no size of the part."""
KINDS = {"other-order": "other orders", "other-tool": "other tools", "other-brake": "other brakes",
         "other-fingers": "another finger", "shorter-leg": "shorter legs", "longer-leg": "longer legs",
         "lower-wall": "smaller sizes", "wider-base": "larger sizes", "turn": "lips and hems the other way",
         "other-field": "other ways of making corners and edges", "narrower-v": "a narrower V",
         "in-lengths": "several lengths", "apart": "hems as strips of their own", "bigger-radius": "a larger radius",
         "tool-to-buy": "tools that are not on the rack", "open-angle": "an angle left open",
         "crease-and-return": "creases closed by hand", "split": "two pieces",
         "two-changes": "two changes at once"}
"""Kinds of ways out as people say them."""


@dataclass(frozen=True)
class Change:
    """A size of the part ``before`` and ``after``, as its reader has them."""

    name: str
    before: str
    after: str
    unit: str


@dataclass(frozen=True)
class Taken:
    """What the part would be: what changes, its blank before and after (mm), and how it looks."""

    changes: tuple[Change, ...]
    before: tuple[float, float]
    after: tuple[float, float]
    looks: Picture


@require_safe
def remedies(request, number: int):
    """Ways out, each simulated; asked for because it takes a few seconds."""
    ticket = ordered_or_404(ticket_or_404(number))
    found, working, refused = None, False, ""
    sought = ticket.order_asked.ways_out(_others(ticket))
    try:
        found = sought.ask()
    except Working:
        working = True
    except Refusal as refusal:
        refused = refusal.message
    brakes = {brake.name: brake for brake in Brake.objects.all()} if found else {}
    far = sought.far()
    rows = [{"remedy": one, "brake": brakes.get(one.brake), "sizes": (sizes := _to_take(ticket, one)),
             "taken": _taken(ticket, sizes, request.user.units)} for one in (found.remedies if found else ())]
    return render(request, "tickets/_remedies.html", {
        "remedies": rows, "ticket": ticket, "working": working, "refused": refused, "part": ticket.figures.part,
        "far": far and far | {"kind": KINDS.get(far.get("kind"), "")},
        "now": finished(ticket.figures.part) if any(row["taken"] for row in rows) else None,
        "together": found.together if found else (),
        "unfinished": [KINDS.get(kind, kind) for kind in found.unfinished] if found else []})


@require_POST
def stop(request, number: int):
    """Let the search for ways out end with what it has, or look on after that."""
    ticket = ordered_or_404(ticket_or_404(number))
    sought = ticket.order_asked.ways_out(_others(ticket))
    if request.POST.get("go") == "on":
        sought.anew()
        return render(request, "tickets/_remedies.html", {"ticket": ticket, "working": True})
    sought.stop()
    return render(request, "tickets/_remedies.html", {"ticket": ticket, "working": True, "far": {"stopped": True}})


def _others(ticket: Ticket) -> tuple[str, ...]:
    """The files of the shop's other brakes."""
    return tuple(brake.file for brake in Brake.objects.exclude(pk=ticket.brake.pk))


def _to_take(ticket: Ticket, remedy: Remedy) -> list[tuple[str, str]]:
    """(field, value) of a way out that changes the part; no value for what is left off."""
    legs = {leg.id: i for i, leg in enumerate(ticket.figures.part.shape.legs)}
    rows = [*remedy.sizes, *((f"legs[{legs[name]}]", mm) for name, mm in remedy.legs if name in legs), *remedy.fields]
    found = [(f"shape.{field}", value) for field, value in rows if field != FINGER]
    found += [("inside_radius", remedy.radius)] if remedy.radius else []
    return [(field, f"{value:.6g} mm" if isinstance(value, float) else str(value or "")) for field, value in found]


def _taken(ticket: Ticket, sizes: list[tuple[str, str]], units) -> Taken | None:
    """What taking these would change; None where it is no size, or one that cannot be taken."""
    if not sizes:
        return None
    try:
        part = with_fields(ticket.part, sizes, units)
        after: Figures = figures(ticket.joined | {key: part[key] for key in ("shape", "inside_radius") if key in part})
    except Refusal:
        return None
    rows = Rows(ticket.kind, ticket.part["units"], units)
    changes = []
    for path, _ in sizes:
        place = field_at(path, ticket.kind)
        if place is None:
            continue
        if isinstance(place.field, Group):
            changes.append(Change(place.name, "on the part", "by itself", ""))
            continue
        one, other = (next(rows.of(place.field, path, at(data, path)), None) for data in (ticket.part, part))
        if one and other and one.value != other.value:
            changes.append(Change(one.name, one.value or "not said", other.value, other.unit))
    return Taken(tuple(changes), ticket.figures.part.flat.size, after.part.flat.size, finished(after.part))

"""Layout: the blank with its marks, and the steps of marking out."""

from django.shortcuts import render
from django.views.decorators.http import require_safe

from bendcore.layout.large import large_radii
from bendcore.layout.marks import DATUMS, diagonal, steps
from bendcore.part import Part
from dorvan.drawings.flat import flat_view
from dorvan.drawings.marked import marked_view

from ..models import Ticket
from .lookup import ticket_or_404


def blank_view(ticket: Ticket, units: str, datum: str = DATUMS[0]) -> dict:
    """The drawing of the blank with its marks: a strip's own, or any other part's."""
    figures = ticket.figures
    if figures.part.shape.is_strip and not figures.part.shape.ends and not figures.part.flat.holes:
        return flat_view(figures.part, units, datum, ticket.clamped)
    return marked_view(figures.part, units, figures.known_conflicts, datum, ticket.clamped)


def layout(ticket: Ticket, units: str) -> dict:
    part = ticket.figures.part
    return {"view": blank_view(ticket, units), "length": part.flat.size[0],
            "width": part.flat.size[1]} | by_hand(part)


def by_hand(part: Part) -> dict:
    """What is made by hand beside the bends: large radii, and the wooden form that proves a transition."""
    return {"large": large_radii(part), "wood": part.shape.wood_form()}


@require_safe
def marking_out(request, number: int):
    """The steps of marking out, to be printed and taken to the sheet."""
    ticket = ticket_or_404(number)
    units, part = request.user.units, ticket.figures.part
    rules = {"mm": (150, 300, 600, 1000), "in": (152.4, 304.8, 609.6, 914.4)}[units]
    asked = request.GET.get("rule", "")
    rule = next((r for r in rules if f"{r:g}" == asked), rules[2])
    datum = request.GET.get("datum") if request.GET.get("datum") in DATUMS else DATUMS[0]
    return render(request, "tickets/marking_out.html", {
        "ticket": ticket, "at": "rack", "units": units, "part": part, "rule": rule, "rules": rules,
        "datum": datum, "datums": DATUMS,
        "steps": steps(part, rule, datum), "view": blank_view(ticket, units, datum),
        "diagonal": diagonal(part.flat), "pieces": ticket.quantity,
        "length": part.flat.size[0], "width": part.flat.size[1]} | by_hand(part))

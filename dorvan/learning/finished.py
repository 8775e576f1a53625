"""A finished piece whose blank was measured, as a sample for the ledger."""

import datetime

from django.db import transaction
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.quality.proof import part_as_proof
from bendcore.units import MM_PER, read_angle, read_length, show_angle
from dorvan import fields
from dorvan.ledger.models import Pair, Sample
from dorvan.tickets.pages.lookup import released_or_404

from .forms import kept_readings


def page(request, ticket, error: Refusal | None = None):
    """A finished piece with a measured blank, as a sample."""
    part = ticket.revision.figures.part
    sheet = ticket.revision.sheets.last()
    measured = {row.dimension.name: row.measured for row in sheet.measured} if sheet else {}
    units = request.user.units
    per = MM_PER[units]
    typed = request.POST if error else {}
    legs = [{"name": leg.id, "title": f"Leg {leg.id}, {leg.dims}",
             "value": typed.get(leg.id, f"{measured[leg.id] / per:.4g}" if leg.id in measured else "")}
            for leg in part.shape.legs]
    angles = [measured[b.id] for b in part.shape.bends if b.id in measured]
    return render(request, "ledger/part.html", {
        "at": "ledger", "ticket": ticket, "units": units, "part": part, "legs": legs, "typed": typed,
        "angle": typed.get("angle", show_angle(sum(angles) / len(angles), units, 2) if angles else ""),
        "why_not": _why_not(part, ticket),
        "error": fields.told(error)}, status=422 if error else 200)


def _why_not(part, ticket) -> str:
    """Why this part cannot stand for a proof bend; empty when it can."""
    alike = {(b.figures.angle, round(b.figures.inside_radius, 4)) for b in part.shape.bends}
    if not ticket.tool:
        return "Choose the tool it was bent with at Stock first."
    if len(alike) != 1 or part.shape.hems:
        return "Its bends are not all alike, so their shares of the blank cannot be told apart. Bend a strip instead."
    if any(leg.dims == "flat" for leg in part.shape.legs):
        return "Its legs are given flat, which cannot be measured on the finished piece."
    return ""


@require_safe
def finished(request, number: int):
    return page(request, released_or_404(number)[0])


@require_POST
def save_finished(request, number: int):
    ticket, _ = released_or_404(number)
    part, form, units = ticket.revision.figures.part, request.POST, request.user.units
    if _why_not(part, ticket):
        return page(request, ticket, Refusal("", _why_not(part, ticket)))
    try:
        sizes = {key: read_length(form.get(key, ""), units, key) for key in ("blank", "inside_radius", "thickness")}
        angle = read_angle(form.get("angle", ""), "angle", units)
        legs = []
        for leg in part.shape.legs:
            legs.append(read_length(form.get(leg.id, ""), units, leg.id) + leg.outside - leg.size)
        proof = part_as_proof(sizes["blank"], legs, angle, sizes["inside_radius"], sizes["thickness"],
                              len(part.shape.bends))
    except Refusal as refusal:
        path = "blank" if refusal.path == "strip" else refusal.path
        return page(request, ticket, Refusal(path, refusal.message))
    tool = ticket.tool
    with transaction.atomic():
        pair = Pair.near(part.stock.material.name, part.stock.thickness, tool) or Pair.objects.create(
            material=part.stock.material.name, thickness=round(part.stock.thickness, 4), tool=tool)
        Sample.objects.create(
            pair=pair, ticket=ticket, lot=ticket.lot, kind="part", readings=kept_readings(proof, None),
            radius_by="gauge", who=request.user.username, on=datetime.date.today(),
            note=f"finished piece, {len(part.shape.bends)} bends alike")
    return redirect("ledger:pair", pk=pair.pk)

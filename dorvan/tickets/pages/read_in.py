"""Tickets from files: a drawing, the stations of a chain, a part file handed on.

A drawing is read in another process. What is read at once becomes a ticket at once; what takes longer is kept, and a
page of its own asks how far it is.
"""

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.files import check, read_json
from bendcore.formats.drawing import MOST_BYTES, Drawing, Unreadable
from bendcore.formats.dxf_in import ASKED
from bendcore.formats.reading import SOLIDS, read_shape_in
from bendcore.part import settled
from bendcore.part_file import START
from bendcore.said import in_units, refused_in
from dorvan import fields
from dorvan.brakes.models import Brake
from dorvan.drawings.refused import refused_view
from dorvan.longwork import desks
from dorvan.longwork.desk import Working

from ..kits import MOST_PIECES
from ..models import Reading, Ticket
from .begin import put_on_the_rack

UNITS = ("mm", "cm", "m", "in")
"""What a drawing may have been drawn in."""
KEPT = timezone.timedelta(days=1)
"""A drawing whose reading nobody looked after goes after so long."""
for _desk in (desks.drawings, desks.large_drawings, desks.solids):
    _desk.takes(read_shape_in, 0.5)


@require_POST
def read_in(request):
    """A ticket from a DXF or SVG of a flat, the CSV of a chain's stations, or a STEP solid, an assembly as a kit; what
    was done to read it is told, and what could not be read is shown where it is."""
    file = request.FILES.get("file")
    try:
        if not file:
            raise Refusal("", "choose a file first: a drawing, a solid, a part file or a table of stations")
        if file.size > MOST_BYTES:
            raise Refusal("", f"is larger than {MOST_BYTES // 1_000_000} MB")
        if file.name.lower().endswith(".json"):
            return _part_file(request, file)
        unit = fields.one_of(request.POST.get("unit") or ASKED, (ASKED, *UNITS), "unit")
        without = fields.words(request.POST.get("without"), 200).replace(",", " ").split()
        reading = Reading(name=file.name[-60:], data=file.read(MOST_BYTES + 1), unit=unit, without=without,
                          by=request.user)
        try:
            return redirect(_as_ticket(request, reading, _read(reading)))
        except Working:
            Reading.objects.filter(at__lt=timezone.now() - KEPT).delete()
            reading.save()
            return redirect("tickets:reading", reading.pk)
    except Refusal as refusal:
        return _refused(request, file.name[-60:] if file else "", refusal)


@require_safe
def reading(request, pk: int):
    """How far the reading of a drawing is, and what came of it."""
    kept = get_object_or_404(Reading, pk=pk, by=request.user)
    if kept.ticket:
        return redirect(kept.ticket)
    try:
        _read(kept)
    except Working as working:
        return render(request, "tickets/reading.html", {"reading": kept, "ahead": working.ahead, "at": "rack"})
    except Refusal as refusal:
        return _refused(request, kept.name, refusal)
    return render(request, "tickets/reading.html", {"reading": kept, "done": True, "at": "rack"})


@require_POST
def look_again(request, pk: int):
    """Make the ticket when the drawing was read; sends on to where the reader is to look."""
    kept = get_object_or_404(Reading, pk=pk, by=request.user)
    where = reverse("tickets:reading", args=[pk])
    try:
        if not kept.ticket:
            drawn = _read(kept)
            made = _as_ticket(request, kept, drawn)
            if not Reading.objects.filter(pk=pk, ticket=None).update(ticket=made):
                made.delete()  # it was looked at from two places at once
            kept.refresh_from_db()
        where = kept.ticket.get_absolute_url()
    except Working as working:
        if request.headers.get("HX-Request") == "true":
            return render(request, "tickets/_reading.html", {"reading": kept, "ahead": working.ahead})
    except Refusal:
        pass  # told there
    if request.headers.get("HX-Request") == "true":
        return HttpResponse(headers={"HX-Redirect": where})
    return redirect(where)


def _read(reading: Reading) -> Drawing:
    if reading.name.lower().rpartition(".")[2] in SOLIDS:
        return desks.solids.ask(read_shape_in, bytes(reading.data), reading.name)
    return desks.read_drawing(read_shape_in, bytes(reading.data), reading.name, reading.unit, tuple(reading.without))


def _as_ticket(request, reading: Reading, drawing: Drawing) -> Ticket:
    name = fields.words(reading.name.rpartition(".")[0], 100) or "Drawing"
    parts = sorted((drawing, *drawing.others), key=lambda one: one.count != 1)  # a lead is there once
    ticket = _drawn(request.user, parts[0], name, 1 if drawing.others else drawing.count)
    put_on_the_rack(ticket)
    for n, other in enumerate(parts[1:MOST_PIECES + 1], 2):
        piece = _drawn(request.user, other, f"{name}, part {n}", other.count)
        piece.lead, piece.per_assembly = ticket, other.count
        put_on_the_rack(piece)
    if drawing.others:
        messages.info(request, f"{ticket.tag} leads a kit of {len(parts)} parts, each counted: see Kit."
                      + (f" It is needed {parts[0].count} times itself." if parts[0].count > 1 else ""))
    for line in drawing.report:
        messages.info(request, in_units(line, request.user.units))
    messages.success(request, f"{ticket.tag} {ticket.name} was read in"
                     + (f" with {len(drawing.shape['bends'])} bend lines." if "bends" in drawing.shape else "."))
    return ticket


def _drawn(by, drawing: Drawing, name: str, pieces: int) -> Ticket:
    """A ticket of what was read, not on the rack yet."""
    return Ticket(number=0, made_by=by, part=drawing.as_part(name), quantity=pieces, brake=Brake.objects.first())


def _refused(request, name: str, refusal: Refusal):
    if isinstance(refusal, Unreadable):
        return render(request, "tickets/refused.html", {"name": name, "refusal": refusal, "at": "rack",
                                                        "view": refused_view(refusal)}, status=422)
    messages.error(request, f"Not read in: {refused_in(refusal, request.user.units)}.")
    return redirect("tickets:rack")


def _part_file(request, file):
    """A ticket from a part file: what another shop, or this one, handed on."""
    data, _ = settled(read_json(file.read(MOST_BYTES + 1).decode("utf-8", "replace")))
    if not isinstance(data, dict) or data.get("format") != "dorvan-part":
        raise Refusal("", "is no part file: take the one called part file at Layout")
    check(data, "part")
    stock = {key: value for key, value in data["stock"].items() if key not in ("values", "finish")}
    if stock.get("springback") == START:
        stock.pop("springback")
    part = {key: value for key, value in data.items() if key not in ("die", "nose")} | {"stock": stock}
    ticket = Ticket(number=0, made_by=request.user, part=part, brake=Brake.objects.first())
    put_on_the_rack(ticket)
    messages.success(request, f"{ticket.tag} {ticket.name} was read in.")
    return redirect(ticket)

"""New tickets: begun plain, read in from a drawing, or the other hand of one that is there."""

from django.contrib import messages
from django.db import transaction
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from bendcore.edits import new_part
from bendcore.errors import Refusal
from bendcore.families.twin import mirrored
from bendcore.files import check, read_json
from bendcore.formats.drawing import MOST_BYTES, Unreadable
from bendcore.formats.dxf_in import ASKED
from bendcore.formats.reading import read_shape_in
from bendcore.part_file import START
from bendcore.said import in_units, refused_in
from bendcore.units import read_length
from dorvan import fields
from dorvan.brakes.models import Brake
from dorvan.drawings.refused import refused_view

from ..models import Ticket
from ..results.longwork import readers
from .lookup import ticket_or_404


def put_on_the_rack(ticket: Ticket) -> None:
    """Save a new ticket under the next number; refuses a part that cannot be read. Its card fetches itself."""
    _ = ticket.figures
    with transaction.atomic():
        ticket.number = Ticket.next_number()
        ticket.save()


@require_POST
def create(request):
    """A new ticket, numbered after the last, begun as an angle to be changed."""
    name = fields.words(request.POST.get("name"), 120) or "New part"
    part = new_part(name, request.user.units, request.POST.get("family", "profile"))
    ticket = Ticket(number=0, part=part, follows_shop=True, brake=Brake.objects.first(), made_by=request.user)
    ticket.part = ticket.by_the_shop(ticket.part)
    put_on_the_rack(ticket)
    return redirect(ticket)


@require_POST
def read_in(request):
    """A ticket from a DXF or SVG of a flat, or the CSV of a chain's stations; what was done to read it
    is told, and what could not be read is shown where it is."""
    file = request.FILES.get("file")
    try:
        if not file:
            raise Refusal("", "choose a DXF, SVG or CSV file first")
        if file.size > MOST_BYTES:
            raise Refusal("", f"is larger than {MOST_BYTES // 1_000_000} MB")
        if file.name.lower().endswith(".json"):
            return _part_file(request, file)
        unit = fields.one_of(request.POST.get("unit") or ASKED, (ASKED, *UNITS), "unit")
        without = tuple(fields.words(request.POST.get("without"), 200).replace(",", " ").split())
        drawing = readers.once(read_shape_in, file.read(MOST_BYTES + 1), file.name[-60:], unit, without)
        name = fields.words(file.name.rpartition(".")[0], 100) or "Drawing"
        ticket = Ticket(number=0, made_by=request.user, part=new_part(name, "mm") | {"shape": drawing.shape},
                        brake=Brake.objects.first())
        put_on_the_rack(ticket)
    except Unreadable as refusal:
        return render(request, "tickets/refused.html", {"name": file.name[:60], "refusal": refusal, "at": "rack",
                                                        "view": refused_view(refusal)}, status=422)
    except Refusal as refusal:
        messages.error(request, f"Not read in: {refused_in(refusal, request.user.units)}.")
        return redirect("tickets:rack")
    for line in drawing.report:
        messages.info(request, in_units(line, request.user.units))
    messages.success(request, f"{ticket.tag} {ticket.name} was read in"
                     + (f" with {len(drawing.shape['bends'])} bend lines." if "bends" in drawing.shape else "."))
    return redirect(ticket)


UNITS = ("mm", "cm", "m", "in")
"""What a drawing may have been drawn in."""


def _part_file(request, file):
    """A ticket from a part file: what another shop, or this one, handed on."""
    data = read_json(file.read(MOST_BYTES + 1).decode("utf-8", "replace"))
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


def _another(user, ticket: Ticket, how: str, changes: dict | None = None, **choices) -> Ticket:
    """A ticket like this one, named by ``how`` it is another, with the ``changes`` of its part and other choices."""
    part = ticket.part | {"name": f"{ticket.name}, {how}"[:120]} | (changes or {})
    other = Ticket(number=0, made_by=user, part=part, **ticket.choices | {"role": ""} | choices)
    put_on_the_rack(other)
    return other


@require_POST
def duplicate(request, number: int):
    """A ticket for the same part again, with the same choices, released nowhere."""
    ticket = ticket_or_404(number)
    other = _another(request.user, ticket, "again")
    messages.success(request, f"{other.tag} is the same part as {ticket.tag}: change what is another.")
    return redirect(other)


@require_POST
def twin(request, number: int):
    """A ticket for the other hand of this part, with the same choices."""
    ticket = ticket_or_404(number)
    try:
        shape = mirrored(ticket.part["shape"], lambda value: read_length(value, ticket.part["units"]))
        other = _another(request.user, ticket, "other hand", {"shape": shape}, bend_order=[], important=[])
    except Refusal as refusal:
        messages.error(request, f"No other hand: {refused_in(refusal, request.user.units)}.")
        return redirect(ticket)
    messages.success(request, f"{other.tag} is the other hand of {ticket.tag}.")
    return redirect(other)

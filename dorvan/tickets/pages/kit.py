"""The kit of a ticket: its pieces, what was measured on them, what is bought in, all files at once."""

import csv
import io
import re
import zipfile

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils.text import capfirst
from django.views.decorators.http import require_POST, require_safe

from bendcore.edits import new_part
from bendcore.errors import Refusal
from bendcore.families import FAMILIES
from bendcore.formats.export import export
from bendcore.units import read_length, show_length
from dorvan import fields
from dorvan.spreadsheet import plain
from dorvan.versions.doing import retried

from .. import kits
from ..models import Ticket, write
from ..models.bought import LENGTH, LINING, PIECES, BoughtIn
from .cards import picture

MOST_EACH, MOST_OTHERS = 1000, 60
IN_THE_BOX = ("dxf", "svg", "pdf", "csv", "json")

OF_ITS_OWN = ("bend_order", "important", "role")
"""What a new piece does not take over from its lead."""


def lead_or_404(number: int) -> Ticket:
    """The lead of the kit that a ticket belongs to."""
    return kits.lead_of(get_object_or_404(Ticket.objects.select_related("lead", "brake"), number=number))


def kit_page(request, lead, error=None):
    """Every piece of a kit, what can be added, what is bought in."""
    units = request.user.units
    pieces = [_row(piece, lead, units, error) for piece in (lead, *lead.pieces.all())]
    others = Ticket.objects.filter(archived=False, lead=None, pieces=None, bought_in=None).exclude(pk=lead.pk)
    context = {"ticket": lead, "at": "rack", "pieces": pieces, "offers": kits.offers(lead),
               "others": others.order_by("-number")[:MOST_OTHERS], "bought": lead.bought_in.all(),
               "columns": kits.columns(lead.part),
               "error": error, "kinds": BoughtIn.KINDS, "units": units, "boxed": IN_THE_BOX}
    return render(request, "tickets/kit.html", context, status=422 if error else 200)


def _row(piece, lead, units, error) -> dict:
    part = piece.figures.part
    mine = error and error.get("piece") == piece.number
    typed = error["values"] if mine else {name: show_length(mm, units) for name, mm in kits.made_sizes(piece).items()}
    sizes = [{"name": name, "title": capfirst(part.shape.called(name)), "nominal": mm,
              "made": typed.get(name, "")}
             for name, mm in part.shape.mate_sizes().items()]
    return {"ticket": piece, "each": 1 if piece == lead else piece.per_assembly, "total": piece.quantity,
            "picture": picture(part, 150, 70),
            "sizes": sizes, "part": part, "error": error if mine else None, "stopped": bool(piece.open_stops)}




@require_safe
def show(request, number: int):
    lead = lead_or_404(number)
    return kit_page(request, lead) if lead.number == number else redirect("tickets:kit", lead.number)


def _count(text: str, field: str, most: int = MOST_EACH) -> int:
    return fields.whole(text, field, 1, most)


@require_POST
@retried
def add(request, number: int):
    """One more piece: a mate drawn from the lead, a new part of some family, or a ticket of the rack."""
    lead, form = lead_or_404(number), request.POST
    try:
        if lead.pieces.count() >= kits.MOST_PIECES:
            raise Refusal("piece", f"a kit holds at most {kits.MOST_PIECES} pieces")
        if form.get("what") == "mates":
            return _add_all(request, lead)
        per = _count(form.get("each", "1").strip(), "each")
        piece = _drafted(lead, form, per, request.user)
        join(lead, piece)
    except Refusal as refusal:
        return kit_page(request, lead, {"field": refusal.path, "message": refusal.message,
                                        "form": form.get("what", "")})
    messages.success(request, f"{piece.tag} {piece.name} belongs to {lead.tag} now, {per} to each.")
    return redirect("tickets:kit", lead.number)


def _add_all(request, lead):
    """Every piece that can be drawn from the lead and is not in its kit yet, as many as belong to each."""
    there = set(lead.pieces.values_list("role", flat=True))
    mates = [mate for mate in kits.offers(lead) if mate.role not in there]
    if lead.pieces.count() + len(mates) > kits.MOST_PIECES:
        raise Refusal("piece", f"a kit holds at most {kits.MOST_PIECES} pieces")
    pieces = [_drafted(lead, {"what": f"mate:{mate.role}"}, mate.count, request.user) for mate in mates]
    for piece in pieces:
        join(lead, piece)
    messages.success(request, f"{len(mates)} pieces belong to {lead.tag} now.")
    return redirect("tickets:kit", lead.number)


def _drafted(lead, form, per: int, by) -> Ticket:
    """The piece a form asks for, so many to each, worked out but not written."""
    piece = _new_piece(lead, form, by)
    piece.lead, piece.per_assembly, piece.quantity = lead, per, lead.quantity * per
    if piece.role:
        piece.part = kits.drawn(piece)
        _ = piece.figures
    return piece


def join(lead, piece) -> None:
    """Write the piece into the kit; one that is new under the next number."""
    with transaction.atomic():
        lead.keep()
        if piece.pk:
            piece.keep("lead", "per_assembly", "quantity")
        else:
            piece.number = Ticket.next_number()
            piece.save()


def _new_piece(lead, form, by) -> Ticket:
    what, name, number = form.get("what", ""), fields.words(form.get("name"), 120), 0
    if what.startswith("mate:"):
        mate = next((m for m in kits.offers(lead) if m.role == what[5:]), None)
        if mate is None:
            raise Refusal("what", "is no piece this part has")
        there = lead.pieces.filter(role=mate.role).first() if mate.count == 1 else None
        if there:
            raise Refusal("what", f"is in the kit already: {there.tag}. Say there how many to each")
        text = form.get("clearance", "").strip()
        clearance = read_length(text, by.units, "clearance") if text else None
        return Ticket(number=number, part=lead.part | {"name": name or f"{mate.title} of {lead.name}"[:120]},
                      role=mate.role, clearance=clearance, made_by=by,
                      **{key: value for key, value in lead.choices.items() if key not in OF_ITS_OWN})
    if what.startswith("T-"):
        found = Ticket.objects.filter(lead=None, pieces=None, number=fields.number(what[2:], 0)).first()
        if found is None or found == lead:
            raise Refusal("what", "is not a ticket without a kit of its own")
        return found
    if what not in FAMILIES or not FAMILIES[what].start:
        raise Refusal("what", "choose what to add")
    part = new_part(name or "New piece", by.units, what)
    part |= {key: lead.part[key] for key in ("stock", "inside_radius", "allowance") if key in lead.part}
    return Ticket(number=number, part=part, brake=lead.brake, made_by=by, follows_shop=lead.follows_shop)


@require_POST
@retried
def piece(request, number: int):
    """How many of a piece to each assembly, or that it stands alone again."""
    lead, form = lead_or_404(number), request.POST
    found = fields.row(lead.pieces, form.get("piece"), number=None)
    try:
        if "leave" in form:
            found.lead, found.role = None, ""
        else:
            found.per_assembly = _count(form.get("each", "").strip(), "each")
            found.quantity = lead.quantity * found.per_assembly
        with transaction.atomic():
            lead.keep()
            found.keep("lead", "role", "per_assembly", "quantity")
    except Refusal as refusal:
        return kit_page(request, lead, {"field": refusal.path, "message": refusal.message, "piece": found.number,
                                     "values": {}})
    return redirect("tickets:kit", lead.number)


@require_POST
@retried
def made(request, number: int):
    """What was measured on a finished piece: its mates are drawn anew to fit it."""
    lead, form, units = lead_or_404(number), request.POST, request.user.units
    wanted = form.get("piece", "")
    found = next((p for p in (lead, *lead.pieces.all()) if str(p.number) == wanted), None)
    if found is None:
        raise Http404
    names = found.figures.part.shape.mate_sizes()
    try:
        found.made = {name: f"{_measured(form[name], nominal, units, name):.10g} mm"
                      for name, nominal in names.items() if form.get(name, "").strip()}
    except Refusal as refusal:
        return kit_page(request, lead, {"field": refusal.path, "message": refusal.message, "piece": found.number,
                                     "values": {name: form.get(name, "")[:60] for name in names}})
    pieces, told = kits.drafts(lead, request.user, found)
    with transaction.atomic():
        found.keep("made")
        write(*pieces)
    for line in told:
        messages.error(request, f"{line}.")
    if not told:
        messages.success(request, f"What was measured on {found.tag} stands in for the drawing; its mates follow.")
    return redirect("tickets:kit", lead.number)


def _measured(text, nominal, units, name) -> float:
    mm = read_length(text.strip()[:60], units, name)
    if not 0.8 * nominal <= mm <= 1.2 * nominal:
        raise Refusal(name, f"was read as {show_length(mm, units)} {units}, which is far from "
                            f"{show_length(nominal, units)}: measure again, or draw the piece anew")
    return mm


@require_POST
def bought(request, number: int):
    """Something bought in comes or goes."""
    lead, form, units = lead_or_404(number), request.POST, request.user.units
    if form.get("remove"):
        fields.row(lead.bought_in, form["remove"]).delete()
        return redirect("tickets:kit", lead.number)
    if form.get("arrived"):
        lead.bought_in.filter(pk=fields.row(lead.bought_in, form["arrived"]).pk).update(awaited=False)
        return redirect("tickets:kit", lead.number)
    name, kind = fields.words(form.get("name"), 80), form.get("kind", PIECES)
    try:
        if not name:
            raise Refusal("name", "say what it is")
        if kind not in dict(BoughtIn.KINDS):
            raise Refusal("kind", "must be pieces, length or lining")
        if kind == PIECES:
            amount = _count(form.get("amount", "").strip(), "amount", 100_000)
        else:
            amount = read_length(form.get("amount", "").strip()[:60], units, "amount")
            if amount <= 0:
                raise Refusal("amount", "must be greater than 0")
        expected = fields.day(form.get("expected"), "expected")
    except Refusal as refusal:
        return kit_page(request, lead, {"field": refusal.path, "message": refusal.message, "form": "bought"})
    lead.bought_in.create(name=name, kind=kind, amount=amount if kind in (PIECES, LENGTH) else 0,
                          thickness=amount if kind == LINING else 0, by=request.user,
                          awaited=form.get("awaited") == "on" or bool(expected), expected=expected)
    return redirect("tickets:kit", lead.number)


@require_safe
def files(request, number: int, ending: str):
    """Every piece's file of one kind, and the list of the kit, in one archive."""
    lead = lead_or_404(number)
    if ending not in IN_THE_BOX:
        raise Http404
    box = io.BytesIO()
    with zipfile.ZipFile(box, "w", zipfile.ZIP_DEFLATED) as archive:
        for piece in (lead, *lead.pieces.all()):
            try:
                archive.writestr(f"{_slug(piece)}.{ending}", export(piece.figures.part, ending))
            except Refusal as refusal:
                archive.writestr(f"{_slug(piece)}.txt", f"{piece.tag} {piece.name}: {refusal}.\n")
        archive.writestr("kit.csv", _list(lead))
    response = HttpResponse(box.getvalue(), content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{lead.tag}-kit-{ending}.zip"'
    return response


def _slug(piece) -> str:
    return f"{piece.tag}-" + (re.sub(r"[^a-z0-9]+", "-", piece.name.lower()).strip("-")[:40] or "piece")


def _list(lead) -> str:
    text = io.StringIO()
    rows = csv.writer(text)
    rows.writerow(["what", "each", "for the batch", "unit", "material", "thickness mm", "blank mm"])
    for piece in (lead, *lead.pieces.all()):
        part = piece.figures.part
        rows.writerow([f"{piece.tag} {plain(piece.name)}", 1 if piece == lead else piece.per_assembly, piece.quantity,
                       "pieces", part.stock.material.name, f"{part.stock.thickness:g}",
                       "{:.2f} x {:.2f}".format(*part.flat.size)])
    for item in lead.bought_in.all():
        unit = {PIECES: "pieces", LENGTH: "mm", LINING: "mm2"}[item.kind]
        rows.writerow([plain(item.name), f"{item.each:.10g}", f"{item.total:.10g}", unit, "",
                       f"{item.thickness:g}" if item.kind == LINING else "", ""])
    return text.getvalue()

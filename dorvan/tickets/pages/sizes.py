"""A part in a table of sizes: pieces of its kit that are it in other sizes, and follow it in all else."""

from django.contrib import messages
from django.db import transaction
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from bendcore.errors import Refusal
from bendcore.formats.size_table import MOST_TEXT, Sized, read_sizes
from bendcore.said import Said
from dorvan.spreadsheet import brought
from dorvan.versions.doing import retried

from .. import kits
from ..models import Ticket, write
from .kit import OF_ITS_OWN, join, kit_page, lead_or_404

TABLE = "table"


@require_POST
@retried
def sizes(request, number: int):
    """A piece for each row; a size of that name that is there already is changed."""
    lead, text = lead_or_404(number), request.POST.get(TABLE, "")
    try:
        text = brought(request, TABLE, MOST_TEXT)
        made = make_sizes(lead, read_sizes(text), request.user, request.user.units)
    except Refusal as refusal:
        return kit_page(request, lead, {"field": TABLE, "message": refusal.message, "form": "sizes", "table": text})
    messages.success(request, f"{len(made)} sizes follow {lead.tag}.")
    return redirect("tickets:kit", lead.number)


def make_sizes(lead: Ticket, rows: list[Sized], by, units: str) -> list[Ticket]:
    """The lead in each of these sizes, worked out first and written then; refuses the table by its column."""
    there = {piece.name: piece for piece in lead.pieces.filter(role=kits.SIZE)}
    if len({row.name for row in rows}) < len(rows):
        raise Refusal(TABLE, "names a size twice")
    if lead.pieces.count() + sum(row.name not in there for row in rows) > kits.MOST_PIECES:
        raise Refusal(TABLE, f"would make more than {kits.MOST_PIECES} pieces of the kit")
    try:
        made = [_worked_out(lead, row, there.get(row.name), by, units) for row in rows]
    except Refusal as refusal:
        column = refusal.path.removeprefix("shape.")
        column = dict(kits.columns(lead.part)).get(column, column)
        raise Refusal(TABLE, Said("column {column}: {said}", column=column, said=refusal.message)) from None
    for piece, edit in made:
        if piece.pk is None:
            join(lead, piece)
            continue
        with transaction.atomic():
            piece.keep("sizes", "per_assembly", "quantity")
            write(*filter(None, [edit]))
    return [piece for piece, _ in made]


def _worked_out(lead: Ticket, row: Sized, piece: Ticket | None, by, units: str) -> tuple:
    """(the size, the edit that changes it if it is there already), not written."""
    new = piece is None
    if new:
        piece = Ticket(number=0, part=lead.part | {"name": row.name}, role=kits.SIZE, made_by=by,
                       job=lead.job, due=lead.due,
                       **{key: value for key, value in lead.choices.items() if key not in OF_ITS_OWN})
    called = {words.lower(): path for path, words in kits.columns(lead.part)}
    piece.sizes = {called.get(field.lower(), field): [text, str(units)] for field, text in row.fields.items()}
    piece.lead, piece.per_assembly, piece.quantity = lead, row.count, lead.quantity * row.count
    try:
        part = kits.drawn(piece)
        if not new:
            return piece, piece.drafted(part, f"a size of {lead.tag}", by, follows=True, quantity=piece.quantity)
        piece.part = part
        _ = piece.figures
    except Refusal as refusal:
        raise Refusal(refusal.path, Said("of {name} {said}", name=row.name, said=refusal.message)) from None
    return piece, None

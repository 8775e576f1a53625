"""Pieces that belong together: how many of each, which follow which, and what is bought in.

A kit is led by one ticket; its pieces are tickets of their own. A piece with a ``role``
is drawn from the lead and follows it; a size that names a piece (``around T-0150 width``)
takes that piece's size. What was measured on a made piece stands in for what was drawn.
"""

import copy
from collections.abc import Mapping

from bendcore import edits
from bendcore.errors import Refusal
from bendcore.families import FAMILIES
from bendcore.families.mates import draw_mate
from bendcore.fields import Angle, Count, Length, leaves
from bendcore.part_file import in_words
from bendcore.sizes import MATE
from bendcore.units import read_length

from .beside import fetch

SIZE = "size"
"""The role of a piece that is its lead in another size."""
MOST_PIECES = 60
"""Of a kit."""


def sizable(part: Mapping) -> list[str]:
    """What a table of sizes or a site sheet may set, below the shape: lengths, angles and counts that stand in the
    part."""
    own = FAMILIES[part["shape"]["kind"]].fields
    return [path for one, path, _ in leaves(own, part["shape"])
            if isinstance(one, Length | Angle | Count) and not one.fixed and not getattr(one, "picked", False)]


def columns(part: Mapping) -> list[tuple[str, str]]:
    """(path below the shape, in words) of what a table of sizes may set."""
    return [(path, in_words(f"shape.{path}", part["shape"]["kind"])) for path in sizable(part)]


def lead_of(ticket):
    return ticket.lead or ticket


def made_sizes(ticket) -> dict[str, float]:
    """What was measured on the finished piece, mm, by size."""
    return {name: read_length(value, "mm") for name, value in ticket.made.items()}


def sizes(ticket) -> dict[str, float]:
    """A piece's sizes, mm: as made where they were measured, else as drawn."""
    return ticket.figures.part.shape.mate_sizes() | made_sizes(ticket)


def mate_size(ticket, named: str) -> float:
    """The size that ``T-0150 width`` names, of a piece of this ticket's kit."""
    match = MATE.match(named)
    lead = lead_of(ticket)
    pieces = {piece.number: piece for piece in ticket.members or (lead, *lead.pieces.all()) if piece.pk != ticket.pk}
    piece = pieces.get(int(match[1])) if match else None
    if piece is None:
        raise Refusal("mate", f"“{named[:40]}” names no other piece of this kit")
    found = sizes(piece)
    if match[2] not in found:
        raise Refusal("mate", f"{piece.tag} has no size {match[2]}; it has " + (", ".join(found) or "none"))
    return found[match[2]]


def fitted(ticket, part: dict) -> dict:
    """The part with every size that names a mate set to what the mate measures."""
    if not _mated(part["shape"]):
        return part
    part = copy.deepcopy(part)
    for block in _mated(part["shape"]):
        way = "around" if "around" in block else "into"
        block[way] = f"{round(mate_size(ticket, block['mate']), 4):.10g} mm"
    return part


def _mated(shape: dict) -> list[dict]:
    """What in a shape takes its size from a mate."""
    found, left = [], [shape]
    while left:
        value = left.pop()
        if isinstance(value, dict):
            if "mate" in value:
                found.append(value)
            left += value.values()
        elif isinstance(value, list):
            left += value
    return found


def still_follows(before: dict, after: dict) -> bool:
    """Whether a piece's shape differs only in what is a person's own."""
    own = dict.fromkeys(FAMILIES[before["kind"]].kept)
    return before | own == after | own


def drawn(piece) -> dict:
    """A piece's part file as it follows from its lead."""
    part = piece.part
    if piece.role == SIZE:
        return fitted(piece, resized(piece.lead, piece.part["name"], piece.sizes))
    if piece.role:
        shape = draw_mate(piece.lead.figures.part.shape, piece.role, made_sizes(piece.lead), piece.clearance)
        own = {key: part["shape"][key] for key in FAMILIES[shape["kind"]].kept if key in part["shape"]}
        part = part | {"shape": shape | (own if shape["kind"] == part["shape"]["kind"] else {})}
    return fitted(piece, part)


def resized(lead, name: str, sizes: Mapping[str, tuple[str, str]]) -> dict:
    """The lead's part with other sizes, each (as typed, in which units); refuses at the field."""
    part = lead.part | {"name": name}
    for field, (text, units) in sizes.items():
        part = edits.set_field(part, f"shape.{field}", text, units)
    return part


def drafts(lead, by, changed) -> tuple[list, list[str]]:
    """The edits that draw the pieces of a kit anew from their lead, to be written with that of the one
    ``changed``; and what could not be drawn, in words."""
    found, told = [], []
    fetch(lead, "pieces")  # a page names them again
    pieces = [changed if piece.pk == changed.pk else piece
              for piece in lead.pieces.all()]
    for piece in pieces:
        if piece is changed:
            continue
        piece.lead, piece.members = lead, (lead, *pieces)
        try:
            found.append(piece.drafted(drawn(piece), f"follows {lead.tag}", by, follows=True,
                                       quantity=lead.quantity * piece.per_assembly))
        except Refusal as refusal:
            told.append(f"{piece.tag} {piece.name} could not follow: {refusal}")
    return [edit for edit in found if edit], told


def offers(lead) -> list:
    """Mates that can be drawn from the lead."""
    return list(lead.figures.part.shape.mates())

"""The join list as it stands: every joint of a kit with its spacing, and everything counted for the batch."""

from collections import Counter
from dataclasses import dataclass

from bendcore.errors import Refusal
from bendcore.families.joint import CLEAT, FOLD, KINDS, RIVET, SCREW, SPOT, WELD, Joint
from bendcore.joining.joints import joints_of
from bendcore.joining.spacing import STITCH, Spaced, spaced
from bendcore.said import Mm, Said
from dorvan.tickets.models import Ticket
from dorvan.tickets.models.bought import LENGTH, LINING, BoughtIn

from .models import Join


@dataclass(frozen=True)
class Row:
    """A joint of a ``ticket``: how it is made, where its places are, how often to each assembly."""

    ticket: Ticket
    joint: Joint
    kind: str
    spaced: Spaced
    sealed: bool
    each: int
    choice: Join | None = None

    @property
    def title(self) -> str:
        """How it is made, for people."""
        return KINDS[self.kind]


@dataclass(frozen=True)
class Counted:
    """Something counted: what, for one assembly and for the batch, in words."""

    what: str
    each: str
    total: str


def kit_of(lead: Ticket) -> list[Ticket]:
    """The lead and its pieces."""
    return [lead, *lead.pieces.all()]


def rows_of(lead: Ticket) -> list[Row]:
    """Every joint of the kit; the chosen ways go before the part's own."""
    pieces, found = kit_of(lead), []
    roles = Counter()
    for piece in pieces[1:]:
        roles[piece.role] += piece.per_assembly
    for piece in pieces:
        part, choices = piece.figures.part, {row.key: row for row in piece.joins.all() if row.key}
        each = 1 if piece == lead else piece.per_assembly
        own = [(row.own, row) for row in piece.joins.all() if not row.key]
        for joint, row in [*((j, choices.get(j.key)) for j in joints_of(part, roles if piece == lead else None)), *own]:
            found.append(_row(piece, joint, row, part.stock.thickness, each))
    return found


def _row(piece, joint, row, thickness, each) -> Row:
    kind = row.kind if row else joint.kind
    asked = (row.count, row.pitch, row.end) if row else (None, None, None)
    try:
        where = spaced(joint, thickness, kind, *asked)
    except Refusal:  # the part became too small for what was asked
        where = spaced(joint, thickness, kind)
    return Row(piece, joint, kind, where, bool(row and row.sealed), each * joint.times, row)


def counted(lead: Ticket, rows: list[Row]) -> list[Counted]:
    """Pieces, fasteners, welds, sealant and what is bought in, for one assembly and for the batch."""
    batch = lead.quantity
    pieces = sum(1 if piece == lead else piece.per_assembly for piece in kit_of(lead))
    found = [_number("Pieces", pieces, batch)]
    counts: Counter = Counter()
    lengths: Counter = Counter()
    for row in rows:
        if row.kind == RIVET:
            counts[Said("Rivets {d}", d=Mm(row.spaced.diameter))] += row.spaced.count * row.each
        elif row.kind in (SPOT, SCREW, CLEAT):
            counts[{SPOT: "Spot welds", SCREW: "Screws", CLEAT: "Cleats"}[row.kind]] += row.spaced.count * row.each
        run = min(STITCH, row.joint.length)
        lengths["Weld, runs together"] += row.spaced.count * run * row.each * (row.kind == WELD)
        lengths["Folded seams and locks"] += row.joint.length * row.each * (row.kind == FOLD)
        lengths["Cleat"] += row.joint.length * row.each * (row.kind == CLEAT)
        lengths["Sealant"] += row.joint.length * row.each * row.sealed
    found += [_number(what, count, batch) for what, count in counts.items()]
    found += [_length(what, mm, batch) for what, mm in lengths.items() if mm]
    pins = sum(len(piece.figures.part.shape.pins) for piece in kit_of(lead))
    if pins:
        found.append(Counted("Pins for the blocks", str(pins), str(pins)))
    return [*found, *map(_bought, lead.bought_in.all())]


def _number(what, count, batch) -> Counted:
    return Counted(what, str(count), str(count * batch))


def _length(what, mm, batch) -> Counted:
    return Counted(what, Said("{mm}", mm=Mm(mm)), Said("{mm}", mm=Mm(mm * batch)))


def _bought(item: BoughtIn) -> Counted:
    if item.kind == LENGTH:
        return _length(item.name, item.each, item.lead.quantity)
    if item.kind == LINING:
        return Counted(Said("{name}, {t}", name=item.name, t=Mm(item.thickness)), f"{item.each / 1e6:.3f} m²",
                       f"{item.total / 1e6:.3f} m²")
    return Counted(item.name, f"{item.each:g}", f"{item.total:g}")

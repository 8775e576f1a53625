"""The gate before cutting: which points of a ticket's kind of job are open, and what each still wants.

A point that is open shuts the gate for release and for the shear; a lead may open it with a reason, which holds as long
as the point says the same.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from bendcore.notices import STOP
from bendcore.said import Said
from bendcore.suppliers.check import check_for
from dorvan.ledger.models import Pair

from .models.gate import ALLOWANCE, ARRIVED, MEASURED, MOCK_UP, ORDER, OUTSIDE, POINTS, Asks, Opened


@dataclass(frozen=True)
class Point:
    """One point asked for: what is still ``wanted``, in words, and the lead's opening of it, if there is one."""

    name: str
    wanted: tuple[str, ...]
    opened: Opened | None = None

    @property
    def title(self) -> str:
        """For people."""
        return POINTS[self.name]

    @property
    def said(self) -> str:
        """What it says, by which an opening holds."""
        return "; ".join(map(str, self.wanted))

    @property
    def is_open(self) -> bool:
        """Whether it shuts the gate."""
        return bool(self.wanted) and not self.opened


def points(ticket, card: Mapping | None = None, asks: Mapping[str, tuple] | None = None) -> list[Point]:
    """Every point that the ticket's kind of job asks for; of a list of tickets by what their ``card`` says, ``asks``
    read once for all."""
    found, openings = [], None
    for name in (asks or Asks.now()).get(ticket.job, ()):
        wanted = tuple(WANTED[name](ticket, card))
        said = "; ".join(map(str, wanted))
        if wanted and openings is None:
            openings = {(one.point, one.said): one for one in ticket.opened.all()}  # the last of equal ones
        found.append(Point(name, wanted, openings.get((name, said)) if wanted else None))
    return found


def shut(ticket, but: tuple[str, ...] = ()) -> list[Point]:
    """The points that shut the gate for a ticket, without those looked at elsewhere."""
    return [point for point in points(ticket) if point.is_open and point.name not in but]


def needs_lead(ticket, job: str, asks: Mapping[str, tuple]) -> bool:
    """Whether another kind of job is a lead's to say: it asks less, and metal was cut."""
    return is_cut(ticket) and not set(asks[ticket.job]) <= set(asks[job])


def is_cut(ticket) -> bool:
    """Whether there are blanks or pieces of it: trial strips are none."""
    return ticket.blanks_cut.exists() or ticket.revisions.filter(runs__piece__gt=0).exists()


def expected(ticket) -> date | None:
    """The day by which all that the ticket waits for is expected; None where that is not known of something."""
    days = [hold.until for hold in ticket.holds.all()]
    days += [item.expected for item in (ticket.lead or ticket).bought_in.all() if item.awaited]
    return None if None in days else max(days, default=None)


def _measured(ticket, card):
    return [hold.said for hold in ticket.holds.all()]


def _arrived(ticket, card):
    lead = ticket.lead or ticket
    for item in lead.bought_in.all():
        if item.awaited:
            yield f"{item.name} has not arrived" + (f", expected {item.expected:%Y-%m-%d}" if item.expected else "")


def _allowance(ticket, card):
    if ticket.making or not _bends(ticket, card):
        return
    if card:
        stock = (card["material"], card["thickness"], card["tool"])
    else:
        part = ticket.figures.part
        stock = (part.stock.material.name, part.stock.thickness, ticket.tool)
    pair = Pair.near(*stock)
    chart = ticket.part["allowance"]["method"] == "deduction_chart"
    if not chart and not (pair and (pair.adopted or pair.is_measured)):
        yield "no proof bend of this stock under this tool, and no K adopted: make one at Proof"


def _order(ticket, card):
    if ticket.making or not _bends(ticket, card):
        return
    if not ticket.brake_id:
        yield "no brake is chosen: see Stock"
    elif not ticket.order_is_known and not ticket.is_released:
        yield "there is none for the part as it stands: see Order" if ticket.order_is_missing else \
            "not worked out yet for the part as it stands: see Order"


def _mock_up(ticket, card):
    if not any(tried.key == ticket.content_key for tried in ticket.mock_ups.all()):
        yield "none was tried for it as it stands: print it 1:1 or cut it from its DXF"


def _outside(ticket, card):
    if ticket.supplier is None:
        yield "no supplier is chosen: see Outside"
        return
    for notice in check_for(ticket.figures.part, ticket.supplier.profile):
        if notice.severity == STOP:
            yield Said("{where}: {said}", where=notice.where, said=notice.message)


def _bends(ticket, card) -> bool:
    return card["has_bends"] if card else not ticket.part_has_no_bends


WANTED = {MEASURED: _measured, ARRIVED: _arrived, ALLOWANCE: _allowance, ORDER: _order, MOCK_UP: _mock_up,
          OUTSIDE: _outside}
"""By point what it still wants of a ticket."""

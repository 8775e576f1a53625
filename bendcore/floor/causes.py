"""What a verdict says in words: each cause with its exact correction, and what of a piece can be saved."""

from dataclasses import dataclass

from ..families.legs import Leg
from ..order.accuracy.finished import face_under
from ..part import Part
from ..quality.checksheet import CheckRow
from ..quality.spreads import SPRINGBACK, STOP_OFFSET, K
from ..said import Deg, Fine, Mm, Said
from .diagnosis import BLANK, BOW, MIDDLE, MISREAD, OTHER, SKEW, Cause, Place
from .ties import OWN_ANGLE, OWN_LINE, Ties


@dataclass(frozen=True)
class Told:
    """A cause in words, and what to do about it."""

    cause: str
    correction: str


def told(cause: Cause, ties: Ties) -> Told:
    """One cause, by its kind; which way a correction goes is always said in words."""
    size, called = cause.size, ties.part.shape.called
    if cause.kind == STOP_OFFSET:
        return Told(Said("The stop of the {brake} stands off, every bend alike", brake=str(cause.which)),
                    Said("set it {by} {way}", by=Fine(abs(size)), way=_stop_way(size)))
    if cause.kind == K:
        return Told("The allowance: bends take more metal than reckoned" if size > 0 else
                    "The allowance: bends take less metal than reckoned",
                    f"K {'higher' if size > 0 else 'lower'} for the next blank: by how much, all pieces checked say "
                    "together")
    if cause.kind == MISREAD:
        name, where = cause.which
        large = "high" if size > 0 else "low"
        by = Fine(abs(size)) if where == BLANK or ties.dimensions[name].unit == "mm" else Deg(abs(size))
        return Told(Said("One reading contradicts the others: {title} reads about {by} too {large}",
                         title=where_read(cause.which, ties), by=by, large=large),
                    "measure it again before anything is set by it")
    if cause.kind == SPRINGBACK:
        return Told(f"The lot springs back {'less' if size > 0 else 'more'} than reckoned",
                    Said("bend {by:.2g}° {way} for every 90°", by=abs(size), way="less" if size > 0 else "further"))
    if cause.kind == BLANK:
        return Told("The blank was cut too long" if size > 0 else "The blank was cut too short",
                    Said("cut it {by} {way}", by=Fine(abs(size)), way="shorter" if size > 0 else "longer"))
    if cause.kind == SKEW:
        return Told("The stops are not square: the two ends of legs differ alike",
                    Said("bring the stop at the {end} end {by} nearer", by=Fine(abs(size)),
                         end="other" if size > 0 else "first"))
    if cause.kind == BOW:
        return Told("Deflection: bends stay open in the middle" if size > 0 else
                    "Bends are closed further in the middle than at the ends",
                    Said("{way} by as much as {by:.2g}° is worth", by=abs(size),
                         way="shim the die in the middle, or crown it," if size > 0 else "take out shims or crown"))
    if cause.kind == OWN_ANGLE:
        return Told(Said("One bend only: the angle of {bend}", bend=called(str(cause.which))),
                    Said("bend it {by:.2g}° {way}", by=abs(size), way="less" if size > 0 else "further"))
    if cause.kind == OWN_LINE:
        step = ties.steps[cause.which]
        words = "stop" if step.gauge.stop is not None else "line"
        return Told(Said("One bend only: the {what} of {bend}", what=words, bend=called(step.bends[0])),
                    Said("set its {what} {by} {way}", what=words, by=Fine(abs(size)), way=_stop_way(size)))
    return Told(cause.kind, "")


def _stop_way(size) -> str:
    return "nearer the bend" if size > 0 else "further back"


def where_read(place: Place, ties: Ties) -> str:
    """A reading in words: of what, and where along the bend."""
    name, where = place
    if where == BLANK:
        return "the length of the blank, before it is bent"
    title = ties.dimensions[name].title
    return {MIDDLE: Said("{title}, in the middle", title=title),
            OTHER: Said("{title}, at the other end", title=title)}.get(where, title)


def ways_to_save(row: CheckRow, part: Part) -> list[str]:
    """What can be done about a dimension that is out; nothing where it is good. The last resort is scrap."""
    if row.verdict == "good":
        return []
    over, one = row.measured - row.dimension.nominal, row.dimension
    if one.unit != "mm":
        if over < 0:
            return [Said("bend it {by} further on the existing crease", by=Deg(-over))]
        return [Said("open it by {by} by hand, over a block: over-bent work opens more easily than it closes",
                     by=Deg(over))]
    leg = next((leg for leg in part.shape.legs if leg.id == one.name), None)
    if leg is not None and over > 0 and _ends_bare(leg, part):
        return [Said("trim {by} off its free edge", by=Mm(over))]
    again = "flatten and re-bend once, if the stock is soft" + (
        "; its coat will crack there: touch it up" if part.stock.is_coated else "")
    return [again, "make its mate to it, if one follows"]


def _ends_bare(leg: Leg, part: Part) -> bool:
    """Whether a leg ends at a cut edge: no hem lies on it."""
    face = face_under(part, leg)
    return None in leg.ends and not any(bend.is_hem and bend.parent == face for bend in part.sheet.bends)

"""The same part by every school, side by side, and what a wrong one does to the piece.

A blank laid out by one school has its lines where that school's deductions put
them; the sheet bends as it really does. A leg between two bends then misses its size
by half of each bend's difference in deduction, a leg at an end by half of its one
bend's, and all misses together are the difference of the blanks. What "really" is,
nobody knows before a proof bend: ``truth`` is the best school at hand.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from ..bending.bend import BendFigures
from ..errors import Refusal
from ..part import Part
from ..schools.school import HANDBOOK_C, School, aircraft, din6935, generic, half_zone, handbook, none
from ..sheet import unfold

SAME, SAME_K = 0.005, 0.0005
"""Blanks (mm) and K nearer together than this are the same."""
WHY = {
    "none": "lays the legs end to end and takes nothing off for the bends",
    "half_zone": "takes 2·t + r off at every corner",
    "generic": "goes by r/t in three steps",
    "din6935": "lets K grow with the logarithm of r/t",
    "aircraft": "puts the neutral fibre 0.447 t from the inside",
    "handbook": "adds a fixed share of t by the metal's hardness",
    "deduction_chart": "goes by the shop's chart",
    "k_factor": "uses the K it was given",
}


@dataclass(frozen=True)
class Miss:
    """A leg that comes out ``error`` mm too long (negative: too short) against ``tolerance``."""

    leg: str
    error: float
    tolerance: float

    @property
    def within(self) -> bool:
        """Whether the error is within the tolerance."""
        return abs(self.error) <= self.tolerance + 1e-9


@dataclass(frozen=True)
class Row:
    """One school on this part: figures bend by bend and the blank, or why it cannot speak.

    ``longer`` is its blank less the ticket's own; ``miss`` the leg worst off if the
    blank is laid out so and the sheet bends as the truth says.
    """

    school: School
    bends: tuple[BendFigures, ...] = ()
    blank: float | None = None
    across: float | None = None
    """The second developed length, of parts that have one."""
    longer: float = 0.0
    miss: Miss | None = None
    why_not: str = ""
    mine: bool = False
    """Whether the ticket itself is laid out by it."""

    @property
    def title(self) -> str:
        """The school's title."""
        return self.school.title


@dataclass(frozen=True)
class Comparison:
    """``rows`` longest blank first, schools that cannot speak last."""

    part: Part
    truth: School
    rows: tuple[Row, ...]

    @property
    def speaking(self) -> tuple[Row, ...]:
        """Rows of the schools that have something to say here."""
        return tuple(r for r in self.rows if r.blank is not None)

    def sentence(self, show: Callable[[float], str]) -> str:
        """The largest difference in words; ``show(mm)`` writes a length with its unit."""
        rows = self.speaking
        if not self.part.shape.bends or len(rows) < 2:
            return "There is nothing to compare yet: the part has no bends the schools could differ on."
        long, short = rows[0], rows[-1]
        apart = long.longer - short.longer
        if apart < SAME:
            return "All schools give the same blank."
        count = len(self.part.shape.bends)
        words = (f"{long.title} and {short.title} are {show(apart)} apart"
                 + (f", {show(apart / count)} a bend" if count > 1 else "")
                 + f": the first {_why(long)}, the second {_why(short)}.")
        worst = max((long, short), key=lambda r: abs(r.miss.error))
        if worst.miss.within:
            return words + f" Either stays within tolerance if {self.truth.title} is right."
        return (words + f" If {self.truth.title} is right and the blank is laid out by {worst.title}, leg "
                f"{worst.miss.leg} comes out {show(abs(worst.miss.error))} too "
                f"{'long' if worst.miss.error > 0 else 'short'} (tolerance ± {show(worst.miss.tolerance)}).")


def _why(row: Row) -> str:
    return WHY[row.school.method] + (f" ({row.bends[0].k:.3f} here)" if row.school.method in ("din6935", "generic",
                                                                                              "k_factor") else "")


def book_schools() -> list[School]:
    """The schools that need nothing from the shop."""
    return [generic(), din6935(), aircraft(), *(handbook(group) for group in HANDBOOK_C), half_zone(), none()]


def compare(part: Part, own: Sequence[School] = (), truth: School | None = None) -> Comparison:
    """The part by the book schools, the ``own`` ones of the shop and the ticket's.

    ``truth`` is what a wrong blank is judged by: by default the ticket's own school.
    """
    mine = next((s for s in own if None not in (s.k, part.school.k) and abs(s.k - part.school.k) < SAME_K), part.school)
    truth = truth or mine
    schools: list[School] = []
    for school in [mine, *own, *book_schools()]:
        if (school.title, school.k) not in [(s.title, s.k) for s in schools]:
            schools.append(school)
    now = [b.figures for b in part.shape.bends]
    try:
        really = [_again(truth, f) for f in now]
    except Refusal:
        truth, really = mine, now
    rows = [_row(part, school, now, really, school is mine) for school in schools]
    return Comparison(part, truth, tuple(sorted(rows, key=lambda r: (r.blank is None, -r.longer))))


def _again(school, f: BendFigures) -> BendFigures:
    return school.figures(f.angle, f.inside_radius, f.thickness, f.convention)


def _row(part, school, now, really, mine) -> Row:
    try:
        bends = tuple(_again(school, f) for f in now)
    except Refusal as refusal:
        return Row(school, why_not=refusal.message, mine=mine)
    shape = part.shape
    wide = {bend.id: b.allowance for bend, b in zip(shape.bends, bends, strict=True)}
    if shape.runs:
        runs = [shape.developed(run, lambda b: wide.get(b.id, b.figures.allowance)) for run in shape.runs]
        longer = sum(runs) - sum(shape.developed(run) for run in shape.runs)
    else:
        again = {bend.id: b for bend, b in zip(shape.bends, bends, strict=True)}
        bent = tuple(replace(joint, figures=again.get(joint.id, joint.figures)) for joint in part.sheet.bends)
        runs = unfold(replace(part.sheet, bends=bent)).size
        longer = sum(runs) - sum(part.flat.size)
    half = {bend.id: (r.deduction - b.deduction) / 2 for bend, b, r in zip(shape.bends, bends, really, strict=True)}
    # A panel folded flat ends in a fold, which like a hem is in no school's table of deductions.
    misses = [Miss(leg.id, sum(half.get(name, 0.0) for name in leg.ends if name), part.tolerance(leg.size))
              for leg in shape.legs]
    worst = max(misses, key=lambda m: abs(m.error) / m.tolerance, default=Miss("plate", 0.0, 1.0))
    return Row(school, bends, runs[0], runs[1] if len(runs) > 1 else None, longer, worst, mine=mine)

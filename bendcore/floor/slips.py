"""Readings that are asked about before anything is set by them: other units, another leg, an angle the other way.

Whole numbers slip more than fractions (handbook, *Slips of reading*). A reading is asked about when it is farther off
than what a shop does can account for, or than a setter would believe; what it may be is named where it fits.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from ..quality.checksheet import TRIED, CheckRow, Dimension
from ..said import Deg, Mm, Said
from ..units import MM_PER
from .corrections import LEAST_DEGREES, LEAST_MM, Estimate, Instruments
from .ties import Settings, Ties

NEAR_MM, NEAR_DEGREES, NEAR_SHARE = 1.5, 3.0, 0.02
"""So near to what it should be a reading otherwise read explains it."""
HALF_TURN = 180.0
STEPS_MM = ((MM_PER["in"], "one inch: a tape read from its burnt end?"), (10.0, "10 mm: a digit?"),
            (1.0, "1 mm: the wrong side of a mark?"))


@dataclass(frozen=True)
class Doubt:
    """A reading to be taken again: ``question`` in words, and the value it ``may_be``, None where nothing fits; mm or
    degrees."""

    question: Said
    may_be: float | None = None


def doubt(one: Dimension, measured: float, believed: float, expected: float = 0.0,
          others: Iterable[Dimension] = (), thickness: float = 0.0) -> Doubt | None:
    """Whether a reading of a dimension is to be asked about. ``expected`` is how far off its nominal it should be, and
    ``believed`` how far from there it is taken at once; ``others`` are legs for which it may have been taken.

    >>> leg = Dimension("L1", "Leg L1", 30.0, 0.5)
    >>> doubt(leg, 30.4, 1.0) is None, round(doubt(leg, 1.18, 1.0).may_be, 2)
    (True, 29.97)
    >>> doubt(Dimension("B1", "Bend B1", 90.0, 1.0, "°"), 9.0, 3.0).may_be
    90.0
    """
    is_angle = one.unit != "mm"
    off = measured - one.nominal - expected
    if abs(off) <= believed:
        return None
    found = _otherwise(one, measured, one.nominal + expected, others, thickness)
    if found:
        value, words = found
        return Doubt(Said("{title}: {have} is {off} off. {what}", title=one.title, what=words,
                          have=_size(measured, is_angle), off=_size(abs(measured - one.nominal), is_angle)), value)
    return Doubt(Said("{title}: {have} is {off} off, more than anything here explains. Measure it again",
                      title=one.title, have=_size(measured, is_angle),
                      off=_size(abs(measured - one.nominal), is_angle)))


USUAL = 4.0
"""So many tolerances."""


def usual(one: Dimension) -> float:
    """How far a reading is believed of which no order says what to expect: some tolerances, and a cut blank's slip."""
    return max(USUAL * one.tolerance, LEAST_DEGREES * 2 if one.unit != "mm" else 2 * LEAST_MM)


def _otherwise(one: Dimension, measured: float, should: float, others, thickness) -> tuple[float | None, Said] | None:
    """What else the reading may be: (its value then, in words)."""
    if one.unit != "mm":
        for value, words in ((HALF_TURN - measured, "the angle between the legs was read"),
                             (measured * 10, "a digit is left out"), (measured / 10, "there is a digit too many")):
            if abs(value - should) <= NEAR_DEGREES:
                return value, Said("Perhaps {what}, and it is {value}?", what=words, value=Deg(value))
        return None
    for value, words in ((measured * MM_PER["in"], "inches"), (measured / MM_PER["in"], "millimetres")):
        if abs(value - should) <= max(NEAR_MM, NEAR_SHARE * should):
            return value, Said("Was it read in {what}, and is {value}?", what=words, value=Mm(value))
    for other in others:
        if other.name != one.name and abs(measured - other.nominal) <= NEAR_MM:
            return None, Said("Is it {title}, taken for this one?", title=other.title)
    for by, words in (*STEPS_MM, (2 * thickness, "twice the thickness: inside for outside?"),
                      (thickness, "the thickness: inside for outside?")):
        if by and abs(abs(measured - should) - by) <= min(0.3, by / 4):
            return None, Said("It is {what} Measure it again", what=words)
    return None


def _size(value: float, is_angle: bool) -> Deg | Mm:
    return Deg(value) if is_angle else Mm(value)


def doubts(ties: Ties, known: Estimate, settings: Settings, measured: Mapping[str, float],
           instruments: Instruments = Instruments()) -> dict[str, Doubt]:  # noqa: B008 - frozen
    """By dimension what is to be asked of the readings of one piece, mm or degrees as they are read; ``known`` before
    it was bent under ``settings``. Two legs taken for each other are asked about both."""
    known = known.over(ties.lasting)
    legs = [ties.dimensions[name] for name in measured if name in ties.dimensions
            and ties.dimensions[name].unit == "mm"]
    found = {}
    for name, value in measured.items():
        one = ties.dimensions.get(name)
        if one is None:
            continue
        said = doubt(one, value, known.believed(ties, name, instruments), known.expected(ties, name, settings), legs,
                     ties.part.stock.thickness)
        if said:
            found[name] = said
    return found


def doubts_of_sheet(rows: Sequence[CheckRow], thickness: float, ties: Ties | None = None,
                    known: Estimate = Estimate(),  # noqa: B008 - frozen
                    settings: Settings = Settings()) -> dict[tuple[str, int], Doubt]:  # noqa: B008 - frozen
    """By dimension and the how many-th reading of it, from 0, what is to be asked of a finished piece; of dimensions
    that hang on no bend nothing is foreseen, and they are believed so far as is usual."""
    legs, found = [row.dimension for row in rows if row.dimension.unit == "mm"], {}
    for row in rows:
        one = row.dimension
        if one.unit == TRIED:
            continue
        believed, expected = usual(one), 0.0
        if ties and one.name in ties.dimensions:
            believed = max(known.believed(ties, one.name), one.tolerance)
            expected = known.expected(ties, one.name, settings)
        for n, size in enumerate((row.measured, *row.others)):
            if asks := doubt(one, size, believed, expected, legs, thickness):
                found[one.name, n] = asks
    return found


def doubt_of_blank(drawn: float, measured: float) -> Doubt | None:
    """Whether the length of a blank, measured before it was bent, is to be asked about; mm."""
    one = Dimension("blank", "The blank", drawn, 0.0)
    return doubt(one, measured, usual(one))

"""What readings of one thing come to: two that agree, or a third that settles it (handbook, *Measuring on site*)."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

from ..errors import Refusal
from ..said import Fine, Said

LENGTH, ANGLE, BARE = "length", "angle", "number"
"""What a value may be: mm, degrees, or a number."""


@dataclass(frozen=True)
class Kind:
    """A thing that is measured: of which ``dimension``; ``several`` are the sides of a perimeter, or one size at its
    ends and middle; ``given`` is chosen, not measured."""

    title: str
    dimension: str = LENGTH
    several: bool = False
    given: bool = False


KINDS = {
    "opening": Kind("opening"), "width": Kind("width"), "height": Kind("height"),
    "under": Kind("height under something"),
    "length": Kind("length"), "centres": Kind("distance between centres"), "radius": Kind("radius"),
    "diameter": Kind("diameter"), "diagonals": Kind("both diagonals", several=True),
    "sides": Kind("perimeter, by its sides", several=True),
    "places": Kind("one size at several places", several=True),
    "angle": Kind("angle", ANGLE), "given": Kind("given: a clearance, a travel", given=True),
}
"""By their words in a file."""
TO = ("edge", "inside", "outside", "centre", "floor")
"""What was measured to."""
ALLOWED = {LENGTH: 1.0, ANGLE: 0.5}
"""Two readings of a tape may differ by so much, mm, of a protractor by so many degrees (*start*)."""
SQUARE = 0.5
"""Diagonals that differ by less are as good as equal, mm (*start*)."""
MISSING, ONCE, APART, SETTLED = "missing", "once", "apart", "settled"
"""No reading; one only; none that agree; settled."""


@dataclass(frozen=True)
class Settled:
    """What the readings come to: a ``state``, and the ``values`` once that is settled."""

    state: str
    values: tuple[float, ...] = ()
    apart: float = 0.0

    @property
    def lacks(self) -> str:
        """What is still to do, or nothing."""
        return {MISSING: "is not measured yet", ONCE: "needs a second reading", SETTLED: ""}.get(
            self.state) if self.state != APART else Said("has readings {apart} apart: measure a third time",
                                                         apart=Fine(self.apart))


def settle(readings: Sequence[Sequence[float]], allowed: float, kind: Kind) -> Settled:
    """The mean of the two readings nearest to each other, if they differ nowhere by more than ``allowed``; of what is
    given the last. Each reading has a value, or one for each side.

    >>> settle([[600.0], [604.0], [600.5]], 1.0, KINDS["opening"])
    Settled(state='settled', values=(600.25,), apart=0.5)
    """
    if not readings:
        return Settled(MISSING)
    if kind.given:
        return Settled(SETTLED, tuple(readings[-1]))
    if len(readings) == 1:
        return Settled(ONCE)

    def apart(pair):
        return max(abs(a - b) for a, b in zip(*pair, strict=True))

    near = min(combinations(readings, 2), key=apart)
    if apart(near) > allowed + 1e-9:
        return Settled(APART, apart=apart(near))
    return Settled(SETTLED, tuple((a + b) / 2 for a, b in zip(*near, strict=True)), apart(near))


def out_of_square(kind: Kind, values: Sequence[float]) -> Said | None:
    """How far two diagonals are apart, told where they are; None of anything else, or of a square."""
    if kind is not KINDS["diagonals"] or len(values) != 2 or abs(values[0] - values[1]) < SQUARE:
        return None
    return Said("out of square: its diagonals are {apart} apart", apart=Fine(abs(values[0] - values[1])))


def as_many(readings: Sequence[Sequence[float]], values: Sequence[float], kind: Kind) -> None:
    """Refuse a reading with other sides than those before it, or not as many as its kind has."""
    if kind.several and len(values) < 2:
        raise Refusal("reading", "needs the sides one after another, with a semicolon or a plus between")
    if not kind.several and len(values) != 1:
        raise Refusal("reading", "is one size: choose a perimeter, or a size at several places, for more")
    if readings and len(readings[0]) != len(values):
        raise Refusal("reading", f"has {len(values)} sides, the first has {len(readings[0])}")

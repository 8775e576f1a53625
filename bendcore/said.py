"""What the core has to say: words with values in them, put together for a reader at the edge.

A :class:`Said` is its text in millimetres, so that it can go wherever a text can; it also keeps the words and
the values apart, and says the same in a reader's units.
"""

from collections.abc import Sequence

from .errors import Refusal
from .units import PLACES, show_angle, show_length


class Mm(float):
    """A length in mm within something said."""


class Fine(Mm):
    """A small one, written with a place more."""


class Bare(Mm):
    """One whose unit is said by another beside it."""


class Deg(float):
    """A bend angle within something said, degrees from flat: shown as its reader measures angles."""


class Said(str):
    """``words`` with ``{names}`` for the ``values``; lengths among them are :class:`Mm`, and what is said
    within something said follows its units.

    >>> near = Said("{far} lie flat; {die} needs {need}", far=Mm(3.57), need=Mm(4), die="V 6")
    >>> str(near), near.in_units("in")
    ('3.57 mm lie flat; V 6 needs 4.0 mm', '0.141 in lie flat; V 6 needs 0.157 in')
    """

    words: str
    units: str
    values: dict

    def __new__(cls, words: str, units: str = "mm", **values: object) -> "Said":
        """The words with their values put in, in these units."""
        self = super().__new__(cls, _put_together(words, values, units))
        self.words, self.units, self.values = words, units, values
        return self

    def in_units(self, units: str) -> "Said":
        """The same, its text in these units."""
        return self if units is self.units else Said(self.words, units, **self.values)

    def __reduce__(self):
        return _again, (self.words, self.units, self.values)


def at(point: Sequence[float]) -> Said:
    """A place ``(x, y)`` in mm."""
    return Said("({x}, {y})", x=Bare(point[0]), y=Mm(point[1]))


def _again(words, units, values):
    return Said(words, units, **values)


def _put_together(words, values, units):
    return words.format(**{name: _shown(value, units) for name, value in values.items()})


def _shown(value, units):
    if isinstance(value, Deg):
        return show_angle(value, units, 2)
    if not isinstance(value, Mm):
        return in_units(value, units)
    text = show_length(value, units, PLACES[units] + isinstance(value, Fine))
    return text if isinstance(value, Bare) else f"{text} {units}"


def in_units(text: str, units: str) -> str:
    """Anything said, in a reader's units; a plain text stays as it is."""
    return text.in_units(units) if isinstance(text, Said) else text


KINDS = {kind.__name__: kind for kind in (Mm, Fine, Bare, Deg)}


def packed(text: str) -> str | dict:
    """Something said as JSON can keep it, its values apart; a plain text stays as it is."""
    if not isinstance(text, Said):
        return str(text)
    values = {name: {type(value).__name__: float(value)} if type(value) in KINDS.values() else packed(value)
              if isinstance(value, str) else value for name, value in text.values.items()}
    return {"words": text.words, "values": values}


def unpacked(kept: str | dict) -> str:
    """What was packed so."""
    if isinstance(kept, str):
        return kept
    values = {}
    for name, value in kept["values"].items():
        kind = KINDS.get(next(iter(value), "")) if isinstance(value, dict) else None
        if kind:
            value = kind(next(iter(value.values())))
        values[name] = unpacked(value) if isinstance(value, dict) else value
    return Said(kept["words"], **values)


def refused_in(refusal: Refusal, units: str, prefix: str = "") -> Refusal:
    """The same refusal in a reader's units, its path below ``prefix``."""
    return Refusal(refusal.path, in_units(refusal.message, units)).under(prefix)

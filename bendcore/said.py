"""What the core has to say: words with values in them, put together for a reader at the edge.

A :class:`Said` is its text in millimetres, so that it can go wherever a text can; it also keeps the words and
the values apart, and says the same in a reader's units.
"""

from .errors import Refusal
from .units import show_length


class Mm(float):
    """A length in mm within something said."""


class Said(str):
    """``words`` with ``{names}`` for the ``values``; lengths among them are :class:`Mm`.

    >>> near = Said("{far} lie flat; {die} needs {need}", far=Mm(3.57), need=Mm(4), die="V 6")
    >>> str(near), near.in_units("in")
    ('3.57 mm lie flat; V 6 needs 4.0 mm', '0.141 in lie flat; V 6 needs 0.157 in')
    """

    words: str
    values: dict

    def __new__(cls, words: str, units: str = "mm", **values):
        self = super().__new__(cls, _put_together(words, values, units))
        self.words, self.values = words, values
        return self

    def in_units(self, units: str) -> "Said":
        """The same, its text in these units."""
        return Said(self.words, units, **self.values)

    def __reduce__(self):
        return _again, (self.words, self.values)


def _again(words, values):
    return Said(words, **values)


def _put_together(words, values, units):
    return words.format(**{name: f"{show_length(value, units)} {units}" if isinstance(value, Mm) else value
                           for name, value in values.items()})


def in_units(text: str, units: str) -> str:
    """Anything said, in a reader's units; a plain text stays as it is."""
    return text.in_units(units) if isinstance(text, Said) else text


def refused_in(refusal: Refusal, units: str, prefix: str = "") -> Refusal:
    """The same refusal in a reader's units, its path below ``prefix``."""
    return Refusal(refusal.path, in_units(refusal.message, units)).under(prefix)

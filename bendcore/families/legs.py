"""What a part's sizes are told by: bends, hems, legs, and the developed lengths they add up to.

A *leg* is one dimensioned flat stretch between two of its ends; at each end stands a bend, a hem, or nothing. Sizes are
given outside, inside or flat (tangent to tangent).
"""

from dataclasses import dataclass

from ..bending.bend import BendFigures

OUTSIDE, INSIDE, FLAT = "outside", "inside", "flat"


@dataclass(frozen=True)
class ShapeBend:
    """A bend of a shape: its id, ``up`` or ``down``, and its figures."""

    id: str
    direction: str
    figures: BendFigures


@dataclass(frozen=True)
class Hem:
    """An edge folded back onto the leg ``on``. ``length`` and that leg are measured to
    the outside of the fold; ``flat`` is the face left beyond the bend zone."""

    id: str
    length: float
    gap: float
    direction: str
    figures: BendFigures
    flat: float
    on: str = ""

    @property
    def size(self) -> float:
        """As a leg's: its length, mm."""
        return self.length


@dataclass(frozen=True)
class Leg:
    """One flat stretch. ``size`` as given under ``dims``; ``flat`` tangent to tangent.

    ``setbacks`` is what each end loses from the size as given; ``ends`` name the bend
    at each end, None at a free edge or a hem.
    """

    id: str
    size: float
    dims: str
    flat: float
    setbacks: tuple[float, float]
    outside: float
    ends: tuple[str | None, str | None] = (None, None)


@dataclass(frozen=True)
class Run:
    """A developed length across the blank: legs and hems by id, bends by id, in order."""

    name: str
    legs: tuple[str, ...]
    bends: tuple[str, ...]

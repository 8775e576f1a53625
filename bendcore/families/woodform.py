"""A wooden form that proves a pattern, as a family gives it."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Found:
    """From corner to corner, ``B1`` to ``B4`` below and ``T1`` to ``T4`` above from the left front one on, mm;
    ``across`` a panel or along an edge."""

    one: str
    other: str
    far: float
    across: bool


@dataclass(frozen=True)
class WoodForm:
    """``ends`` are (title, length, width); ``height`` between them; ``offset`` and ``turn`` of the top over the bottom,
    mm and degrees; the ``distances`` on the paper in the order the form is rolled."""

    ends: tuple[tuple[str, float, float], ...]
    height: float
    offset: tuple[float, float]
    turn: float
    distances: tuple[Found, ...]
    paper: tuple[tuple[str, float, float], ...]
    """(corner, across, up) on the paper, mm, as it lies under the form: its upper face is the inside."""

"""What was given of a transition."""

from dataclasses import dataclass

ENDS = ("bottom", "top")


@dataclass(frozen=True)
class Sizes:
    """What was given: ``ends`` (length, width) as measured under ``dims``, the top's ``offset`` and its ``turn`` in
    degrees; by end the ``flanges``, (width, way); the sheet's ``thickness``. Lengths in mm."""

    thickness: float
    dims: str
    ends: dict[str, tuple[float, float]]
    offset: tuple[float, float]
    turn: float
    height: float
    gap: float
    trim: float
    flanges: dict[str, tuple[float, str]]

"""How far what a shop does spreads: standard deviations, *start* values until brake and ledger say otherwise.

*Common* ones are the same for every bend of a piece and add up along it; the others are drawn anew each time and add
as squares (handbook, *Tolerances follow the order*).
"""

from dataclasses import dataclass, replace

STOP_OFFSET, STOP_REPEAT, SCRIBING, K, THICKNESS, SPRINGBACK, ANGLE = (
    "stop-offset", "stop-repeat", "scribing", "k", "thickness", "springback", "angle")
WORDS = {STOP_OFFSET: "the stop, off alike every time", STOP_REPEAT: "the stop, each time anew",
         SCRIBING: "scribed lines", K: "the K-factor", THICKNESS: "the thickness", SPRINGBACK: "the lot's springback",
         ANGLE: "the angle, piece to piece"}
ALIKE = (STOP_OFFSET, K, THICKNESS, SPRINGBACK)


@dataclass(frozen=True)
class Spreads:
    """One standard deviation each: ``stop_offset``, ``stop_repeat`` and ``scribing`` in mm, ``k`` of the K-factor,
    ``thickness`` as a share of it, ``springback`` in degrees per 90° between lots, ``angle`` in degrees."""

    stop_offset: float = 0.3
    stop_repeat: float = 0.05
    scribing: float = 0.15
    k: float = 0.02
    thickness: float = 0.015
    springback: float = 1.0
    angle: float = 0.15

    def of(self, source: str) -> float:
        """By the name of the source."""
        return getattr(self, source.replace("-", "_"))

    def known(self, **found: float | None) -> "Spreads":
        """The same with what was measured in place of start values; None leaves one as it is."""
        return replace(self, **{name: value for name, value in found.items() if value is not None})

"""What the plate of a folder stands for: a thickness, over the full length, of one metal."""

import math
from dataclasses import dataclass


@dataclass(frozen=True)
class Rating:
    """A ``thickness`` in mm over the full length, of a metal of so many MPa (``tensile``); and of bends up to a
    ``shorter`` length (length, thickness), mm, where the plate names one."""

    thickness: float
    tensile: float
    shorter: tuple[float, float] | None = None

    def at(self, length: float) -> float:
        """How thick that metal may be in a bend of this length, mm: as at the shorter length the plate names where the
        bend is no longer, else as at full length; between the two nothing is assumed.

        >>> plate = Rating(1.5, 370, (1000, 2.5))
        >>> plate.at(400), plate.at(1001)
        (2.5, 1.5)
        """
        return max(self.thickness, self.shorter[1]) if self.shorter and length <= self.shorter[0] + 1e-9 else (
            self.thickness)

    def bears(self, length: float, tensile: float) -> float:
        """How thick a metal of another tensile strength may be: bending force grows with its strength times the square
        of its thickness (handbook, *Force*), and a weaker metal is no licence to go thicker than the plate says.

        >>> round(Rating(1.5, 370).bears(1000, 740), 3), Rating(1.5, 370).bears(1000, 100)
        (1.061, 1.5)
        """
        return self.at(length) * min(1.0, math.sqrt(self.tensile / max(tensile, 1e-9)))

"""Cross-sections of tools: closed polygons (y, z), y towards the back of the machine, z up."""

import math
from collections.abc import Callable

from shapely import Polygon

from ..errors import Refusal
from ..files import check
from ..said import Mm, Said
from ..units import read_length

Section = tuple[tuple[float, float], ...]
TINY = 1e-6
WIDEST = 10_000.0
"""No section reaches further from its origin, mm."""


class Reader:
    """Lengths and sections of one brake file, held to its schema first; refusals name the field."""

    def __init__(self, data: dict, kind: str):
        check(data, kind)
        self.data, self.units = data, data["units"]

    def length(self, value: object, path: str, least: float = 0.0, strict: bool = True) -> float:
        """Millimetres; must be more than ``least``, or not less where it is not ``strict``."""
        mm = read_length(value, self.units, path)
        if mm < least or (strict and mm == least):
            raise Refusal(path, Said(f"must be {'greater than' if strict else 'at least'} {{least}}", least=Mm(least)))
        return mm

    def named(self, key: str, strict: bool = True) -> float:
        """The length called so at the top of the file."""
        return self.length(self.data[key], key, strict=strict)

    def optional(self, key: str) -> float | None:
        """The same where it may be left out."""
        return self.length(self.data[key], key, strict=False) if key in self.data else None

    def section(self, points: list, path: str) -> Section:
        """A closed outline that does not cross itself."""
        mm = tuple((self.length(y, f"{path}[{i}]", -math.inf), self.length(z, f"{path}[{i}]", -math.inf))
                   for i, (y, z) in enumerate(points))
        for i, point in enumerate(mm):
            if max(map(abs, point)) > WIDEST:
                raise Refusal(f"{path}[{i}]", Said("must lie within {most} of the origin", most=Mm(WIDEST)))
        polygon = Polygon(mm)
        if not polygon.is_valid or polygon.area < TINY:
            raise Refusal(path, "must be a closed outline that does not cross itself")
        return mm

    def placed(self, key: str, holds: Callable[[float, float], bool], words: str) -> Section:
        """A section at the top of the file whose corners all lie where they must; ``words`` say where that is."""
        mm = self.section(self.data[key], key)
        for i, (y, z) in enumerate(mm):
            if not holds(y, z):
                raise Refusal(f"{key}[{i}]", words)
        return mm

"""How thick the sheet of a solid is, and which of its surfaces are the two skins of a flat face.

Every plane has, behind it in the metal, the nearest plane that looks the other way and lies over it: of a bent sheet
most of all that area is one thickness apart. Planes whose partner is further off are edges of the sheet.
"""

from collections.abc import Sequence

import numpy as np
from shapely import Polygon

from ..said import Mm, Said
from .brep import PLANE, Solid, Surface, Unrecognised
from .rings import outer, ring_in

PARALLEL = 1e-4
"""Planes whose normals differ by less are parallel (sine)."""
LOOSE = 0.02
"""Imported surfaces lie so far off their place, mm."""
THICKEST = 26.0
"""What is thicker is a block, mm."""
SHARE = 0.3
"""Where less of all area than this is one thickness apart, it is no sheet."""


def partners(solid: Solid) -> dict[int, tuple[Surface, float, float]]:
    """By plane the nearest plane behind it that looks the other way, how far off it is and over what area; mm, mm²."""
    planes = [one for one in solid.surfaces if one.kind == PLANE]
    found: dict[int, tuple[Surface, float, float]] = {}
    for one in planes:
        axes = frame(one)
        own, best = Polygon(ring_in(outer(one), *axes)).buffer(0), None
        behind = sorted((-one.off(other.origin), other.number, other) for other in planes
                        if float(one.axis @ other.axis) < -1 + PARALLEL and one.off(other.origin) < -1e-6)
        for far, _, other in behind:
            if best and far > best[1] + LOOSE:
                break
            area = own.intersection(Polygon(ring_in(outer(other), *axes)).buffer(0)).area
            if area > 1e-3 and (best is None or area > best[2]):
                best = (other, far, area)
        if best:
            found[one.number] = best
    return found


def frame(plane: Surface) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """(origin, x, y) of a plane: right-handed seen from outside, x along its longest straight edge."""
    along = max((side.points[-1] - side.points[0] for side in plane.loops[0] if not side.is_closed),
                key=lambda d: float(d @ d), default=None)
    if along is None:
        along = np.cross(plane.axis, [1.0, 0, 0] if abs(plane.axis[0]) < 0.9 else [0, 1.0, 0])
    x = along - plane.axis * float(along @ plane.axis)
    x = x / np.linalg.norm(x)
    return plane.origin, x, np.cross(plane.axis, x)


def thickness(solid: Solid, pairs: dict[int, tuple[Surface, float, float]], name: str) -> float:
    """The distance, mm, that most of the area lies apart; refuses what is no sheet."""
    ordered = sorted((far, area) for _, far, area in pairs.values())
    if not ordered:
        raise Unrecognised(name, "has no two flat faces that lie over each other: it is no sheet")
    best = max((_about(far, ordered) for far, _ in ordered), key=lambda told: told[1])
    far, area = best
    if area < SHARE * sum(one.area for one in solid.surfaces if one.kind == PLANE):
        raise Unrecognised(name, "has no one thickness: most of its faces lie further or less far apart; a sheet is "
                                 "as thick everywhere")
    if far > THICKEST:
        raise Unrecognised(name, Said("is {thick} thick: a block, no sheet", thick=Mm(far)))
    return far


def _about(far: float, ordered: Sequence[tuple[float, float]]) -> tuple[float, float]:
    """(mean distance, area) of all pairs about as far apart, by area."""
    near = [(d, area) for d, area in ordered if abs(d - far) <= LOOSE]
    area = sum(a for _, a in near)
    return round(sum(d * a for d, a in near) / area, 4), area

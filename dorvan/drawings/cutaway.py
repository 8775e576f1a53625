"""A section through the folded part, drawn with its overall sizes."""

from shapely import unary_union

from bendcore.sheet.clash import ZONE, Bodies
from bendcore.sheet.cut import cut
from bendcore.units import show_length

from .fit import Fit

TITLES = {"x": "across the length", "y": "across the width", "z": "level with the base"}


def cutaway(found: Bodies, axis: str, at: float, units: str, width=300, height=230) -> dict | None:
    """Paths of what is cut, faces and bends apart; None where the plane misses the part."""
    pieces = cut(found, axis, at)
    if not pieces:
        return None
    left, bottom, right, top = unary_union(list(pieces.values())).bounds
    fit = Fit.into([(left, bottom), (right, top)], 26, 14, width - 52, height - 56, largest=8.0)
    paths = [{"d": "".join(fit.path(ring.exterior.coords[:-1]) for ring in getattr(shape, "geoms", [shape])),
              "bend": name.startswith(ZONE)} for name, shape in pieces.items()]
    (x0, y0), (x1, _) = fit((left, bottom)), fit((right, top))
    return {"width": width, "height": height, "paths": paths, "x0": x0, "x1": x1, "y": y0 + 16,
            "across": show_length(right - left, units), "up": show_length(top - bottom, units)}

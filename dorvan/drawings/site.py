"""A site sheet's sketch on the page: edges as scribed lines, dimensions with their names and what was read."""

import math
from collections.abc import Callable, Mapping

WIDTH, HEIGHT, SCALE = 800, 560, 8
"""Of the drawing in pixels, and of a step of the sketch's grid."""
ARROW = 9


def sketch_view(strokes: list[Mapping], told: Callable[[str], str]) -> dict:
    """What is drawn of a sketch: ``edges`` and ``dimensions`` as paths, each with its place in the list; ``told(name)``
    writes what a dimension says. y counts downwards, as it is tapped."""
    edges, dimensions = [], []
    for n, row in enumerate(strokes):
        x0, y0, x1, y1 = (row[key] * SCALE for key in ("x0", "y0", "x1", "y1"))
        if row["kind"] == "edge":
            edges.append({"n": n, "d": f"M{x0:g},{y0:g}L{x1:g},{y1:g}"})
            continue
        long = math.hypot(x1 - x0, y1 - y0)
        ux, uy = (x1 - x0) / long, (y1 - y0) / long
        heads = "".join(_head(x, y, s * ux, s * uy) for x, y, s in ((x0, y0, 1), (x1, y1, -1)))
        dimensions.append({"n": n, "d": f"M{x0:g},{y0:g}L{x1:g},{y1:g}", "heads": heads, "name": row["name"],
                           "told": told(row["name"]), "x": round((x0 + x1) / 2, 1), "y": round((y0 + y1) / 2 - 7, 1)})
    return {"width": WIDTH, "height": HEIGHT, "scale": SCALE, "middle": WIDTH // 2, "edges": edges,
            "dimensions": dimensions}


def _head(x, y, ux, uy) -> str:
    left, right = ((x + ARROW * (ux - s * uy * .35), y + ARROW * (uy + s * ux * .35)) for s in (1, -1))
    return f"M{left[0]:.1f},{left[1]:.1f}L{x:g},{y:g}L{right[0]:.1f},{right[1]:.1f}"

"""A guard's side outline, small: edges numbered, those under the wrapper drawn strong."""

import math

from .fit import Fit


def side_view(guard, width=232, height=170) -> dict:
    """Paths of the outline and of the wrapped edges, and a number beside each edge."""
    fit = Fit.into(guard.outline, 30, 26, width - 60, height - 52)
    n = len(guard.outline)
    edges = []
    for i, a in enumerate(guard.outline):
        b = guard.outline[(i + 1) % n]
        long = math.dist(a, b)
        out = ((b[1] - a[1]) / long, -(b[0] - a[0]) / long)
        (x, y) = fit(((a[0] + b[0]) / 2, (a[1] + b[1]) / 2))
        edges.append({"n": guard.numbers[i], "x": round(x + 14 * out[0], 1), "y": round(y - 14 * out[1] + 4, 1)})
    wraps = fit.lines((guard.outline[i], guard.outline[(i + 1) % n]) for i in guard.wrapped)
    return {"width": width, "height": height, "fit": fit, "edges": edges, "outline": fit.path(guard.outline),
            "wrapped": wraps}

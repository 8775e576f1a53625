"""A sheet of a cutting plan on the page: blanks, leftovers, cuts by their numbers."""

from bendcore.cutting.plan import Plan
from bendcore.units import show_length

from .fit import Fit

WIDTH, HEIGHT, ROOM = 860, 460, 26
CHARACTER = 7.5


def sheet_view(plan: Plan, sheet: int, units: str) -> dict:
    """What is drawn of one sheet, in pixels; ``scale`` and ``left``, ``bottom`` carry a place dragged back to mm."""
    stock = plan.sheets[sheet]
    corners = ((0, 0), (stock.length, 0), (stock.length, stock.width), (0, stock.width))
    fit = Fit.into(corners, ROOM, ROOM, WIDTH - 2 * ROOM, HEIGHT - 2 * ROOM)
    left, bottom = fit((0, 0))
    pieces = []
    for one in plan.placed:
        if one.sheet == sheet:
            wide, high = one.size
            x, y = fit((one.x + wide / 2, one.y + high / 2))
            words = (one.piece.id, f"{show_length(one.piece.length, units)} × {show_length(one.piece.width, units)}")
            room = wide * fit.scale
            rings = [one.ring, *([one.move(point) for point in hole] for hole in one.piece.holes)]
            pieces.append({"id": one.piece.id, "d": "".join(map(fit.path, rings)), "x": x, "y": y, "at": (one.x, one.y),
                           "turned": one.turned, "words": [w for w in words if len(w) * CHARACTER < room]
                           if high * fit.scale > 30 else []})
    return {"width": WIDTH, "height": HEIGHT, "sheet": fit.path(corners), "pieces": pieces, "scale": fit.scale,
            "left": left, "bottom": bottom, "bar": fit.bar(units), "cuts": _cuts(plan, sheet, fit),
            "leftovers": [fit.path(((x, y), (x + a, y), (x + a, y + b), (x, y + b)))
                          for n, x, y, a, b in plan.leftovers if n == sheet]}


def _cuts(plan: Plan, sheet: int, fit: Fit) -> list[dict]:
    found = []
    for n, cut in enumerate(plan.cuts[sheet], 1):
        x, y, long, wide = cut.region
        ends = ((x + cut.stop, y), (x + cut.stop, y + wide)) if cut.axis == "x" else ((x, y + cut.stop),
                                                                                      (x + long, y + cut.stop))
        (x0, y0), (x1, y1) = map(fit, ends)
        found.append({"n": n, "d": f"M{x0:g},{y0:g}L{x1:g},{y1:g}", "x": x0, "y": y0, "trim": cut.trim})
    return found

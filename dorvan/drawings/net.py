"""The flat of a part with bends both ways: outline, zones, lines and running marks on two edges."""

import math
from collections.abc import Collection

from bendcore.formats.part import Part
from bendcore.layout.marks import DATUMS, far_side, from_datum
from bendcore.sheet.clash import ZONE
from bendcore.units import show_length, to_fraction, to_half_mm

from .fit import Fit, spread

WIDTH, HEIGHT = 872, 600
LEFT, RIGHT, TOP, BOTTOM = 118, 30, 64, 104


def net_view(part: Part, units: str, size=(WIDTH, HEIGHT), room=(LEFT, TOP, RIGHT, BOTTOM),
             conflicts: Collection[str] = (), datum: str = DATUMS[0]) -> dict:
    """Everything drawn of a flat, in the stage's pixels; marks in the reader's units, from the
    ``datum``. ``conflicts`` are faces and zones that run into others."""
    flat, (width, height), (left, top, right, bottom) = part.flat, size, room
    fit = Fit.into(flat.outline, left, top, width - left - right, height - top - bottom)
    corner, far = fit((0, 0)), fit(flat.size)
    bends = [_bend(b, fit, units, fit(_middle(flat.outline))) for b in flat.bends]
    across = [mark(from_datum(flat, datum, "x", at), units) | {"x": fit((at, 0))[0]} for at in _places(flat, "x")]
    for label in spread(across, 8):
        label["y"] = 22 + 32 * label["row"]
        label["y_tape"] = label["y"] + 15
    up = [mark(from_datum(flat, datum, "y", at), units) | {"at": fit((0, at))[1]} for at in _places(flat, "y")]
    return {"width": width, "height": height, "outline": fit.path(flat.outline), "bends": bends,
            "holes": [{"x": fit(h.centre)[0], "y": fit(h.centre)[1], "d": fit.path(h.outline(12))}
                      for h in flat.holes],
            "root": fit(_middle(flat.faces[part.sheet.root])), "edges": _edges(part, fit),
            "faces": {name: fit(_middle(points)) for name, points in flat.faces.items()},
            "across": across, "up": _pushed(up), "left": corner[0], "bottom": corner[1], "right": far[0], "top": far[1],
            "mark_y": round(corner[1] + 22, 1), "mark_x": round(corner[0] - 16, 1), "bar": fit.bar(), "fit": fit,
            "datum": datum_at(datum, corner, far),
            "conflicts": [fit.path(_place(flat, name)) for name in sorted(conflicts)],
            "breaks": [fit(p) for p in _middle_of_base(flat)]}


def datum_at(datum: str, corner, far) -> dict:
    """Where the datum's mark stands and which way it opens."""
    right, back = far_side(datum, "x"), far_side(datum, "y")
    return {"x": far[0] if right else corner[0], "y": far[1] if back else corner[1], "sx": -1 if right else 1,
            "sy": -1 if back else 1}


def _place(flat, name):
    """Where a face, or a zone by its bend, lies in the blank."""
    if name in flat.faces:
        return flat.faces[name]
    zone = next(b for b in flat.bends if ZONE + b.bend.id == name)
    return [*zone.tangents[0], *reversed(zone.tangents[1])]


def small_net(part: Part, width=180, height=84) -> dict:
    """A small picture of the flat's outline with its bend lines."""
    fit = Fit.into(part.flat.outline, 8, 6, width - 16, height - 12)
    return {"d": fit.path(part.flat.outline), "width": width, "height": height,
            "lines": "".join("M{:g},{:g}L{:g},{:g}".format(*fit(b.line[0]), *fit(b.line[1])) for b in part.flat.bends)}


def _bend(flat, fit, units, centre):
    a, b = fit(flat.line[0]), fit(flat.line[1])
    zone = [*flat.tangents[0], *reversed(flat.tangents[1])]
    turn = math.degrees(math.atan2(b[1] - a[1], b[0] - a[0]))
    turn = turn + 180 if turn < -90.5 or turn > 89.5 else turn
    figures = flat.bend.figures
    x, y = (a[0] + b[0]) / 2, (a[1] + b[1]) / 2
    lean = math.radians(turn)
    inwards = (centre[0] - x) * -math.sin(lean) + (centre[1] - y) * math.cos(lean) > 0  # below the line, as it is read
    tick, radius = "▲" if flat.bend.sign > 0 else "▼", show_length(figures.inside_radius, units)
    text = f"{flat.bend.id} {tick} {flat.bend.angle:g}° r {radius}"
    return {"id": flat.bend.id, "zone": fit.path(zone), "line": "M{:g},{:g}L{:g},{:g}".format(*a, *b),
            "tangents": "".join("M{:g},{:g}L{:g},{:g}".format(*fit(p), *fit(q)) for p, q in flat.tangents),
            "sights": "".join("M{:g},{:g}L{:g},{:g}".format(*fit(p), *fit(q)) for p, q in _sights(flat)),
            "x": x, "y": y, "turn": round(turn, 1), "text": text, "dy": 16 if inwards else -7,
            "short": math.dist(a, b) < 7.0 * len(text)}


def _sights(flat):
    """The sight line for either clamped side: r inside the zone from the clamped tangent."""
    (p0, p1), (q0, q1) = flat.tangents
    wide = flat.bend.figures.allowance
    share = flat.bend.figures.inside_radius / wide
    for pairs in (((p0, q0), (p1, q1)), ((q0, p0), (q1, p1))):
        yield tuple((a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share) for a, b in pairs)


def _places(flat, axis: str) -> list[float]:
    """Where marks stand along one edge of the blank: its ends and every line square to it."""
    found = {0.0, flat.size[0 if axis == "x" else 1]}
    found |= {round(b.at[1], 6) for b in flat.bends if b.at and b.at[0] == axis}
    return sorted(found)


def mark(mm: float, units: str) -> dict:
    """A running mark as it is written: exact, on the tape, and how wide that is in pixels."""
    exact = show_length(mm, units)
    tape = str(to_fraction(mm)) if units == "in" else to_half_mm(mm)
    return {"exact": exact, "tape": tape, "w": 9 * max(len(exact), len(tape))}


def _pushed(marks, least=30.0):
    """Marks up the left edge, pushed apart so that both figures of each can be read."""
    text = None
    for label in sorted(marks, key=lambda m: -m["at"]):
        label["text"] = label["at"] if text is None else min(label["at"], text - least)
        text = label["text"]
    return marks


def _edges(part, fit):
    """Numbers of a plate's edges, beside their middles, as they are counted in the file."""
    if part.shape.kind != "plate":
        return []
    found = []
    for n, (a, b) in part.shape.numbered():
        moved = [(p[0] + part.flat.shift[0], p[1] + part.flat.shift[1]) for p in (a, b)]
        x, y = fit(_middle(moved))
        (cx, cy) = fit(_middle(part.flat.faces["plate"]))
        away = math.hypot(cx - x, cy - y) or 1.0
        found.append({"n": n, "x": round(x + 16 * (cx - x) / away, 1), "y": round(y + 16 * (cy - y) / away + 4, 1)})
    return found


def _middle(points):
    xs, ys = [p[0] for p in points], [p[1] for p in points]
    return ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)


def _middle_of_base(flat):
    """The base's corners, for its cross-breaks."""
    return flat.faces.get("base", ())

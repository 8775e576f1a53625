"""The flat pattern on blued steel: outline, zones, lines, ticks and running marks."""

from bendcore.formats.part import Part
from bendcore.units import show_length, to_fraction, to_half_mm

from .fit import Fit, spread

WIDTH, HEIGHT = 872, 600
TOP, BOTTOM, SIDE = 150, 130, 84
ROW = 20


def flat_view(part: Part, units: str) -> dict:
    """Everything drawn of a flat, in the stage's pixels; marks in the reader's units."""
    flat = part.flat
    length, width = flat.size
    fit = Fit.into([(0, 0), (length, width)], SIDE, TOP, WIDTH - 2 * SIDE, HEIGHT - TOP - BOTTOM)
    left, bottom = fit((0, 0))
    right, top = fit((length, width))
    bends = [_bend(b, fit, top, bottom, units) for b in flat.bends]
    spread([b["label"] for b in bends], 14)
    marks = [_mark(x, fit, units) for x in (0.0, *(b.line[0][0] for b in flat.bends), length)]
    spread(marks, 10)
    return {
        "width": WIDTH, "height": HEIGHT, "left": left, "right": right, "top": top, "bottom": bottom,
        "outline": fit.path(flat.outline), "bends": bends, "marks": marks, "bar": fit.bar(),
        "mark_y": bottom + 34, "tall": round(bottom - top, 1), "middle": (left + right) / 2, "centre": (top + bottom) / 2,
        "label_rows": 1 + max((b["label"]["row"] for b in bends), default=0),
    }


def _bend(flat, fit, top, bottom, units):
    bend, figures = flat.bend, flat.bend.figures
    x = fit(flat.line[0])[0]
    near, far = sorted(fit(t[0])[0] for t in flat.tangents)
    text = f"{bend.id} {bend.direction} {bend.angle:g}° r {show_length(figures.inside_radius, units)}"
    tick = (f"M{x - 7:g},{top - 8:g}h14l-7,-12z" if bend.sign > 0 else f"M{x - 7:g},{top - 20:g}h14l-7,12z")
    return {"id": bend.id, "x": x, "near": near, "far": far, "zone": round(far - near, 1), "tick": tick,
            "sights": _sights(near, far, figures, fit),
            "label": {"text": text, "x": x, "w": 7.4 * len(text)}, "direction": bend.direction}


def _sights(near, far, figures, fit):
    """The sight line for either clamped side: r inside the zone from the clamped tangent."""
    reach = figures.inside_radius * fit.scale
    return [round(near + reach, 1), round(far - reach, 1)]


def _mark(x, fit, units):
    exact = show_length(x, units)
    tape = str(to_fraction(x)) if units == "in" else to_half_mm(x)
    return {"x": fit((x, 0))[0], "exact": exact, "tape": tape, "w": 9 * max(len(exact), len(tape))}

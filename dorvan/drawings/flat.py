"""The flat pattern on blued steel: outline, zones, lines, ticks and running marks."""

from collections.abc import Mapping
from types import MappingProxyType

from bendcore.layout.marks import DATUMS, from_datum
from bendcore.part import Part
from bendcore.units import show_angle, show_length

from .fit import Fit, spread
from .marked import datum_at, mark, sights

WIDTH, HEIGHT = 872, 600
TOP, BOTTOM, SIDE = 150, 130, 84
RULE, ROW, FOOT = 34, 34, 66
"""The rule of the marks stands so far under the blank; a row of marks is so high; so much is left free from the rule
down for a first row and what stands at the foot; pixels."""


def flat_view(part: Part, units: str, datum: str = DATUMS[0],
              clamped: Mapping[str, tuple[str, float]] = MappingProxyType({})) -> dict:
    """Everything drawn of a flat, in the stage's pixels; marks in the reader's units, from the ``datum``. ``clamped``
    as :func:`.marked.marked_view` has it.

    A strip much wider than long is drawn shortened along its bends, between break
    lines, so that the marks can be read; ``broken`` says so.
    """
    flat = part.flat
    length, width = flat.size
    fit = Fit.into([(0, 0), (length, 0)], SIDE, TOP, WIDTH - 2 * SIDE, HEIGHT - TOP - BOTTOM)
    marks = _marks(flat, fit, units, datum)
    room = HEIGHT - TOP - max(BOTTOM, RULE + FOOT + ROW * max(label["row"] for label in marks))
    broken = width * fit.scale > room
    drawn = room / fit.scale if broken else width
    fit = Fit.into([(0, 0), (length, drawn)], SIDE, TOP, WIDTH - 2 * SIDE, room)
    left, bottom = fit((0, 0))
    right, top = fit((length, drawn))
    bends = [_bend(b, fit, top, units, clamped) for b in flat.bends]
    for label in spread([b["label"] for b in bends], 14):
        label["y"] = top - 30 - 18 * label["row"]
    middle = (left + right) / 2
    return {
        "datum": datum_at(datum, (left, bottom), (right, top)),
        "width": WIDTH, "height": HEIGHT, "left": left, "right": right, "top": top, "bottom": bottom,
        "tall": round(bottom - top, 1), "bends": bends, "marks": marks, "bar": fit.bar(units), "mark_y": bottom + RULE,
        "middle": middle, "centre": (top + bottom) / 2, "wide": round(right - left, 1),
        "break": _break(left, right, top + 0.3 * (bottom - top)) if broken else "",
    }


def _marks(flat, fit, units, datum) -> list[dict]:
    """The running marks over their rule, those that would meet in rows under each other."""
    marks = [mark(from_datum(flat, datum, "x", x), units) | {"x": fit((x, 0))[0]}
             for x in (0.0, *(b.line[0][0] for b in flat.bends), flat.size[0])]
    for label in spread(marks, 10):
        label["y"] = 22 + ROW * label["row"]
        label["y_tape"] = label["y"] + 16
    return marks


def ribbon(part: Part, left=200.0, right=832.0, top=546.0, height=26.0) -> dict:
    """The flat as a ribbon under the section: blank, zones and bend lines along its length, and those of
    their names that do not run into the one before."""
    fit = Fit.into([(0, 0), (part.flat.size[0], 0)], left, top, right - left, height, largest=1e9)
    names, zones, lines, free, bottom = [], "", "", left, top + height
    for b in part.flat.bends:
        x, near, far = (fit(p)[0] for p in (b.line[0], *sorted(t[0] for t in b.tangents)))
        zones += f"M{near:g},{top:g}V{bottom:g}H{far:g}V{top:g}Z"
        lines += f"M{x:g},{top:g}V{bottom:g}"
        half = 4.0 * len(b.bend.id) + 2
        if x - half >= free:
            names.append({"text": b.bend.id, "x": x})
            free = x + half
    return {"left": left, "top": top, "wide": right - left, "height": height, "bottom": bottom, "zones": zones,
            "lines": lines, "names": names}


def _break(left, right, y) -> str:
    """Two zigzag break lines across the sheet."""
    teeth = [(left - 10 + i * (right - left + 20) / 24, y + (5 if i % 2 else -5)) for i in range(25)]
    there = "L".join(f"{x:.1f},{z:.1f}" for x, z in teeth)
    back = "L".join(f"{x:.1f},{z + 9:.1f}" for x, z in reversed(teeth))
    return f"M{there}L{back}Z"


def _bend(flat, fit, top, units, clamped):
    bend, figures = flat.bend, flat.bend.figures
    x = fit(flat.line[0])[0]
    near, far = sorted(fit(t[0])[0] for t in flat.tangents)
    text = f"{bend.id} {bend.direction} {show_angle(bend.angle, units)} r {show_length(figures.inside_radius, units)}"
    tick = (f"M{x - 7:g},{top - 8:g}h14l-7,-12z" if bend.sign > 0 else f"M{x - 7:g},{top - 20:g}h14l-7,12z")
    return {"id": bend.id, "x": x, "near": near, "far": far, "zone": round(far - near, 1), "tick": tick,
            "sights": [fit(edge[0])[0] for edge in sights(flat, clamped.get(bend.id))],
            "label": {"text": text, "x": x, "w": 7.4 * len(text)}, "direction": bend.direction}


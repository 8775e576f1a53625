"""Sections of the tools on a brake's rack."""

import math
from collections import Counter

from bendcore.brakes.bench import BenchBrake
from bendcore.brakes.drawn import points_at
from bendcore.brakes.leaf import LeafBrake
from bendcore.brakes.pieces import Stands
from bendcore.brakes.press import PressBrake
from bendcore.order.plan import Step
from bendcore.order.states.facing import LEFT, along
from bendcore.part import Part
from bendcore.units import read_length

from .fit import Fit


def rack_view(press: PressBrake) -> list[dict]:
    """Each tool's section at one common scale, so that they can be compared."""
    tools = [*press.punches, *press.dies]
    points = [(0, 0), (max(_span(t, 0) for t in tools), max(_span(t, 1) for t in tools))]
    scale = Fit.into(points, 0, 0, 120, 150).scale
    rows = []
    for tool in tools:
        fit = Fit.into(tool.section, 5, 5, 120, 150, largest=scale)
        rows.append({"tool": tool, "d": fit.path(tool.section), "is_die": tool in press.dies,
                     "total": sum(tool.lengths)})
    return rows


def shelf_view(data: dict) -> list[dict]:
    """Every tool of a press brake's file, those put away too, to one scale; where each stands in the file."""
    rows = []
    for rack in ("punches", "dies"):
        for number, tool in enumerate(data[rack]):
            rows.append({"tool": tool, "rack": rack, "number": number,
                         "points": points_at(data, f"{rack}[{number}].section"),
                         "owned": sum(read_length(length, data["units"]) for length in tool["lengths"])})
    wide, high = (max(max(p[axis] for p in row["points"]) - min(p[axis] for p in row["points"]) for row in rows)
                  for axis in (0, 1))
    scale = min(120 / wide, 150 / high)
    for row in rows:
        row["d"] = Fit.into(row["points"], 5, 5, 120, 150, largest=scale).path(row["points"])
    return rows


def _span(tool, axis):
    values = [p[axis] for p in tool.section]
    return max(values) - min(values)


PIECES_WIDTH, PIECES_HEIGHT, PIECES_EDGE = 330, 40, 6


def pieces_view(step: Step, part: Part) -> dict | None:
    """The fingers, or the pieces of the punch, along a bend with its line under them, from the operator's left."""
    group = "finger" if step.tools.fingers else "punch"
    pieces = sorted(step.tools.of(group), key=lambda piece: piece.start)
    if not pieces:
        return None
    long = math.dist(*part.flat.line[step.bends[0]])
    if along(part.flat, step.bends[0], step.held) == LEFT:
        pieces = [Stands(piece.length, long - piece.end) for piece in reversed(pieces)]
    low, high = min(0.0, pieces[0].start), max(long, pieces[-1].end)
    scale = (PIECES_WIDTH - 2 * PIECES_EDGE) / (high - low)

    def at(x):
        return round(PIECES_EDGE + (x - low) * scale, 1)

    return {"width": PIECES_WIDTH, "height": PIECES_HEIGHT, "title": "Fingers" if group == "finger" else "Punch pieces",
            "left": at(0.0), "right": at(long), "start": pieces[0].start,
            "before": -pieces[0].start,
            "pieces": [{"x": at(p.start), "w": round(at(p.end) - at(p.start) - 1, 1), "size": p.length,
                        "middle": at((p.start + p.end) / 2)} for p in pieces]}


def hand_view(brake: LeafBrake | BenchBrake) -> dict:
    """A hand brake's section, clamped on a sheet of no thickness, and its fingers by width."""
    names = ("bar_section", "backing_section") if brake.kind == "bench" else (
        "finger_section", "beam_section", "bed_section", "leaf_section")
    sections = {name.removesuffix("_section"): getattr(brake, name) for name in names}
    fit = Fit.into([p for points in sections.values() for p in points], 8, 8, 220, 190)
    return {"parts": [{"name": name, "d": fit.path(points)} for name, points in sections.items()],
            "fingers": sorted(Counter(getattr(brake, "fingers", ())).items(), reverse=True)}


def tooling_path(kind: str, size: float) -> str:
    """A nose, bar, shim or slip sheet in section, at 12 px to the mm, small ones a little larger."""
    shown = min(max(size * 12, 3.0), 60.0)
    if kind == "slip":
        return f"M10,{80 - shown / 2:g}H120V{80 + shown / 2:g}H10Z"
    if kind == "shim":  # bent over the nose, open at the top
        inner, outer = 20, 20 + shown
        return (f"M{65 - outer:g},30V70A{outer:g},{outer:g} 0 0 0 {65 + outer:g},70V30H{65 + inner}V70"
                f"A{inner},{inner} 0 0 1 {65 - inner},70V30Z")
    if kind == "bar":
        return f"M15,50H{110 - shown:g}A{shown:g},{shown:g} 0 0 1 110,{50 + shown:g}V110H15Z"
    left, right, foot = 65 - shown, 65 + shown, 120 - shown
    return f"M{left:g},20H120V60L{right:g},{foot:g}A{shown:g},{shown:g} 0 0 1 {left:g},{foot:g}Z"


def section_view(data: dict, place: str) -> dict:
    """A brake file's section to scale, with its axes and the points numbered."""
    points = points_at(data, place)
    fit = Fit.into([*points, (0.0, 0.0)], 24, 24, 420, 320)
    laid = fit.all(points)
    (x0, y0), = fit.all([(0.0, 0.0)])
    return {"d": fit.path(points), "x": round(float(x0), 1), "y": round(float(y0), 1),
            "points": [{"n": n, "x": round(float(x), 1), "y": round(float(y), 1)} for n, (x, y) in enumerate(laid, 1)]}

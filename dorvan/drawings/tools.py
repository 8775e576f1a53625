"""Sections of the tools on a brake's rack."""

from bendcore.brakes.press import PressBrake

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


def _span(tool, axis):
    values = [p[axis] for p in tool.section]
    return max(values) - min(values)


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

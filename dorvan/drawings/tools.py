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

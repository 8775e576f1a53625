"""The Shape stage of a flat read from a drawing."""

from dorvan.drawings.net import net_view

from .entries import sizer


def flat_page(ticket, units: str) -> dict:
    """The flat as drawn, and of every line its angle and direction; of a fold its gap."""
    part, size = ticket.figures.part, sizer(ticket, units)
    lines = []
    for i, line in enumerate(part.shape.lines):
        bend, path = line.bend, f"bends[{i}]"
        if bend.figures.angle >= 180:
            entry = size(f"{path}.gap", None, mm=2 * bend.figures.inside_radius) | {
                "unit": units, "name": f"Gap of the fold {bend.id}"}
        else:
            entry = {"field": f"shape.{path}.angle", "value": f"{bend.figures.angle:g}", "unit": "°",
                     "name": f"Angle of {bend.id}, from flat"}
        lines.append(entry | {"id": bend.id, "direction": bend.direction})
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    return {"view": view, "lines": lines}

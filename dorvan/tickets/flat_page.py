"""The Shape stage of a flat read from a drawing."""

from dorvan.drawings.net import net_view

from .entries import sizer


def flat_page(ticket, units: str) -> dict:
    """The flat as drawn, and of every line its angle and direction; of a fold its gap."""
    part, size = ticket.figures.part, sizer(ticket, units)
    lines = []
    for i, line in enumerate(part.shape.lines):
        bend, path = line.bend, f"bends[{i}]"
        folds = bend.figures.angle >= 180
        entry = size(f"{path}.gap", None, "Gap of the fold", 2 * bend.figures.inside_radius) if folds else {
            "field": f"shape.{path}.angle", "label": "Angle, from flat", "value": f"{bend.figures.angle:g}"}
        lines.append(entry | {"id": bend.id, "direction": bend.direction, "unit": units if folds else "°"})
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts, room=(60, 84, 60, 84))
    return {"view": view, "labels": [], "lines": lines}

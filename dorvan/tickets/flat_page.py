"""The Shape stage of a flat read from a drawing, and reading one in."""

from dorvan.drawings.net import net_view


def flat_page(ticket, units: str) -> dict:
    """The flat as drawn, and of every line its angle and direction."""
    part = ticket.figures.part
    lines = [{"id": bend.id, "direction": bend.direction, "field": f"shape.bends[{i}].angle",
              "value": f"{bend.figures.angle:g}"} for i, bend in enumerate(part.shape.bends)]
    return {"view": net_view(part, units, room=(60, 84, 60, 84)), "labels": [], "lines": lines}

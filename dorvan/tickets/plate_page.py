"""The Shape stage of a flanged plate."""

from bendcore.units import read_length
from dorvan.drawings.net import net_view

from .shown import shown


def plate_page(ticket, units: str) -> dict:
    """The plate laid open, its flanges' lengths where they are drawn, the rest beside it."""
    part, data, own = ticket.figures.part, ticket.part["shape"], ticket.part["units"]
    view = net_view(part, units, room=(60, 84, 60, 84))

    def size(path, raw, label):
        return {"field": f"shape.{path}", "label": label, "value": shown(raw, read_length(raw, own), units, own)}

    labels, flanges = [], []
    for i, (block, flange) in enumerate(zip(data.get("flanges", ()), part.shape.flanges, strict=True)):
        x, y = view["faces"][flange.id]
        labels.append(size(f"flanges[{i}].length", block["length"], "") | {
            "left": round(min(max(x - 46, 4), view["width"] - 96), 1),
            "top": round(min(max(y - 22, 64), view["height"] - 66), 1),
            "short": f"{flange.id}, edge {block['edge']}", "name": f"Length of flange {flange.id}, outside"})
        flanges.append(_flange(i, block, flange, size))
    holes = [[size(f"holes[{i}].{key}", hole[key], title) for key, title in (
        ("x", "From the left"), ("y", "From the front"), ("diameter", "Diameter"))]
        for i, hole in enumerate(data.get("holes", ()))]
    slots = [[size(f"slots[{i}].{key}", slot[key], title) for key, title in (
        ("x", "From the left"), ("y", "From the front"), ("length", "Length, end to end"), ("width", "Width"))]
        for i, slot in enumerate(data.get("slots", ()))]
    corners = [[size(f"outline[{i}][{axis}]", value, ("across", "up")[axis]) for axis, value in enumerate(point)]
               for i, point in enumerate(data["outline"])]
    return {"view": view, "labels": labels, "flanges": flanges, "holes": holes, "slots": slots, "corners": corners}


def _flange(i, block, flange, size) -> dict:
    path = f"flanges[{i}]"
    fields = [{"field": f"shape.{path}.edge", "label": "On edge", "value": block["edge"]},
              size(f"{path}.start", block.get("start", 0), "Left free at its start"),
              size(f"{path}.end", block.get("end", 0), "Left free at its end")]
    found = {"id": flange.id, "fields": fields, "path": f"shape.{path}", "direction": flange.bend.direction,
             "angle": {"field": f"shape.{path}.angle", "value": f"{flange.bend.figures.angle:g}"}, "back": None}
    if flange.back:
        found["back"] = {"path": f"shape.{path}.return", "direction": flange.back_bend.direction,
                         "length": size(f"{path}.return.length", block["return"]["length"], "Return, outside")}
    return found

"""The Shape stage of a flanged plate."""

from dorvan.drawings.net import net_view

from .entries import in_hand, placed, sizer, spread_out


def plate_page(ticket, units: str) -> dict:
    """The plate laid open, its flanges' lengths where they are drawn, the rest beside it."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    labels, flanges = [], []
    for i, (block, flange) in enumerate(zip(data.get("flanges", ()), part.shape.flanges, strict=True)):
        entry = size(f"flanges[{i}].length", block["length"], mm=flange.leg.size)
        labels.append(placed(entry, view, flange.id) | {
            "label": f"{flange.id}, edge {block['edge']}", "name": f"Length of flange {flange.id}, {flange.leg.dims}"})
        flanges.append(_flange(i, block, flange, size))
    holes = [[size(f"holes[{i}].{key}", hole[key], title) for key, title in (
        ("x", "From the left"), ("y", "From the front"), ("diameter", "Diameter"))]
        for i, hole in enumerate(data.get("holes", ()))]
    slots = [[size(f"slots[{i}].{key}", slot[key], title) for key, title in (
        ("x", "From the left"), ("y", "From the front"), ("length", "Length, end to end"), ("width", "Width"))]
        for i, slot in enumerate(data.get("slots", ()))]
    things = {"plate": "Outline, holes and slots"} | {f["id"]: f"Flange {f['id']}" for f in flanges}
    return {"view": view, **spread_out(labels, view, off=24), "hands": in_hand(part, view, things),
            "flanges": flanges, "holes": holes, "slots": slots, "corners": corner_entries(data, size)}


def corner_entries(data, size) -> list[list[dict]]:
    """Across and up of every corner of the outline."""
    return [[size(f"outline[{i}][{axis}]", value, ("across", "up")[axis]) for axis, value in enumerate(point)]
            for i, point in enumerate(data["outline"])]


def _flange(i, block, flange, size) -> dict:
    path = f"flanges[{i}]"
    fields = [{"field": f"shape.{path}.edge", "label": "On edge", "value": block["edge"]},
              size(f"{path}.start", block.get("start", 0), "Left free at its start"),
              size(f"{path}.end", block.get("end", 0), "Left free at its end")]
    holes = [[size(f"{path}.holes[{j}].{key}", hole[key], title) for key, title in (
        ("along", "Along, from where it begins"), ("up", "Up, from the outside"), ("diameter", "Diameter"))]
        for j, hole in enumerate(block.get("holes", ()))]
    found = {"id": flange.id, "title": f"Flange {flange.id}", "fields": fields, "holes": holes,
             "path": f"shape.{path}", "direction": flange.bend.direction,
             "angle": {"field": f"shape.{path}.angle", "value": f"{flange.bend.figures.angle:g}"}, "back": None}
    found["said"] = ", ".join([f"{flange.bend.figures.angle:g}° {flange.bend.direction}",
                               f"edge {block['edge']}", *(["return"] if flange.back else [])])
    if flange.back:
        found["back"] = {"path": f"shape.{path}.return", "direction": flange.back_bend.direction,
                         "length": size(f"{path}.return.length", block["return"]["length"], "Return, outside")}
    return found

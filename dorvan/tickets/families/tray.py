"""The Shape stage of a tray."""

from bendcore.families.tray.corners import SIDES
from dorvan.drawings.net import net_view

from .entries import in_hand, placed, sizer, spread_out


def tray_page(ticket, units: str) -> dict:
    """A tray laid open, its sizes beside its walls."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    legs = {leg.id: leg for leg in part.shape.legs}
    sizes = [("length", "length", data["length"], "base", (0, 62)),
             ("width", "width", data["width"], "base", (-150, 0))]
    sizes += [(f"walls.{side}.height", side, data["walls"][side]["height"], side, (0, 0)) for side in data["walls"]]
    labels = []
    for path, leg, raw, face, by in sizes:
        is_base = face == "base"
        labels.append(placed(size(path, raw, mm=legs[leg].size), view, face, *by) | {
            "kind": "leg", "label": leg if is_base else f"{leg}, high",
            "name": f"{leg.capitalize()}, {legs[leg].dims}" if is_base else
            f"Height of the {leg} wall, {legs[leg].dims}"})
    walls = [_wall(side, data["walls"].get(side), part.shape.walls.get(side), size) for side in SIDES]
    corners = part.shape.corners
    tab = {"side": "inside" if corners.tab.inside else "outside", "fields": [
        size(f"corners.tab.{key}", data["corners"]["tab"].get(key), title, getattr(corners.tab, key))
        for key, title in (("width", "Tab width, outside"), ("clearance", "Clearance"), ("ease", "Eased in by"),
                           ("hole", "Rivet holes, 0 for none"))]} if corners.style == "tab" else None
    holes = [_hole(i, hole, size) for i, hole in enumerate(data.get("holes", ()))]
    things = {"base": "Base"} | {wall["side"]: wall["title"] for wall in walls if wall["wall"]}
    return {"view": view, **spread_out(labels, view), "hands": in_hand(part, view, things), "walls": walls,
            "tab": tab, "holes": holes,
            "gap_value": size("corners.gap", data.get("corners", {}).get("gap", 0), mm=corners.gap)["value"],
            "rise": size("cross_breaks.rise", data.get("cross_breaks", {}).get("rise"), mm=part.shape.cross_breaks)}


def _hole(i, hole, size) -> dict:
    fields = [size(f"holes[{i}].{key}", hole[key], title)
              for key, title in (("x", "From the left"), ("y", "From the front"), ("diameter", "Diameter"))]
    collar = hole.get("collar")
    if collar:
        fields.append(size(f"holes[{i}].collar.height", collar["height"], "Height of the collar"))
    way = collar.get("direction", "up") if collar else ""
    return {"fields": fields, "collar": bool(collar), "way": way, "other": "down" if way == "up" else "up",
            "path": f"shape.holes[{i}].collar.direction"}


def _wall(side, block, wall, size) -> dict:
    """One wall's row of the bench sheet: its angle, lip and hem."""
    found = {"side": side, "title": f"{side.capitalize()} wall", "wall": wall}
    if not wall:
        return found
    rims = []
    for key, title, name in (("lip", "lip", "width"), ("hem", "hem", "length")):
        rim = block.get(key)
        way = (wall.lip_way if key == "lip" else wall.hem_way) if rim else ""
        rims.append({"key": key, "title": title, "on": bool(rim), "way": way, "other": "in" if way == "out" else "out",
                     "path": f"shape.walls.{side}.{key}", "size": f"{title.capitalize()} {name}"}
                    | (size(f"walls.{side}.{key}.{name}", rim[name],
                            mm=wall.lip.size if key == "lip" else wall.hem.length) if rim else {}))
    angle = {"field": f"shape.walls.{side}.angle", "value": f"{wall.bend.figures.angle:g}"}
    said = ", ".join([f"{wall.bend.figures.angle:g}°", *(f"{r['title']} {r['way']}" for r in rims if r["on"])])
    return found | {"rims": rims, "angle": angle, "said": said}

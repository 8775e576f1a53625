"""The Shape stage of a tray."""

from bendcore.families.tray import SIDES
from bendcore.units import read_length
from dorvan.drawings.net import net_view

from .shown import shown


def tray_page(ticket, units: str) -> dict:
    """A tray laid open, its sizes beside its walls."""
    part, data, own = ticket.figures.part, ticket.part["shape"], ticket.part["units"]
    view = net_view(part, units, room=(60, 84, 60, 84))
    legs = {leg.id: leg for leg in part.shape.legs}

    def size(path, raw, mm):
        return {"field": f"shape.{path}", "value": shown(raw, mm, units, own)}

    def length(text):
        return read_length(text, own)

    sizes = [("length", "length", data["length"], "base", (0, 62)),
             ("width", "width", data["width"], "base", (-150, 0))]
    sizes += [(f"walls.{side}.height", side, data["walls"][side]["height"], side, (0, 0)) for side in data["walls"]]
    labels = []
    for path, leg, raw, face, (dx, dy) in sizes:
        x, y = view["faces"][face]
        is_base = face == "base"
        labels.append(size(path, raw, legs[leg].size) | {
            "kind": "leg", "left": round(min(max(x + dx - 46, 4), view["width"] - 96), 1),
            "top": round(min(max(y + dy - 22, 64), view["height"] - 66), 1),
            "short": leg if is_base else f"{leg}, high",
            "name": f"{leg.capitalize()}, {part.shape.dims}" if is_base else
            f"Height of the {leg} wall, {part.shape.dims}"})
    walls = [_wall(side, data["walls"].get(side), part.shape.walls.get(side), size, length) for side in SIDES]
    corners = part.shape.corners
    tab = {"side": "inside" if corners.tab.inside else "outside", "fields": [
        size(f"corners.tab.{key}", data["corners"]["tab"].get(key), getattr(corners.tab, key)) | {"label": title}
        for key, title in (("width", "Tab width, outside"), ("clearance", "Clearance"), ("ease", "Eased in by"),
                           ("hole", "Rivet holes, 0 for none"))]} if corners.style == "tab" else None
    holes = [[size(f"holes[{i}].{key}", hole[key], length(hole[key])) | {"label": title}
              for key, title in (("x", "From the left"), ("y", "From the front"), ("diameter", "Diameter"))]
             for i, hole in enumerate(data.get("holes", ()))]
    return {"view": view, "labels": labels, "walls": walls, "tab": tab, "holes": holes,
            "gap_value": shown(data["corners"].get("gap", 0), corners.gap, units, own),
            "rise_value": shown(data.get("cross_breaks", {}).get("rise"), part.shape.cross_breaks, units, own)}


def _wall(side, block, wall, size, length) -> dict:
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
                    | (size(f"walls.{side}.{key}.{name}", rim[name], length(rim[name])) if rim else {}))
    angle = {"field": f"shape.walls.{side}.angle", "value": f"{wall.bend.figures.angle:g}"}
    return found | {"rims": rims, "angle": angle}

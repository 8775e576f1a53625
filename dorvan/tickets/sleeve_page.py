"""The Shape stage of a sleeve."""

from bendcore.families.sleeve import ENDS
from bendcore.units import read_length
from dorvan.drawings.net import net_view

from .shown import shown


def sleeve_page(ticket, units: str) -> dict:
    """The sleeve laid open: width, height and length on its panels, seam and flanges beside it."""
    part, data, own = ticket.figures.part, ticket.part["shape"], ticket.part["units"]
    view = net_view(part, units, room=(60, 84, 60, 84))

    def size(path, raw, label):
        return {"field": f"shape.{path}", "label": label, "value": shown(raw, read_length(raw, own), units, own)}

    labels = []
    for key, face, dy in (("width", "P1", -30), ("length", "P1", 40), ("height", "P2", -30)):
        x, y = view["faces"][face]
        labels.append(size(key, data[key], "") | {
            "left": round(min(max(x - 46, 4), view["width"] - 96), 1), "top": round(y + dy - 22, 1), "short": key,
            "name": f"{key.capitalize()}, {part.shape.dims if key != 'length' else 'over the flanges'}"})
    seam = data.get("seam", {})
    keys = [("gap", "Gap at the corners", seam.get("gap", "0.3 mm"))]
    if part.shape.seam == "lap":
        keys += [("lap", "Flap, outside", seam.get("lap")), ("hole", "Rivet holes, 0 for none", seam.get("hole", 0))]
    flanges = []
    for end in ENDS:
        block = data.get(f"{end}_flange")
        flanges.append({"end": end, "on": bool(block), "way": block["direction"] if block else "",
                        "other": "in" if block and block["direction"] == "out" else "out",
                        "field": size(f"{end}_flange.width", block["width"], "Flange width") if block else None})
    return {"view": view, "labels": labels, "flanges": flanges,
            "seam_fields": [size(f"seam.{key}", raw, label) for key, label, raw in keys]}

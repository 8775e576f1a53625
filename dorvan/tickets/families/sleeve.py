"""The Shape stage of a sleeve."""

from bendcore.families.sleeve import ENDS
from dorvan.drawings.net import net_view

from .entries import placed, sizer, spread_out


def sleeve_page(ticket, units: str) -> dict:
    """The sleeve laid open: width, height and length on its panels, seam and flanges beside it."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    view = net_view(part, units, conflicts=ticket.figures.known_conflicts)
    shape = part.shape
    labels = [placed(size(key, data[key], mm=mm), view, face, dy=dy) | {
        "label": key, "name": f"{key.capitalize()}, {shape.dims if key != 'length' else 'over the flanges'}"}
        for key, face, dy, mm in (("width", "P1", -30, shape.panels[0].size), ("length", "P1", 40, shape.long.size),
                                  ("height", "P2", -30, shape.panels[1].size))]
    seam = data.get("seam", {})
    keys = [("gap", "Gap at the corners", seam.get("gap", "0.3 mm"))]
    if shape.seam != "butt":
        keys += [("lap", "Flap, outside", seam.get("lap")) if shape.seam == "lap" else
                 ("height", "Height it stands out", seam.get("height")),
                 ("hole", "Rivet holes, 0 for none", seam.get("hole", 0))]
    flanges = [_flange(end, data.get(f"{end}_flange"), size) for end in ENDS]
    return {"view": view, **spread_out(labels, view), "flanges": flanges,
            "seam_fields": [size(f"seam.{key}", raw, label) for key, label, raw in keys]}


def _flange(end, block, size) -> dict:
    return {"end": end, "on": bool(block), "way": block["direction"] if block else "",
            "other": "in" if block and block["direction"] == "out" else "out",
            "field": size(f"{end}_flange.width", block["width"], "Flange width") if block else None}

"""The Shape stage of a strip."""

from dorvan.drawings.flat import ribbon
from dorvan.drawings.section import section_view

from .ends import end_entries
from .entries import sizer

HEMS = (("start_hem", "HS", "Hem at the start"), ("end_hem", "HE", "Hem at the end"))


def strip_page(ticket, units: str) -> dict:
    """The section with every leg's and angle's input beside it, or in the bench sheet where that is too full."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    shape, view = part.shape, section_view(part, units)
    hems = [_hem(end, title, getattr(shape, end), data, size) for end, _, title in HEMS]
    entries = {leg.id: size(f"legs[{i}]", data["legs"][i], mm=leg.size) | {"name": f"Leg {leg.id}, {leg.dims}"}
               for i, leg in enumerate(shape.legs)}
    entries |= {bend.id: {"field": f"shape.bends[{i}].angle", "value": f"{bend.figures.angle:g}", "unit": "°",
                          "name": f"Angle {bend.id}, bent from flat"} for i, bend in enumerate(shape.bends)}
    entries |= {key: hem["length"] | {"name": f"Hem {key}"}
                for hem, (_, key, _) in zip(hems, HEMS, strict=True) if hem["on"]}
    labels = [label | entries[label["id"]] | {"label": label["id"]} for label in view["labels"]]
    shown = {"labels": labels}
    if view["crowded"]:
        shown = {"labels": [], "rows": labels, "names": [
            {"text": label["id"], "x": label["x"], "y": label["y"]} for label in labels if "x" in label]}
    return {"view": view, **shown, "hems": hems, "ends": end_entries(ticket, units), "ribbon": ribbon(part),
            "width_value": size("width", data["width"], mm=shape.width)["value"]}


def _hem(end, title, hem, data, size) -> dict:
    """A hem's row of the bench sheet: whether there is one, its gap and which way it goes."""
    found = {"end": end, "title": title, "on": bool(hem)}
    if not hem:
        return found
    return found | {"way": hem.direction, "other": "down" if hem.direction == "up" else "up",
                    "length": size(f"{end}.length", data[end]["length"], mm=hem.length),
                    "gap": size(f"{end}.gap", data[end].get("gap", 0), "Gap of the hem", mm=hem.gap) | {
                        "name": f"Gap of the {title.lower()}"}}

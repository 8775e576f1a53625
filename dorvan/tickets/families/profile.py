"""The Shape stage of a strip."""

from bendcore.units import show_angle
from dorvan.drawings.flat import ribbon
from dorvan.drawings.section import section_view

from .entries import drawn_in, sizer
from .hands import Hands
from .page import FamilyPage
from .picks import FACE, POINT, Pick, square

HEMS = (("start_hem", "HS"), ("end_hem", "HE"))


def strip_page(ticket, units: str) -> dict:
    """The section with every leg's and angle's input beside it, or in the bench sheet where that is too full."""
    part, data, size = ticket.figures.part, ticket.part["shape"], sizer(ticket, units)
    shape, view = part.shape, section_view(part, units)
    entries = {leg.id: size(f"legs[{i}]", data["legs"][i], mm=leg.size) | {"name": f"Leg {leg.id}, {leg.dims}"}
               for i, leg in enumerate(shape.legs)}
    entries |= {bend.id: {"field": f"shape.bends[{i}].angle", "value": show_angle(bend.figures.angle, units),
                          "unit": "", "name": f"Angle {bend.id}"} for i, bend in enumerate(shape.bends)}
    entries |= {name: size(f"{key}.length", data[key]["length"], mm=getattr(shape, key).length) | {
        "name": f"Hem {name}"} for key, name in HEMS if key in data}
    labels = [label | entries[label["id"]] | {"label": label["id"]} for label in view["labels"]]
    shown = {"labels": labels}
    if view["crowded"]:
        shown = {"labels": [], "rows": labels, "names": [
            {"text": label["id"], "x": label["x"], "y": label["y"]} for label in labels if "x" in label]}
    hands = Hands(ticket, units, drawn_in(labels))
    return {"view": view, **shown, "things": hands.all(), "picks": _picks(shape, view, hands.all(), entries),
            "ribbon": ribbon(part), "own": "tickets/_jog.html"}


def _picks(shape, view, things, entries) -> list[Pick]:
    """Legs, which lead to their input, under bends and hems, which are taken in hand."""
    titles, legs = {thing.name: thing.title for thing in things}, {leg.id for leg in shape.legs}
    first = [Pick(name, titles[name], FACE, d, entries[name]["field"]) for name, d in view["pieces"] if name in legs]
    middles = {label["id"]: label["at"] for label in view["labels"] if label["id"] not in legs}
    return first + [Pick(name, titles[name], POINT, square(at)) for name, at in middles.items() if name in titles]


PAGE = FamilyPage(strip_page, "tickets/_shape.html",
                  '<path d="M4 6v16h14V10h18"/>')

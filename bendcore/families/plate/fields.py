"""The fields of a flanged plate."""

from ...fields import Count, Field, Group, Length, Many, Size
from ..declared import HOLE_FIELDS, LARGE, RADIUS, SLOT_FIELDS, angle, bent, kind, outline

RETURN = Group("return", {
    "length": Length("length", label="Return, outside", start=12, needed=True, over=0, grows=True),
    "angle": angle(rare=True),
    "direction": bent(), "inside_radius": RADIUS}, extra=True)
FLANGE_HOLE = Group("", {
    "along": Length("along", label="Along, from where it begins", needed=True, grows=True),
    "up": Length("up", label="Up, from the outside", needed=True, grows=True),
    "diameter": Length("diameter", needed=True, over=0)})
FLANGE = Group("", {
    "edge": Count("edge", label="On edge", needed=True, picked=True),
    "start": Length("left free at its start", default=0, least=0, grows=True),
    "end": Length("left free at its end", default=0, least=0, grows=True),
    "length": Size("length", start=25, needed=True), "angle": angle(),
    "direction": bent("up"), **LARGE, "return": RETURN,
    "holes": Many("hole {n}", FLANGE_HOLE, most=100, extra=True)})

HOLE, SLOT = Group("", HOLE_FIELDS), Group("", SLOT_FIELDS)

_OWN: dict[str, Field] = {
    "outline": outline(60), "flanges": Many("Flange F{n}", FLANGE, most=40, extra=True, listed=True, thing="F{n}"),
    "holes": Many("Hole {n}", HOLE, most=200, extra=True, thing="hole-{n}"),
    "slots": Many("Slot {n}", SLOT, most=100, extra=True, thing="slot-{n}"),
    "relief": Length("width of the reliefs", rare=True),
    "gap": Length("gap between flanges", default=0.5, least=0, rare=True),
}
FIELDS = kind("plate", _OWN)

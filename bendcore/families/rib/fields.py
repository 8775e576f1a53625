"""The fields of a rib."""

from ...fields import Choice, Count, Field, Group, Length, Many
from ..declared import COLLAR, HOLE_FIELDS, RADIUS, angle, bent, dims, kind, outline

HAMMERED, NONE = "hammered", "none"
EDGE = Group("", {
    "edge": Count("edge", label="Of edge", needed=True, picked=True),
    "rise": Length("rise", label="Rises from its chord, outwards", default=0, start=10, grows=True),
    "flange": Choice("flange", (HAMMERED, NONE), default=HAMMERED),
    "flutes": Count("flutes", label="Flutes along it", low=0, high=80)})
CORNER = Group("", {
    "corner": Count("corner", label="At corner", needed=True, picked=True),
    "radius": Length("radius", label="Rounded by", start=15, needed=True, over=0)})
FLANGE = Group("flange", {
    "width": Length("width", label="Flange, to its free edge", start=18, needed=True, over=0, grows=True),
    "angle": angle(), "direction": bent("up", needed=False, default="up"), "inside_radius": RADIUS},
    needed=True, thing="flange")
FLUTES = Group("flutes", {
    "width": Length("width", label="Width of a flute at the edge", start=12, needed=True, over=0)},
    extra=True, thing="flutes")
RIVETS = Group("rivets", {
    "pitch": Length("pitch", label="Rivets, at most apart", start=30, needed=True, over=0),
    "diameter": Length("diameter", label="Rivet diameter", start=3.2, default=3.2, over=0),
    "end": Length("from the flange's ends", start=10, default=10, over=0)}, extra=True, thing="rivets")
PIN = Group("", {"x": Length("from the left", needed=True, grows=True),
                 "y": Length("from the front", needed=True, grows=True)})
HOLE = Group("", HOLE_FIELDS | {"collar": COLLAR})

_OWN: dict[str, Field] = {
    "dims": dims("the outline is"), "outline": outline(40),
    "edges": Many("Curve {n}", EDGE, most=40, extra=True, listed=True, thing="curve-{n}"),
    "corners": Many("Rounding {n}", CORNER, most=40, extra=True, listed=True, thing="rounding-{n}"),
    "flange": FLANGE, "flutes": FLUTES, "rivets": RIVETS,
    "relief": Length("radius of the reliefs", rare=True, over=0),
    "holes": Many("Hole {n}", HOLE, most=60, extra=True, thing="hole-{n}"),
    "pins": Many("Pin {n}", PIN, most=12, extra=True, thing="pin-{n}"),
    "pin": Length("diameter of the pins", default=5, over=0),
}
FIELDS = kind("rib", _OWN)

"""The fields of a tray."""

from ...fields import Choice, Count, Field, Group, Length, Many, Size
from ..declared import COLLAR, HOLE_FIELDS, IN_OUT, LARGE, RADIUS, UP_DOWN, angle, dims, hem, kind, turned

SIDES = ("front", "right", "back", "left")
"""Counter-clockwise round the base, seen from above."""


def _wall(side: str) -> Group:
    lip = Group("lip", {"width": Size("width", label="Lip width", start=12, needed=True, tried=True),
                        "direction": turned("in"), "angle": angle(rare=True),
                        "inside_radius": RADIUS}, extra=True)
    return Group(f"{side} wall", {"height": Size("height", needed=True), "angle": angle(), **LARGE,
                                  "lip": lip, "hem": hem("hem", IN_OUT, 8, needs_way=False)}, extra=True, thing=side)


TAB_FIELDS = Group("tab", {
    "width": Length("width", label="Tab width, outside", start=15, needed=True, over=0, default=0, grows=True,
                    tried=True),
    "side": Choice("tabs lie", ("inside", "outside"), default="inside", tried=True),
    "clearance": Length("clearance", least=0),
    "ease": Length("ease", label="Eased in by", default=1.0, least=0, tried=True),
    "hole": Length("rivet holes", label="Rivet holes, 0 for none", default=0, least=0),
    "holes": Count("how many rivet holes", high=50, default=1)})
CORNER_FIELDS = Group("corners", {
    "style": Choice("style", ("open", "butt", "tab"), default="open", brings={"tab": ("tab",)}, tried=True),
    "gap": Length("gap", label="Gap at the corners", default=0, least=0),
    "pair": Choice("covering pair", ("front", "left"), label="Pair that covers or has the tabs", default="front",
                   tried=True),
    "tab": TAB_FIELDS}, thing="corners")
CROSS_BREAKS = Group("cross-breaks", {
    "rise": Length("rise", start=3, label="Rise of the cross-breaks", needed=True, over=0)}, extra=True)

HOLE = Group("", HOLE_FIELDS | {"collar": COLLAR})

_OWN: dict[str, Field] = {
    "dims": dims("sizes are"), "length": Size("length", needed=True), "width": Size("width", needed=True),
    "direction": Choice("walls go", UP_DOWN, default="up"),
    "walls": Group("", {side: _wall(side) for side in ("left", "right", "front", "back")}, needed=True),
    "corners": CORNER_FIELDS,
    "holes": Many("Hole {n}", HOLE, most=200, extra=True, thing="hole-{n}"),
    "cross_breaks": CROSS_BREAKS,
}
FIELDS = kind("tray", _OWN)

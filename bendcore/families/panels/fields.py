"""The fields of panels on panels."""

from collections.abc import Mapping

from ...fields import Choice, Count, Field, Group, Length, Many, Number, Text, ring
from ..declared import COLLAR, LARGE, UP_DOWN, K, angle, bent, dims, hem, kind, outline

MITRED, SQUARE, COVERS = "mitred", "square", "covers"
SIDES = ("start side", "far edge", "end side")
"""Edges 1 to 3 of a panel, counter-clockwise from where it begins."""
CUT_SQUARE, CUT_ROUND, CUT_KEYHOLE, CUT_NONE = "square", "round", "keyhole", "none"
RELIEFS = (CUT_SQUARE, CUT_ROUND, CUT_KEYHOLE, CUT_NONE)
MOST_PANELS = 200
MOST_CORNERS = 300
"""Of an outline."""
ON = Count("stands on panel", label="On panel, 0 for the base", low=0, high=MOST_PANELS, default=0)
ENDS = (MITRED, SQUARE, COVERS)
PANEL = Group("", {
    "id": Text("name", fixed=True), "on": ON, "edge": Count("edge", label="On edge", needed=True),
    "start": Length("left free at its start", default=0, least=0, grows=True),
    "end": Length("left free at its end", default=0, least=0, grows=True),
    "length": Length("length", start=25, over=0, grows=True), "angle": angle(),
    "direction": bent("up"),
    "ends": Choice("ends", ENDS, label="Ends beside its neighbours", default=MITRED, tried=True),
    "start_ends": Choice("its start", ENDS, label="Its start beside its neighbour", rare=True),
    "end_ends": Choice("its end", ENDS, label="Its end beside its neighbour", rare=True),
    "dims": Choice("how its length is measured", ("outside", "inside", "flat"), label="Its length is", rare=True),
    "start_taper": Length("taper at its start", label="Start slopes in by", least=0, rare=True, grows=True),
    "end_taper": Length("taper at its end", label="End slopes in by", least=0, rare=True, grows=True),
    **LARGE,
    "gap": Length("gap of the fold", label="Gap, if it is folded right back", least=0, rare=True), "k": K,
    "reliefs": Choice("reliefs", RELIEFS, label="Its own reliefs", rare=True, tried=True),
    "outline": ring("corner {n}", 3, MOST_CORNERS, extra=True, grows=True),
    "hem": hem("hem on its far edge", UP_DOWN, 10, needs_way=False)})
TABBED = "tab"
MEET = Group("", {
    "one": Count("one panel", label="Where panel", needed=True),
    "other": Count("the other", label="meets panel", needed=True),
    "style": Choice("style", ("open", "butt", TABBED), label="Corner", default="open", tried=True),
    "covers": Choice("which covers", ("first", "second"), label="Of a butt, which covers; of a tab, which lies over it",
                     default="first"),
    "width": Length("width of its tab", label="Width of its tab, outside", default=15, over=0, rare=True, grows=True),
    "gap": Length("gap", label="Its gap", least=0)})
HELD = Group("", {
    "one": Count("one face", label="Between panel, 0 for the base", low=0, needed=True),
    "other": Count("the other face", label="and panel, 0 for the base", low=0, needed=True),
    "dims": Choice("how it is measured", ("inside", "outside"), label="It is measured", default="inside"),
    "size": Length("size", label="Held at", needed=True, over=0, grows=True),
    "gives": Count("what gives way", label="Gives way: panel, 0 for the base", low=0, needed=True)})
NTH = Count("place among all openings", low=0, fixed=True)
_AT = {"nth": NTH, "on": ON, "x": Length("along", label="Along, from where it begins", needed=True, grows=True),
       "y": Length("up", label="Up, from the outside", needed=True, grows=True)}
REPEAT = Group("row or grid", {
    "count": Count("how many along", label="So many along", high=60, default=1),
    "pitch": Length("pitch along", label="Each so far from the last", start=20, default=20, over=0, grows=True),
    "rows": Count("how many rows up", label="Rows up", high=60, default=1),
    "row_pitch": Length("pitch of the rows", label="Each so far above the last", start=20, default=20, over=0,
                        grows=True)}, extra=True)
HOLE = Group("", _AT | {"diameter": Length("diameter", needed=True, over=0), "repeat": REPEAT, "collar": COLLAR})
WINDOW = Group("", _AT | {
    "length": Length("length", needed=True, over=0, grows=True),
    "width": Length("width", needed=True, over=0, grows=True),
    "radius": Length("radius of its corners", default=0, least=0),
    "angle": Number("angle", label="Turned by, degrees", low=-360, high=360, rare=True), "repeat": REPEAT})
OPENING = Group("", {"nth": NTH, "on": ON, "outline": ring("corner {n}", 3, 500, needed=True, grows=True)})
EDGE = Group("", {"on": ON, "edge": Count("edge", label="Of edge", needed=True, picked=True),
                  "rise": Length("rise", label="Rises from its chord, outwards", default=0, start=10, grows=True)})
CORNER = Group("", {"on": ON, "corner": Count("corner", label="At corner", needed=True, picked=True),
                    "radius": Length("radius", label="Rounded by", start=10, needed=True, over=0, grows=True)})
SQUARE_END, VEE, ROUND = "square", "vee", "round"
NOTCH = Group("", {
    "on": ON, "edge": Count("edge", label="In edge", needed=True, picked=True),
    "along": Length("along", label="Its middle, along the edge", needed=True, grows=True),
    "width": Length("width", start=12, needed=True, over=0, grows=True),
    "depth": Length("depth", start=8, needed=True, over=0, grows=True),
    "form": Choice("form", (SQUARE_END, VEE, ROUND), label="Its end", default=SQUARE_END)})
MOST_OPENINGS = 1000
"""Of one part, rows and grids counted out."""

_OWN: dict[str, Field] = {
    "dims": dims("the sizes are given"), "outline": outline(MOST_CORNERS),
    "panels": Many("Panel P{n}", PANEL, most=MOST_PANELS, extra=True, listed=True, thing="P{n}"),
    "holes": Many("Hole {n}", HOLE, most=200, extra=True, thing="hole-{n}"),
    "windows": Many("Window {n}", WINDOW, most=100, extra=True, thing="window-{n}"),
    "openings": Many("Opening {n}", OPENING, most=200, thing="opening-{n}"),
    "edges": Many("Curve {n}", EDGE, most=200, extra=True, listed=True, thing="curve-{n}"),
    "corners": Many("Rounding {n}", CORNER, most=200, extra=True, listed=True, thing="rounding-{n}"),
    "meets": Many("Joint {n}", MEET, most=200, extra=True, listed=True, thing="joint-{n}"),
    "held": Many("Overall {n}", HELD, most=20, extra=True, listed=True, thing="overall-{n}"),
    "notches": Many("Notch {n}", NOTCH, most=200, extra=True, listed=True, thing="notch-{n}"),
    "reliefs": Choice("reliefs", RELIEFS, label="Reliefs", default=CUT_SQUARE, rare=True, tried=True),
    "relief": Length("width of the reliefs", rare=True),
    "gap": Length("gap between panels", default=0.5, least=0, rare=True),
}
FIELDS = kind("panels", _OWN)


def sides(panel: Mapping) -> int:
    """On how many sides of a panel, as a file has it, more may stand: all but the one it is bent at.

    >>> sides({"length": 20}), sides({"outline": [[0, 0], [0, 30], [20, 50], [40, 30], [40, 0]]})
    (3, 4)
    """
    return len(panel["outline"]) - 1 if panel.get("outline") else len(SIDES)

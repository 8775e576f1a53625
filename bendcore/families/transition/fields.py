"""The fields of a transition."""

from ...fields import Count, Field, Group, Length, Many, Number
from ..declared import RADIUS, dims, kind, turned


def _flange(words: str, thing: str) -> Group:
    return Group(words, {
        "width": Length("width", label="Flange width", start=20, needed=True, over=0, grows=True),
        "direction": turned("out"), "inside_radius": RADIUS}, extra=True, thing=thing)


_ENDS = {"length": Length("length", needed=True, over=0, grows=True),
         "width": Length("width", needed=True, over=0, grows=True)}
BOTTOM = Group("bottom", _ENDS, needed=True)
TOP = Group("top", _ENDS | {
    "offset": Many("offset {n}", Length(grows=True), least=2, most=2),
    "turn": Number("turn", label="Turned by, degrees", low=-360, high=360)}, needed=True)

_OWN: dict[str, Field] = {
    "dims": dims("the ends are given"), "bottom": BOTTOM, "top": TOP,
    "height": Length("height", needed=True, over=0, grows=True),
    "pieces": Count("pieces", label="In how many pieces, 1 or 2", low=1, high=2, default=1, tried=True),
    "piece": Count("which piece", low=1, high=2, default=1, picked=True),
    "seam": Count("seam", label="Cut at corner, 1 to 4", low=1, high=4),
    "bottom_flange": _flange("flange at the bottom", "bottom"), "top_flange": _flange("flange at the top", "top"),
    "gap": Length("gap", label="Gap at seams and corners", default=1, least=0),
    "trim": Length("trim", label="Left on at open ends to trim", default=0, least=0)}
FIELDS = kind("transition", _OWN)

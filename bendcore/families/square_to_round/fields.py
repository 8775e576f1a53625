"""The fields of a square to round."""

from ...fields import Count, Field, Group, Length, Many
from ..declared import dims, kind

SQUARE = Group("square", {
    "length": Length("length", needed=True, over=0, grows=True),
    "width": Length("width", needed=True, over=0, grows=True)}, needed=True)
ROUND = Group("round", {
    "diameter": Length("diameter", needed=True, over=0, grows=True),
    "offset": Many("offset {n}", Length(grows=True), least=2, most=2)}, needed=True)

_OWN: dict[str, Field] = {
    "dims": dims("the ends are given"), "square": SQUARE, "round": ROUND,
    "height": Length("height", needed=True, over=0, grows=True),
    "facets": Count("facets", label="Facets at each corner, else as many as keep it round", low=1, high=24),
    "error": Length("facet error", label="How far a facet may stand off the round", default=0.5, over=0),
    "pieces": Count("pieces", label="In how many pieces: 1, 2 or 4", low=1, high=4, default=1, tried=True),
    "piece": Count("which piece", low=1, high=4, default=1, picked=True),
    "gap": Length("gap", label="Gap at the seam", default=1, least=0)}
FIELDS = kind("square-to-round", _OWN)

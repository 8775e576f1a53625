"""The fields of a flat read from a drawing."""

from ...fields import PAIR, Field, Group, Length, Many, Number, ring
from ..declared import HOLE_FIELDS, RADIUS, K, angle, bent, kind

OPENING = {key: Length(one.words, grows=one.grows, over=one.over) for key, one in HOLE_FIELDS.items()} | {
    "length": Length("length", grows=True), "angle": Number("angle", low=-360, high=360),
    "outline": ring("corner {n}", 3, 500, grows=True)}
LINE = {"line": Many("end {n}", PAIR, least=2, most=2, needed=True), "angle": angle(),
        "direction": bent(), "inside_radius": RADIUS,
        "gap": Length("gap", label="Gap of the fold", least=0), "k": K}

_OWN: dict[str, Field] = {
    "outline": ring("Corner {n}", 3, 2000, needed=True),
    "holes": Many("Hole {n}", Group("", OPENING), most=500),
    "bends": Many("Bend B{n}", Group("", LINE), most=200, extra=True, listed=True, thing="B{n}"),
}
FIELDS = kind("flat", _OWN)

"""The fields of a strip."""

from ...fields import Choice, Count, Field, Group, Length, Many, Number, Size
from ..declared import LARGE, UP_DOWN, angle, bent, dims, hem, kind


def _side(words: str) -> Group:
    return Group(words, {end: Length(f"at the {end}", label=f"{words.capitalize()} in, at the {end}", default=0,
                                     least=0, grows=True) for end in ("start", "end")}, vanishes=True)


def _snip(corner: str) -> Group:
    where = corner.replace("_", " at the ")
    return Group(where, {key: Length(key, label=f"Snip, {where}, {key}", needed=True, least=0, grows=True)
                         for key in ("along", "across")}, vanishes=True)


PLACE = {"leg": Count("on leg", label="On leg", needed=True),
         "along": Length("along the leg, from its start", needed=True),
         "across": Length("from the front", needed=True, grows=True),
         "from": Choice("counted from", ("start", "end"), label="Counted from the leg's", default="start", rare=True)}
TURNED = {"angle": Number("angle", label="Turned by, degrees", low=-360, high=360, rare=True)}
HOLE = Group("", PLACE | {"diameter": Length("diameter", needed=True, over=0)})
SLOT = Group("", PLACE | {"length": Length("length", label="Length, end to end", needed=True, over=0),
                          "width": Length("width", needed=True, over=0)} | TURNED)
OPENING = Group("", PLACE | {"length": Length("length", label="Length along the strip", needed=True, over=0),
                             "width": Length("width", label="Width across it", needed=True, over=0)} | TURNED)
_OWN: dict[str, Field] = {
    "width": Length("width", label="Width along the bends", needed=True, over=0, grows=True),
    "dims": dims("legs are measured", "outside", "inside", "flat"),
    "convention": Choice("above 90°, to the", ("apex", "tangent"), default="apex"),
    "legs": Many("Leg L{n}", Size(label="Size"), least=1, most=61, needed=True, thing="L{n}"),
    "bends": Many("Bend B{n}", Group("", {"angle": angle(90, needed=True),
                                          "direction": bent("up"),
                                          } | LARGE),
                  most=60, needed=True, extra=True, listed=True, thing="B{n}"),
    "start_hem": hem("hem at the start", UP_DOWN, 10, needs_way=True, thing="HS"),
    "end_hem": hem("hem at the end", UP_DOWN, 10, needs_way=True, thing="HE"),
    "taper": Group("taper", {side: _side(f"{side} edge") for side in ("front", "back")}, vanishes=True, thing="ends"),
    "snips": Group("snip", {corner: _snip(corner) for corner in ("start_front", "start_back", "end_front", "end_back")},
                   vanishes=True, thing="ends"),
    "holes": Many("Hole {n}", HOLE, most=200, extra=True, listed=True, thing="hole-{n}"),
    "slots": Many("Slot {n}", SLOT, most=100, extra=True, listed=True, thing="slot-{n}"),
    "openings": Many("Opening {n}", OPENING, most=100, extra=True, listed=True, thing="opening-{n}"),
}
FIELDS = kind("profile", _OWN)

"""Fields that several families have alike."""

from dataclasses import replace

from ..bending.bumping import WAYS
from ..fields import Angle, Choice, Const, Field, Group, Length, Many, Number, Radius, ring

UP_DOWN, IN_OUT = ("up", "down"), ("in", "out")
RADIUS = Radius("inside radius", label="Own inside radius", least=0, rare=True)
LARGE = {"inside_radius": RADIUS,
         "made": Choice("made", WAYS, label="Large radius made", rare=True),
         "facet": Length("facet error", label="Facets may stand off by", over=0, rare=True)}
K = Number("K", label="Own K", rare=True)
_PLACE = {"x": Length("from the left", needed=True, grows=True),
          "y": Length("from the front", needed=True, grows=True)}
HOLE_FIELDS = _PLACE | {"diameter": Length("diameter", needed=True, over=0)}
SLOT_FIELDS = _PLACE | {
    "length": Length("length", label="Length, end to end", needed=True, grows=True),
    "width": Length("width", needed=True, grows=True, over=0),
    "angle": Number("angle", label="Turned by, degrees", low=-360, high=360, rare=True)}


HEM = Group("hem", {"length": Length("length", label="Hem length", needed=True, grows=True, over=0),
                    "gap": Length("gap", label="Gap of the hem", start=0, default=0, least=0)})


def dims(words: str, *options: str) -> Choice:
    """How the sizes of a part are measured."""
    options = options or ("outside", "inside")
    return Choice(words, options, default=options[0])


def angle(start: float | None = None, needed: bool = False, rare: bool = False) -> Angle:
    """An angle of a bend; 90° where it may be left out."""
    return Angle("angle", label="Angle, from flat", start=start, needed=needed, rare=rare,
                 default=None if needed else 90)


def turned(way: str | None = None, needed: bool = True, default: str | None = None) -> Choice:
    """To which side something is turned."""
    return Choice("direction", IN_OUT, label="Turned", start=way, needed=needed, default=default, tried=True)


def bent(way: str | None = None, needed: bool = True, default: str | None = None) -> Choice:
    """To which side something is bent."""
    return Choice("direction", UP_DOWN, label="Bent", start=way, needed=needed, default=default)


def hem(words: str, ways: tuple[str, str], length: float, needs_way: bool, thing: str = "") -> Group:
    """An edge folded back."""
    return Group(words, {
        "length": replace(HEM.fields["length"], start=length), "gap": HEM.fields["gap"],
        "direction": (bent if ways == UP_DOWN else turned)(ways[0], needs_way, ways[0]), "k": K}, extra=True,
        thing=thing, tried=True)


COLLAR = Group("collar", {"height": Length("height", label="Height of the collar", start=5, needed=True, over=0,
                                           grows=True),
                          "direction": bent("up", needed=False, default="up"), "inside_radius": RADIUS}, extra=True)


def rim(words: str, way: str, label: str, thing: str = "") -> Group:
    """A flange or a turned edge all along a side, in or out."""
    return Group(words, {
        "width": Length("width", label=label, start=15, needed=True, over=0, grows=True),
        "direction": turned(way), "inside_radius": RADIUS},
        extra=True, thing=thing)


def outline(most: int) -> Many:
    """Corners of an outline; edge n runs from corner n to the next."""
    return ring("Corner {n}", 3, most, needed=True, extra=True, thing="corner-{n}")


def kind(name: str, fields: dict[str, Field]) -> Group:
    """The fields of a family's ``shape``."""
    return Group("", {"kind": Const(name)} | fields)

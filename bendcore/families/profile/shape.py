"""A profile: a strip with bends across it, any number of legs, hems at either end.

Legs may be given outside, inside or flat (tangent to tangent), for the part or
leg by leg, under the apex or the tangent convention. x runs along the developed
length from the blank's start edge, y along the width. Bends are ``B1…Bn``, hem
bends ``HS`` and ``HE``, faces ``L1…Ln+1``, hem faces ``HS`` and ``HE``.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from itertools import pairwise, zip_longest

from ...bending.bend import APEX
from ...errors import Refusal
from ...fields import Steps
from ...sheet.model import Bend, Face, Hole, Sheet
from ..common import Given, make_leg, read_bend, read_hem, read_size, rectangle
from ..legs import OUTSIDE, Hem, Leg, Run, ShapeBend
from ..shape import Shape
from .ends import Ends, read_ends
from .fields import FIELDS
from .openings import read_openings


@dataclass(frozen=True)
class Profile(Shape):
    """A strip, read."""

    width: float
    thickness: float
    dims: str
    convention: str
    legs: tuple[Leg, ...]
    bends: tuple[ShapeBend, ...]
    start_hem: Hem | None = None
    end_hem: Hem | None = None
    ends: Ends | None = None
    """None where the strip is square all along."""
    cut_out: Mapping[str, tuple[Hole, ...]] = field(default_factory=dict)
    """By leg its holes, slots and openings."""

    kind = "profile"
    fields = FIELDS
    is_strip = True

    @property
    def all_bends(self) -> tuple[ShapeBend | Hem, ...]:
        """Every bend along the strip, hems included."""
        start = (self.start_hem,) if self.start_hem else ()
        end = (self.end_hem,) if self.end_hem else ()
        return (*start, *self.bends, *end)

    @property
    def longest_bend(self) -> float:
        """The strip's width, mm."""
        return self.width

    @property
    def runs(self) -> tuple[Run, ...]:
        """Along the strip."""
        legs = (*(leg.id for leg in self.legs), *(h.id for h in self.hems))
        return (Run("length", legs, tuple(b.id for b in self.all_bends)),)

    def place(self, name: str) -> str:
        """The hem's field, or the leg's."""
        hems = {hem.id: key for key, hem in (("start_hem", self.start_hem), ("end_hem", self.end_hem)) if hem}
        if "-" in name:
            kind, _, number = name.rpartition("-")
            return f"{kind}s[{int(number) - 1}]"
        return hems.get(name) or next((f"legs[{i}]" for i, leg in enumerate(self.legs) if leg.id == name), "legs")

    def thing(self, name: str) -> str:
        """Every leg, bend and hem is one."""
        return name

    def size_path(self, leg: str) -> Steps | None:
        """A leg is one of a list."""
        return next((("legs", i) for i, one in enumerate(self.legs) if one.id == leg), None)

    def angle_row(self, bend: str) -> str:
        """The bend's own name: no wall shares it."""
        return bend

    def _called(self, name: str) -> str:
        """*Leg L2*, *bend B1*, *hem at the start*."""
        return f"Bend {name}" if name in {bend.id for bend in self.bends} else super()._called(name)

    def _sheet(self) -> Sheet:
        """The profile as faces joined at bends, rooted at the first leg."""
        places, zones = self._places()
        faces = [Face(leg.id, self._face(*places[leg.id]), self.cut_out.get(leg.id, ())) for leg in self.legs]
        joints = [self._joint(b, one.id, other.id, zones[b.id])
                  for b, (one, other) in zip(self.bends, pairwise(self.legs), strict=True)]
        if self.end_hem:
            faces.append(Face("HE", self._face(*places["HE"])))
            joints.append(self._joint(self.end_hem, self.legs[-1].id, "HE", zones["HE"]))
        if self.start_hem:
            faces.append(Face("HS", self._face(*places["HS"])))
            (far, near), flat = zones["HS"], self.start_hem.flat
            (low, high), (low_far, high_far) = self._edge(near), self._edge(far)
            joints.append(Bend("HS", "L1", "HS", ((0.0, high), (0.0, low)), ((flat, high_far), (flat, low_far)),
                               self.start_hem.direction, self.start_hem.figures, (high - high_far, low - low_far)))
        return Sheet(self.thickness, "L1", tuple(faces), tuple(joints))

    def _places(self) -> tuple[dict, dict]:
        """Where flats and zones lie along the blank, from its start edge, by name."""
        start = (self.start_hem,) if self.start_hem else ()
        items = [*start, *self.legs, *((self.end_hem,) if self.end_hem else ())]
        places, zones, x = {}, {}, 0.0
        for item, bend in zip_longest(items, self.all_bends):
            places[item.id] = (x, x + item.flat)
            x += item.flat
            if bend:
                zones[bend.id] = (x, x + bend.figures.allowance)
                x += bend.figures.allowance
        return places, zones

    def _face(self, low, high):
        return self.ends.outline(low, high, self.width) if self.ends else rectangle(high - low, self.width)

    def _edge(self, x) -> tuple[float, float]:
        return self.ends.edge(x, self.width) if self.ends else (0.0, self.width)

    def _joint(self, bend, parent, child, zone) -> Bend:
        near, far = self._edge(zone[0]), self._edge(zone[1])
        flat = next(leg.flat for leg in self.legs if leg.id == parent)
        return Bend(bend.id, parent, child, tuple((flat, y) for y in near), tuple((0.0, y) for y in far),
                    bend.direction, bend.figures, (far[0] - near[0], far[1] - near[1]))


def read_profile(shape: dict, given: Given) -> Profile:
    """A profile from the part file's ``shape`` (already fit for the schema).

    Refusals name the field below ``shape``, or ``allowance`` where the school cannot speak for a bend.
    """
    convention, length, thickness = shape.get("convention", APEX), given.length, given.thickness
    given = replace(given, convention=convention)
    dims = shape.get("dims", OUTSIDE)
    width = FIELDS.mm(shape, "width", "", length)
    if len(shape["legs"]) != len(shape["bends"]) + 1:
        raise Refusal("legs", f"{len(shape['bends'])} bends need {len(shape['bends']) + 1} legs, "
                              f"not {len(shape['legs'])}")
    bends = tuple(read_bend(f"B{i + 1}", block, block["direction"], f"bends[{i}]", given)
                  for i, block in enumerate(shape["bends"]))
    start, end = (_read_hem(shape, key, name, on, given)
                  for key, name, on in (("start_hem", "HS", "L1"), ("end_hem", "HE", f"L{len(bends) + 1}")))
    ends = [start, *bends, end]
    legs = tuple(_read_leg(i, value, dims, ends[i], ends[i + 1], length)
                 for i, value in enumerate(shape["legs"]))
    strip = Profile(width, thickness, dims, convention, legs, bends, start, end)
    places, zones = strip._places()
    if "taper" in shape or "snips" in shape:
        strip = replace(strip, ends=read_ends(shape, strip.developed_length, width, zones, length))
    if not {"holes", "slots", "openings"} & set(shape):
        return strip
    outlines = {leg.id: strip._face(*places[leg.id]) for leg in legs}
    return replace(strip, cut_out=read_openings(shape, legs, outlines, length))


def _read_hem(shape, key, name, on, given):
    if key not in shape:
        return None
    return read_hem(name, shape[key], shape[key]["direction"], key, given, on)


def _read_leg(i, value, dims, before, after, length):
    path = f"legs[{i}]"
    if isinstance(value, dict) and "length" not in value and None in (before, after):
        raise Refusal(path, "is open at one end: only a leg between two bends can fit around or into something")
    return make_leg(f"L{i + 1}", *read_size(value, path, length, dims), (before, after), path)

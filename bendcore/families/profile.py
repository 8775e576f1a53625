"""A profile: a strip with bends across it, any number of legs, hems at either end.

Legs may be given outside, inside or flat (tangent to tangent), for the part or
leg by leg, under the apex or the tangent convention. x runs along the developed
length from the blank's start edge, y along the width. Bends are ``B1…Bn``, hem
bends ``HS`` and ``HE``, faces ``L1…Ln+1``, hem faces ``HS`` and ``HE``.
"""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

from ..bend import APEX
from ..errors import Refusal
from ..schools import School
from ..sheet.model import Bend, Face, Sheet
from .common import OUTSIDE, Hem, Leg, Run, Shape, ShapeBend, make_leg, positive, read_bend, read_hem, read_size


@dataclass(frozen=True)
class Profile(Shape):
    width: float
    thickness: float
    dims: str
    convention: str
    legs: tuple[Leg, ...]
    bends: tuple[ShapeBend, ...]
    start_hem: Hem | None = None
    end_hem: Hem | None = None

    kind = "profile"

    @property
    def all_bends(self) -> tuple[ShapeBend | Hem, ...]:
        """Every bend along the strip, hems included."""
        start = (self.start_hem,) if self.start_hem else ()
        end = (self.end_hem,) if self.end_hem else ()
        return (*start, *self.bends, *end)

    @property
    def longest_bend(self) -> float:
        return self.width

    @property
    def runs(self) -> tuple[Run, ...]:
        legs = (*(leg.id for leg in self.legs), *(h.id for h in self.hems))
        return (Run("length", legs, tuple(b.id for b in self.all_bends)),)

    def _sheet(self) -> Sheet:
        """The profile as faces joined at bends, rooted at the first leg."""
        faces = [Face(leg.id, _rectangle(leg.flat, self.width)) for leg in self.legs]
        flat = {leg.id: leg.flat for leg in self.legs}
        joints = [self._joint(b, one.id, other.id, flat[one.id])
                  for b, (one, other) in zip(self.bends, pairwise(self.legs), strict=True)]
        if self.end_hem:
            last = self.legs[-1].id
            faces.append(Face("HE", _rectangle(self.end_hem.flat, self.width)))
            joints.append(self._joint(self.end_hem, last, "HE", flat[last]))
        if self.start_hem:
            length = self.start_hem.flat
            faces.append(Face("HS", _rectangle(length, self.width)))
            joints.append(Bend("HS", "L1", "HS", ((0.0, self.width), (0.0, 0.0)),
                               ((length, self.width), (length, 0.0)),
                               self.start_hem.direction, self.start_hem.figures))
        return Sheet(self.thickness, "L1", tuple(faces), tuple(joints))

    def _joint(self, bend, parent, child, at) -> Bend:
        return Bend(bend.id, parent, child, ((at, 0.0), (at, self.width)),
                    ((0.0, 0.0), (0.0, self.width)), bend.direction, bend.figures)


def _rectangle(length, width):
    return ((0.0, 0.0), (length, 0.0), (length, width), (0.0, width))


def read_profile(shape: dict, *, thickness: float, inside_radius: float | None, school: School,
                 length: Callable) -> Profile:
    """A profile from the part file's ``shape`` (already fit for the schema).

    ``length(value, path)`` reads a length in mm. ``inside_radius`` is the part's
    and may be ``None`` when every bend gives its own. Refusals name the field
    below ``shape``, or ``allowance`` where the school cannot speak for a bend.
    """
    convention = shape.get("convention", APEX)
    dims = shape.get("dims", OUTSIDE)
    width = positive(length(shape["width"], "width"), "width")
    if len(shape["legs"]) != len(shape["bends"]) + 1:
        raise Refusal("legs", f"{len(shape['bends'])} bends need {len(shape['bends']) + 1} legs, "
                              f"not {len(shape['legs'])}")
    bends = tuple(read_bend(f"B{i + 1}", block, block["direction"], f"bends[{i}]", thickness=thickness,
                            inside_radius=inside_radius, school=school, convention=convention, length=length)
                  for i, block in enumerate(shape["bends"]))
    start, end = (_read_hem(shape, key, name, on, thickness, school, length)
                  for key, name, on in (("start_hem", "HS", "L1"), ("end_hem", "HE", f"L{len(bends) + 1}")))
    ends = [start, *bends, end]
    legs = tuple(_read_leg(i, value, dims, ends[i], ends[i + 1], length)
                 for i, value in enumerate(shape["legs"]))
    return Profile(width, thickness, dims, convention, legs, bends, start, end)


def _read_hem(shape, key, name, on, thickness, school, length):
    if key not in shape:
        return None
    return read_hem(name, shape[key], shape[key]["direction"], key, thickness=thickness, school=school,
                    length=length, on=on)


def _read_leg(i, value, dims, before, after, length):
    path = f"legs[{i}]"
    if isinstance(value, dict) and "length" not in value and None in (before, after):
        raise Refusal(path, "is open at one end: only a leg between two bends can fit around or into something")
    return make_leg(f"L{i + 1}", *read_size(value, path, length, dims), (before, after), path)

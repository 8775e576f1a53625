"""A profile: a strip with bends across it, any number of legs, hems at either end.

Legs may be given outside, inside or flat (tangent to tangent), for the part or
leg by leg, under the apex or the tangent convention. x runs along the developed
length from the blank's start edge, y along the width. Bends are ``B1…Bn``, hem
bends ``HS`` and ``HE``, faces ``L1…Ln+1``, hem faces ``HS`` and ``HE``.
"""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

from ..bend import APEX, BendFigures, allowance_from_k, check_angle
from ..errors import Refusal
from ..schools import CLOSED_HEM_K, School
from ..sheet.model import Bend, Face, Sheet
from ..units import read_angle

OUTSIDE, INSIDE, FLAT = "outside", "inside", "flat"
SHORTEST_FLAT = 1e-6


@dataclass(frozen=True)
class Leg:
    """One flat stretch. ``size`` as given under ``dims``; ``flat`` tangent to tangent."""

    id: str
    size: float
    dims: str
    flat: float
    setbacks: tuple[float, float]
    """What each end loses from the size as given."""
    outside: float


@dataclass(frozen=True)
class ProfileBend:
    id: str
    direction: str
    figures: BendFigures


@dataclass(frozen=True)
class Hem:
    """An edge folded back. ``length`` and the leg beside it are measured to the
    outside of the fold; ``flat`` is the face left beyond the bend zone."""

    id: str
    length: float
    gap: float
    direction: str
    figures: BendFigures
    flat: float


@dataclass(frozen=True)
class Profile:
    width: float
    thickness: float
    dims: str
    convention: str
    legs: tuple[Leg, ...]
    bends: tuple[ProfileBend, ...]
    start_hem: Hem | None = None
    end_hem: Hem | None = None

    @property
    def hems(self) -> tuple[Hem, ...]:
        return tuple(h for h in (self.start_hem, self.end_hem) if h)

    @property
    def all_bends(self) -> tuple[ProfileBend | Hem, ...]:
        """Every bend along the strip, hems included."""
        start = (self.start_hem,) if self.start_hem else ()
        end = (self.end_hem,) if self.end_hem else ()
        return (*start, *self.bends, *end)

    @property
    def developed_length(self) -> float:
        return (sum(leg.flat for leg in self.legs) + sum(h.flat for h in self.hems)
                + sum(b.figures.allowance for b in self.all_bends))

    def sheet(self) -> Sheet:
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
    width = _positive(length(shape["width"], "width"), "width")
    if len(shape["legs"]) != len(shape["bends"]) + 1:
        raise Refusal("legs", f"{len(shape['bends'])} bends need {len(shape['bends']) + 1} legs, "
                              f"not {len(shape['legs'])}")
    bends = tuple(_read_bend(i, block, thickness, inside_radius, school, convention, length)
                  for i, block in enumerate(shape["bends"]))
    start, end = (_read_hem(shape, key, thickness, school, length) for key in ("start_hem", "end_hem"))
    ends = [start, *bends, end]
    legs = tuple(_read_leg(i, value, dims, thickness, ends[i], ends[i + 1], length)
                 for i, value in enumerate(shape["legs"]))
    return Profile(width, thickness, dims, convention, legs, bends, start, end)


def _positive(value, path):
    if value <= 0:
        raise Refusal(path, "must be greater than 0")
    return value


def _read_bend(i, block, thickness, default_radius, school, convention, length):
    path = f"bends[{i}]"
    angle = check_angle(read_angle(block["angle"], f"{path}.angle"), f"{path}.angle")
    radius = default_radius
    if "inside_radius" in block:
        radius = length(block["inside_radius"], f"{path}.inside_radius")
        if radius < 0:
            raise Refusal(f"{path}.inside_radius", "must not be negative")
    if radius is None:
        raise Refusal(f"{path}.inside_radius", "is missing: give it here, on the part, or name a die")
    return ProfileBend(f"B{i + 1}", block["direction"],
                       school.figures(angle, radius, thickness, convention))


def _read_hem(shape, key, thickness, school, length):
    block = shape.get(key)
    if block is None:
        return None
    name = {"start_hem": "HS", "end_hem": "HE"}[key]
    size = _positive(length(block["length"], f"{key}.length"), f"{key}.length")
    gap = length(block.get("gap", 0), f"{key}.gap")
    if gap < 0:
        raise Refusal(f"{key}.gap", "must not be negative")
    radius = gap / 2
    if "k" in block or gap == 0:
        width = allowance_from_k(180, radius, thickness, block.get("k", CLOSED_HEM_K))
    else:
        width = school.figures(180, radius, thickness, "tangent").allowance
    flat = size - (radius + thickness)
    if flat <= SHORTEST_FLAT:
        raise Refusal(f"{key}.length", f"must be more than {radius + thickness:g} mm, which the fold itself takes")
    return Hem(name, size, gap, block["direction"],
               BendFigures(180, radius, thickness, width, "tangent"), flat)


def _loss(end, dims, thickness):
    """What a leg's size as given loses at one end, down to its flat."""
    if end is None or dims == FLAT:
        return 0.0
    if isinstance(end, Hem):
        return end.figures.outside_setback
    return end.figures.outside_setback if dims == OUTSIDE else end.figures.inside_setback


def _read_leg(i, value, dims, thickness, before, after, length):
    path = f"legs[{i}]"
    if isinstance(value, dict):
        dims, value = value.get("dims", dims), value["length"]
    size = _positive(length(value, path), path)
    losses = (_loss(before, dims, thickness), _loss(after, dims, thickness))
    flat = size - sum(losses)
    if flat <= SHORTEST_FLAT:
        raise Refusal(path, f"must be more than {sum(losses):.4g} mm, which its bends take "
                            f"({size:.4g} mm given)")
    outside = flat + _loss(before, OUTSIDE, thickness) + _loss(after, OUTSIDE, thickness)
    return Leg(f"L{i + 1}", size, dims, flat, losses, outside)

"""Where on the finished part each row of its check sheet is measured, in the space of :func:`bendcore.sheet.fold`, mm.

A leg is measured square to the bends at its ends, from where its size begins (outside, inside or at the tangent line,
as it is given) to where it ends or its edge is; the angle of a bend between the two faces beside it; a hole from its
centre to the outside beyond a bend; a plate's finished edge from corner to corner; a strip's section has its two sizes
over all beside it. What else is measured over all, or tried, has no place.

>>> from bendcore.part import read_part
>>> places = where(read_part({
...     "format": "dorvan-part", "version": 1, "units": "mm", "name": "U", "inside_radius": 1.2,
...     "stock": {"material": "mild-steel", "thickness": 1}, "allowance": {"method": "generic"},
...     "shape": {"kind": "profile", "width": 300, "dims": "outside", "convention": "apex", "legs": [30, 60, 30],
...               "bends": [{"angle": 90, "direction": "up"}] * 2}}))
>>> sorted(places), round(places["L2"].long, 6)
(['B1', 'B2', 'L1', 'L2', 'L3', 'across', 'high'], 60.0)
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from ..families.legs import Leg
from ..part import Part
from ..sheet.fold import Folded, Frame, fold
from ..sheet.model import Bend, Face
from ..sheet.vectors import cross, unit
from .checklist import bends_at, nearest_hole


@dataclass(frozen=True)
class Stretch:
    """A length from ``first`` to ``second`` (3,)."""

    first: np.ndarray
    second: np.ndarray

    @property
    def long(self) -> float:
        """How far apart they are, mm."""
        return float(np.linalg.norm(self.second - self.first))


@dataclass(frozen=True)
class Corner:
    """An angle: how far the face beyond a bend is turned out of the plane of the face before it, about the ``apex``
    (3,); ``on`` is how that would run on, ``beyond`` how it runs: unit vectors (3,)."""

    apex: np.ndarray
    on: np.ndarray
    beyond: np.ndarray


def where(part: Part, folded: Folded | None = None) -> dict[str, Stretch | Corner]:
    """By name of a row of the check sheet. ``folded`` spares folding the part again."""
    folded = folded or fold(part.sheet, flat=part.flat)
    found: dict[str, Stretch | Corner] = {}
    for leg in part.shape.legs:
        if (place := _leg(part, leg, folded)) is not None:
            found[leg.id] = place
    sheet = {bend.id: bend for bend in part.sheet.bends}
    for bend in part.shape.bends:
        if bend.id in sheet and sheet[bend.id].angle:
            found[part.shape.angle_row(bend.id)] = _corner(sheet[bend.id], folded)
    if part.shape.is_strip and part.shape.bends:
        found |= _over_all(part, folded)
    return found | dict(_hems(part, folded)) | dict(_holes(part, folded)) | dict(_edges(part, folded))


def _leg(part: Part, leg: Leg, folded: Folded) -> Stretch | None:
    """Its own face, or of those beside its bends the one that is so long; None where no bend says which way it is
    measured."""
    bends = [next((bend for bend in part.sheet.bends if bend.id == end), None) for end in leg.ends]
    if not any(bends):
        return None
    between = set.intersection(*({bend.parent, bend.child} for bend in bends if bend))
    faces = [leg.id] if leg.id in between else sorted(between)
    share = (leg.size - leg.flat) / (sum(leg.setbacks) or 1.0)  # of setbacks, which some families give of the outside
    ends = [(bend, share * setback) for bend, setback in zip(bends, leg.setbacks, strict=True)]
    found = [_across(part.sheet.face[face], folded.frames[face], ends) for face in faces]
    return min(found, key=lambda place: abs(place.long - leg.size), default=None)


def _across(face: Face, frame: Frame, ends: Sequence[tuple[Bend | None, float]]) -> Stretch:
    """A face from bend to bend, or from its only bend to its far edge, and beyond by what the size has more there."""
    (first, taken), (second, back) = sorted(ends, key=lambda end: end[0] is None)
    outline = np.array(face.outline)
    middle, inwards = _beside(first.edge_in(face.id), outline)
    far = np.mean(second.edge_in(face.id), axis=0) if second else outline[((outline - middle) @ inwards).argmax()]
    reach = float((far - middle) @ inwards) + back
    return Stretch(*frame(np.array([middle - taken * inwards, middle + reach * inwards])))


BESIDE = 0.12
"""A size over all stands so much of the larger one off the part."""


def _over_all(part: Part, folded: Folded) -> dict[str, Stretch]:
    """Of a strip's section along the leg it lies on and square to it, in the plane of its end."""
    lies, t = folded.frames[part.strip.lies_on], folded.thickness
    bend = next(bend for bend in part.sheet.bends if part.strip.lies_on in (bend.parent, bend.child))
    ends = lies(np.array(bend.edge_in(part.strip.lies_on)))
    up, along = lies.normal, unit(cross(ends[1] - ends[0], lies.normal))
    tops = [(face.corners, np.tile(face.normal, (len(face.corners), 1))) for face in folded.faces]
    tops += [(bend.arc.reshape(-1, 3), np.repeat(bend.normals, 2, axis=0)) for bend in folded.bends]
    points = np.concatenate([side for top, normals in tops for side in (top, top - t * normals)])
    (a0, a1), (u0, u1) = ((float(seen.min()), float(seen.max())) for seen in (points @ along, points @ up))
    off, end = BESIDE * max(a1 - a0, u1 - u0), ends[0] - (ends[0] @ along) * along - (ends[0] @ up) * up

    def at(a, u):
        return end + a * along + u * up
    return {"across": Stretch(at(a0, u0 - off), at(a1, u0 - off)), "high": Stretch(at(a0 - off, u0), at(a0 - off, u1))}


def _hems(part: Part, folded: Folded) -> Iterator[tuple[str, Stretch]]:
    """From the outside of the fold to the hem's edge."""
    for hem in part.shape.hems:
        bend = next((bend for bend in part.sheet.bends if bend.child == hem.id), None)
        if bend is not None:
            face, frame = part.sheet.face[hem.id], folded.frames[hem.id]
            fold_out = hem.length - _across(face, frame, [(bend, 0.0), (None, 0.0)]).long
            yield hem.id, _across(face, frame, [(bend, fold_out), (None, 0.0)])


def _beside(edge, outline) -> tuple[np.ndarray, np.ndarray]:
    """The middle of an edge, and the unit vector from it square into the outline."""
    one, other = (np.array(point, float) for point in edge)
    middle, along = (one + other) / 2, (other - one) / np.linalg.norm(other - one)
    square = np.array([-along[1], along[0]])
    return middle, square if (outline.mean(axis=0) - middle) @ square > 0 else -square


def _corner(bend: Bend, folded: Folded) -> Corner:
    """Its apex lies midway between the tangent lines."""
    parent, child = folded.frames[bend.parent], folded.frames[bend.child]
    ends = parent(np.array(bend.parent_edge)), child(np.array(bend.child_edge))
    (near, on), (far, beyond) = ((edges.mean(axis=0), unit(cross(edges[1] - edges[0], frame.normal)))
                                 for edges, frame in zip(ends, (parent, child), strict=True))
    return Corner((near + far) / 2, on, beyond)


def _holes(part: Part, folded: Folded) -> Iterator[tuple[str, Stretch]]:
    for face in part.sheet.faces:
        for bend, edge, _ in bends_at(part, face.id):
            found = nearest_hole(face.holes, edge)
            if found is not None:
                centre = np.array(found.centre)
                foot, inwards = _beside(edge, np.array(face.outline))
                foot = centre - ((centre - foot) @ inwards + bend.figures.outside_setback) * inwards
                yield f"hole-{face.id}-{bend.id}", Stretch(*folded.frames[face.id](np.array([centre, foot])))


def _edges(part: Part, folded: Folded) -> Iterator[tuple[str, Stretch]]:
    """Finished edges of its root face."""
    for name, edge in part.shape.edges().items():
        yield name, Stretch(*folded.frames[part.sheet.root](np.array(edge, float)))

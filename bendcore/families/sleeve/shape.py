"""A sleeve: four panels round a rectangular section, closed by a seam, with flanges at its ends.

Panels are ``P1`` (across the width), ``P2`` (up the height), ``P3``, ``P4``, joined by
``B1``, ``B2``, ``B3``; the fourth corner is the seam, where the tree of faces is cut:

* *lap*: a flap ``S`` on P4 turns the corner and lies inside P1, to rivet or spot-weld;
* *butt*: P1 and P4 stand the gap apart at an open corner, to weld;
* *standing*: P4 runs on past the corner by the seam's height, and a flange ``S`` of P1 stands out
  beside it, the gap between them, to rivet, weld or fold over.

End flanges ``P1-start`` … stand on every panel of that end, all in or all out. Turned in
they are mitred on the plane that halves each corner; turned out they end square.
"""

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from ...bending.bend import APEX
from ...errors import Refusal
from ...sheet.model import Bend, Face, Hole, Sheet
from ..common import Given, make_leg, read_bend, read_size, rectangle
from ..joint import RIVET, SPOT, WELD, Joint
from ..legs import INSIDE, OUTSIDE, Leg, Run, ShapeBend
from ..mates import cap
from ..propagation import Propagation
from ..shape import Mate, Resize, Shape
from .fields import BUTT, FIELDS, LAP, SEAM, STANDING

PANELS = ("P1", "P2", "P3", "P4")
ENDS = ("start", "end")
EASE = 1.0
"""How far the flap stays back from the panel's tangent lines, mm."""


@dataclass(frozen=True)
class Sleeve(Shape):
    """A sleeve, read."""

    thickness: float
    dims: str
    width: float
    height: float
    """Outside sizes of the section, mm."""
    panels: tuple[Leg, ...]
    long: Leg
    """Along the sleeve, over its flanges."""
    corners: tuple[ShapeBend, ...]
    seam: str
    gap: float
    flap: Leg | None = None
    flap_bend: ShapeBend | None = None
    stands: float = 0.0
    """How far a standing seam stands out, mm."""
    hole: float = 0.0
    hole_count: int = 0
    flanges: dict[str, tuple[Leg, str, dict[str, ShapeBend]]] | None = None
    """By end: (leg, way, bend of every panel)."""

    kind = "sleeve"
    fields = FIELDS
    convention = APEX

    @property
    def legs(self) -> tuple[Leg, ...]:
        """Panels, length, seam and end flanges."""
        rims = [leg for leg, _, _ in (self.flanges or {}).values()]
        return (*self.panels, self.long, *([self.flap] if self.flap else []), *rims)

    @property
    def bends(self) -> tuple[ShapeBend, ...]:
        """Corners, the seam's bend, and those of every end flange."""
        rims = [bend for _, _, bends in (self.flanges or {}).values() for bend in bends.values()]
        return (*self.corners, *([self.flap_bend] if self.flap_bend else []), *rims)

    def rings(self) -> tuple[np.ndarray, np.ndarray]:
        """The section at both ends, outside."""
        x, y = self.width / 2, self.height / 2
        return tuple(np.array([[-x, -y, z], [x, -y, z], [x, y, z], [-x, y, z]]) for z in (0.0, self.long.size))

    @property
    def longest_bend(self) -> float:
        """Along the longest bend, mm."""
        return max(self.long.flat, *(p.flat for p in self.panels))

    @property
    def runs(self) -> tuple[Run, ...]:
        """Round the girth, and along the length."""
        round_legs = [p.id for p in self.panels] + ([self.flap.id] if self.flap else [])
        round_bends = [b.id for b in self.corners] + ([self.flap_bend.id] if self.flap_bend else [])
        rims = self.flanges or {}
        return (Run("girth", tuple(round_legs), tuple(round_bends)),
                Run("length", ("long", *(leg.id for leg, _, _ in rims.values())),
                    tuple(bends["P1"].id for _, _, bends in rims.values())))

    def openings(self) -> list[tuple[str, str, float]]:
        """(name, title, mm) of what is measured across the finished sleeve."""
        inner = [size - 2 * self.thickness for size in (self.width, self.height)]
        return [("width", "Width, outside", self.width), ("height", "Height, outside", self.height),
                ("diagonal-1", "Inside diagonal, seam to B2", math.hypot(*inner)),
                ("diagonal-2", "Inside diagonal, B1 to B3", math.hypot(*inner))]

    def size_error(self, name: str, errors: Propagation) -> np.ndarray | None:
        """A side moves with the panel that is bent at both its ends, a diagonal with two of them."""
        sides = [next((leg for leg in self.panels if None not in leg.ends and abs(leg.outside - size) < 1e-6), None)
                 for size in (self.width, self.height)]
        if name.startswith("diagonal"):
            return errors.diagonal(*sides) if all(sides) else None
        side = sides[name == "height"] if name in ("width", "height") else None
        return errors.leg(side, OUTSIDE) if side else None

    def resized(self) -> Iterator[Resize]:
        """Its length, and the width of its flanges."""
        yield Resize((self.long,), (("length",),), "Make the length {size}")
        for end, (leg, _, _) in (self.flanges or {}).items():
            yield Resize((leg,), ((f"{end}_flange", "width"),), f"Make the {end} flange's width {{size}}")

    def joints(self, mates: Mapping[str, int]) -> Iterator[Joint]:
        """Its seam, the corners of its flanges, its caps."""
        holed = bool(self.hole and self.hole_count)
        kind = WELD if self.seam == BUTT else RIVET if holed else SPOT
        yield Joint("seam", "seam along the sleeve", self.long.outside, kind, 1, self.hole_count if holed else None,
                    self.hole, True)
        for end, (leg, _, bends) in (self.flanges or {}).items():
            if len(bends) > 1:
                yield Joint(f"flange:{end}", f"flange corners at the {end}", leg.outside, WELD,
                            4 if len(bends) == 4 else 1)
        count = sum(n for role, n in mates.items() if role in ("cap", "plug"))
        if count:
            yield Joint("cap", "end cap round its rim", 2 * (self.width + self.height), SPOT, count)

    def mates(self) -> tuple[Mate, ...]:
        """Caps over its ends, or let in."""
        return (Mate("cap", "End cap", 2, 0.3), Mate("plug", "End cap let in", 2, 0.3))

    def mate_sizes(self) -> dict[str, float]:
        """Its section, outside."""
        return {"width": self.width, "height": self.height}

    def drawn_mate(self, role: str, sizes: Mapping[str, float], clearance: float) -> dict:
        """A cap over the end, or a plug that goes into it."""
        if role == "cap":
            return cap(sizes["width"], sizes["height"], "around", clearance)
        return cap(sizes["width"] - 2 * self.thickness, sizes["height"] - 2 * self.thickness, "into", clearance)

    def place(self, name: str) -> str:
        """The end's flanges, the seam, or the length."""
        end = next((end for end in self.flanges or {} if self._panel_of(name, end)), None)
        seam = self.flap and name in (self.flap.id, self.flap_bend.id)
        return f"{end}_flange" if end else "seam" if seam else "length"

    def _panel_of(self, name: str, end: str) -> str:
        """The panel on which the flange of this id stands at an end, if it does."""
        return next((panel for panel, bend in self.flanges[end][2].items() if bend.id == name), "")

    def short(self, name: str) -> str:
        """A panel by its number; an end's flange by its end."""
        end = next((end for end in self.flanges or {} if self._panel_of(name, end)), "")
        return end or name

    def _called(self, name: str) -> str:
        """*Panel P1*, *corner B1*, *flap of the seam*, *flange at the start, P1*."""
        for end in self.flanges or {}:
            if panel := self._panel_of(name, end):
                return f"Flange at the {end}, {panel}"
        if self.flap and name in (self.flap.id, self.flap_bend.id):
            return "Flap of the seam"
        return f"Corner {name}" if name in {bend.id for bend in self.corners} else f"Panel {name}"

    def _sheet(self) -> Sheet:
        """Panels in a row, the flap after the last, a flange at each end of each."""
        long, faces, joints = self.long.flat, [], []
        for i, panel in enumerate(self.panels):
            faces.append(Face(panel.id, rectangle(panel.flat, long)))
            if i:
                before = self.panels[i - 1]
                joints.append(_joint(self.corners[i - 1], before.id, panel.id, before.flat, (0.0, long)))
        if self.flap:
            span = (EASE, long - EASE)
            faces.append(Face("S", rectangle(self.flap.flat, span[1] - span[0]), self._rivets(span)))
            joints.append(self._standing(span) if self.stands else
                          _joint(self.flap_bend, "P4", "S", self.panels[3].flat, span))
        for end in self.flanges or {}:
            for i in range(len(self.panels)):
                face, joint = self._rim(i, end)
                faces.append(face)
                joints.append(joint)
        return Sheet(self.thickness, "P1", tuple(faces), tuple(joints))

    def _standing(self, span) -> Bend:
        """The seam's flange on P1's first edge, which counter-clockwise runs backwards."""
        (low, high), flat, long = span, self.flap.flat, span[1] - span[0]
        return Bend(self.flap_bend.id, "P1", "S", ((0.0, high), (0.0, low)), ((flat, long), (flat, 0.0)),
                    self.flap_bend.direction, self.flap_bend.figures)

    def _rim(self, i, end) -> tuple[Face, Bend]:
        """One panel's end flange. x runs along the panel; the far end is walked the other way."""
        panel, (leg, way, bends) = self.panels[i], self.flanges[end]
        bend = bends[panel.id]
        low, high = (self._limit(i, side, way, bend, leg.flat) for side in (0, 1))
        at = 0.0 if end == "start" else self.long.flat
        near = [low[0], panel.flat - high[0]]
        far = [low[1], panel.flat - high[1]]
        if near[1] - near[0] <= 1e-6 or far[1] - far[0] <= 1e-6:
            raise Refusal(f"{end}_flange.width", f"is so wide that its mitres meet on {panel.id}: make it narrower")
        if end == "end":  # counter-clockwise the far edge runs backwards
            near, far = [panel.flat - x for x in near[::-1]], [panel.flat - x for x in far[::-1]]
            edge = ((panel.flat - near[0], at), (panel.flat - near[1], at))
        else:
            edge = ((near[0], at), (near[1], at))
        face = Face(bend.id, ((0.0, near[0]), (leg.flat, far[0]), (leg.flat, far[1]), (0.0, near[1])))
        return face, Bend(bend.id, panel.id, bend.id, edge, ((0.0, near[0]), (0.0, near[1])), bend.direction,
                          bend.figures)

    def _limit(self, i, side, way, bend, flat) -> tuple[float, float]:
        """How far a flange stays back from its panel's end, at its tangent line and at its edge."""
        half = self.gap / math.sqrt(2)
        free = (i == 0 and side == 0) or (i == 3 and side == 1)
        if way == "out":
            back = 0.0
            if free and i == 0 and self.seam == LAP:
                back = self.thickness  # P1's edge stands over P4
            if free and i == 3:
                back = self.stands  # what runs past the corner has no rim
            return back, back
        # the neighbour's inner face, from the panel's own tangent line or free edge, outwards
        if not free:
            plane = self.corners[i - 1 if side == 0 else i].figures.inside_setback
        elif self.seam == BUTT:
            plane = half
        elif self.seam == STANDING:
            plane = -self.stands - self.thickness if i else (
                self.flap_bend.figures.inside_setback + self.thickness + self.gap)
        elif i == 0:
            plane = -self.thickness
        else:
            plane = self.flap_bend.figures.outside_setback
        inner = bend.figures.inside_setback
        start = max(0.0, inner + half - plane)
        return start, max(start, inner + flat + half - plane)

    def _rivets(self, span) -> tuple[Hole, ...]:
        if not self.hole:
            return ()
        long = span[1] - span[0]
        return tuple(Hole((self.flap.flat / 2, long * (n + 0.5) / self.hole_count), self.hole, path="seam.hole")
                     for n in range(self.hole_count))


def _joint(bend, parent, child, at, span) -> Bend:
    low, high = span
    return Bend(bend.id, parent, child, ((at, low), (at, high)), ((0.0, 0.0), (0.0, high - low)), bend.direction,
                bend.figures)


def read_sleeve(shape: dict, given: Given) -> Sleeve:
    """A sleeve from the part file's ``shape``; refusals name the field below ``shape``."""
    t, length, dims, seam_block = given.thickness, given.length, shape.get("dims", OUTSIDE), shape.get("seam", {})
    sizes = {}
    for key in ("width", "height"):
        size, how = read_size(shape[key], key, length, dims)
        sizes[key] = size + (2 * t if how == INSIDE else 0.0)
    seam, gap = seam_block.get("kind", BUTT), SEAM.mm(seam_block, "gap", "seam", length)
    for key in sorted(key for key in seam_block if not SEAM.fields["kind"].bears(key, seam)):
        raise Refusal(f"seam.{key}", f"does not belong to a {seam} seam")
    corners = tuple(read_bend(f"B{n}", {}, "up", "inside_radius", given, 90) for n in (1, 2, 3))
    flap = flap_bend = None
    loss = t + gap / math.sqrt(2)
    cut, stands = {"P1": loss, "P4": loss}, 0.0
    if seam == LAP:
        if "lap" not in seam_block:
            raise Refusal("seam.lap", "is missing: give the width of the flap")
        flap_bend = read_bend("BS", {}, "up", "seam", given, 90)
        flap = make_leg("S", SEAM.mm(seam_block, "lap", "seam", length), OUTSIDE, (flap_bend, None), "seam.lap")
        cut = {"P1": 0.0, "P4": t}  # the flap lies inside P1
    if seam == STANDING:
        if "height" not in seam_block:
            raise Refusal("seam.height", "is missing: give how far the seam stands out")
        stands = SEAM.mm(seam_block, "height", "seam", length)
        flap_bend = read_bend("BS", {}, "down", "seam", given, 90)
        flap = make_leg("S", stands, INSIDE, (flap_bend, None), "seam.height")
        cut = {"P1": t + gap, "P4": -stands}
    hole = length(seam_block.get("hole", 0), "seam.hole")
    if hole < 0 or (flap and hole >= flap.flat):
        raise Refusal("seam.hole", "must be less than the flap's flat, or 0 for none")
    ends = [(flap_bend if stands else None, corners[0]), (corners[0], corners[1]), (corners[1], corners[2]),
            (corners[2], None if stands else flap_bend)]
    panels = tuple(
        make_leg(name, sizes[key] - cut.get(name, 0.0), OUTSIDE, pair, key)
        for name, key, pair in zip(PANELS, ("width", "height", "width", "height"), ends, strict=True))
    flanges = _read_flanges(shape, given)
    rims = tuple(flanges[end][2]["P1"] if end in flanges else None for end in ENDS)
    long = make_leg("long", FIELDS.mm(shape, "length", "", length), OUTSIDE, rims, "length")
    sleeve = Sleeve(t, dims, sizes["width"], sizes["height"], panels, long, corners, seam, gap, flap, flap_bend, stands,
                    hole, seam_block.get("holes", 3), flanges)
    sleeve.sheet()  # refuses flanges whose mitres meet
    return sleeve


def _read_flanges(shape, given) -> dict:
    found = {}
    for end in ENDS:
        block = shape.get(f"{end}_flange")
        if not block:
            continue
        path, way = f"{end}_flange", block["direction"]
        bends = {name: read_bend(f"{name}-{end}", block, "up" if way == "in" else "down", path, given, 90)
                 for name in PANELS}
        if abs(bends["P1"].figures.angle - 90) > 1e-9:
            raise Refusal(f"{path}.angle", "must be 90: the flanges of an end lie in one plane")
        size = FIELDS.fields[path].mm(block, "width", path, given.length)
        # measured from the sleeve's outer face: of flanges turned out that is the bend's inside
        dims = OUTSIDE if way == "in" else INSIDE
        found[end] = (make_leg(f"{end}-flange", size, dims, (bends["P1"], None), f"{path}.width"), way, bends)
    return found

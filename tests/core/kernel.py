"""Solids made for the tests by the kernel's own means: boxes joined and cut, their edges rounded. Nothing of Dorvan."""

import random
import tempfile
from dataclasses import dataclass
from pathlib import Path

import numpy as np


def box(low, high):
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox
    from OCP.gp import gp_Pnt

    return BRepPrimAPI_MakeBox(gp_Pnt(*map(float, low)), gp_Pnt(*map(float, high))).Shape()


def rod(at, way, radius, long):
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeCylinder
    from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt

    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(*map(float, at)), gp_Dir(*map(float, way))), radius, long).Shape()


def joined(*pieces):
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Fuse

    whole = pieces[0]
    for piece in pieces[1:]:
        whole = BRepAlgoAPI_Fuse(whole, piece).Shape()
    return unified(whole)


def cut(body, *tools):
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut

    for tool in tools:
        body = BRepAlgoAPI_Cut(body, tool).Shape()
    return body


def unified(body):
    from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain

    upgrade = ShapeUpgrade_UnifySameDomain(body, True, True, False)
    upgrade.Build()
    return upgrade.Shape()


def edges(body):
    """(edge, its two ends) of every straight edge."""
    from OCP.BRepAdaptor import BRepAdaptor_Curve
    from OCP.GeomAbs import GeomAbs_CurveType
    from OCP.TopAbs import TopAbs_ShapeEnum
    from OCP.TopExp import TopExp_Explorer
    from OCP.TopoDS import TopoDS

    explorer, seen = TopExp_Explorer(body, TopAbs_ShapeEnum.TopAbs_EDGE), set()
    while explorer.More():
        edge = TopoDS.Edge(explorer.Current())
        if hash(edge) not in seen:
            seen.add(hash(edge))
            curve = BRepAdaptor_Curve(edge)
            if curve.GetType() == GeomAbs_CurveType.GeomAbs_Line:
                ends = [curve.Value(p) for p in (curve.FirstParameter(), curve.LastParameter())]
                yield edge, np.array([[p.X(), p.Y(), p.Z()] for p in ends])
        explorer.Next()


def rounded(body, wanted):
    """The body with edges rounded: ``wanted`` gives (a point on the edge's middle, radius) pairs."""
    from OCP.BRepFilletAPI import BRepFilletAPI_MakeFillet

    maker, found = BRepFilletAPI_MakeFillet(body), 0
    for edge, (a, b) in edges(body):
        for at, radius in wanted:
            long = np.linalg.norm(b - a)
            share = float((np.array(at) - a) @ (b - a)) / long ** 2
            if 0.01 < share < 0.99 and np.linalg.norm(a + share * (b - a) - at) < 1e-6:
                maker.Add(radius, edge)
                found += 1
    assert found == len(wanted), (found, len(wanted))
    return maker.Shape()


def as_step(*bodies) -> bytes:
    from OCP.STEPControl import STEPControl_StepModelType, STEPControl_Writer

    from bendcore.solids.kernel import be_quiet

    be_quiet()
    writer = STEPControl_Writer()
    for body in bodies:
        writer.Transfer(body, STEPControl_StepModelType.STEPControl_AsIs)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "made.step"
        writer.Write(str(path))
        return path.read_bytes()


@dataclass
class Bracket:
    """A base of ``length`` × ``width`` with flanges: (side, height, start, end, up, lip) each; reliefs so wide beside
    those that leave something free, holes (x, y, diameter). ``slots`` are (x, y, length, width), along x."""

    length: float
    width: float
    thickness: float
    radius: float
    flanges: list[tuple]
    holes: list[tuple]
    slots: list[tuple]
    relief: float

    def solid(self):
        """Made of boxes, each flange's inner edge rounded by the radius, its outer one by a thickness more."""
        t, r, wanted, cuts, pieces = self.thickness, self.radius, [], [], [box((0, 0, 0), (self.length, self.width,
                                                                                          self.thickness))]
        for side, height, start, end, up, lip in self.flanges:
            long = (self.width, self.length, self.width, self.length)[side]
            z = (0, height) if up else (t - height, t)
            pieces.append(self._on(side, (0, start, z[0]), (t, long - end, z[1])))
            inner, outer = (t, 0) if up else (0, t)
            middle = (start + long - end) / 2
            wanted += [(self._at(side, (t, middle, inner)), r), (self._at(side, (0, middle, outer)), r + t)]
            if lip:
                top = (height - t, height) if up else (t - height, 2 * t - height)
                pieces.append(self._on(side, (t - lip, start, top[0]), (t, long - end, top[1])))
                wanted += [(self._at(side, (0, middle, top[0] if up else top[1])), r),
                           (self._at(side, (t, middle, top[1] if up else top[0])), r + t)]
            for low, free in ((start - self.relief, start), (long - end, end)):
                if free:
                    cuts.append(self._on(side, (-1, low, -200), (r + t + 1, low + self.relief, 200)))
        cuts += [rod((x, y, -1), (0, 0, 1), d / 2, t + 2) for x, y, d in self.holes]
        for x, y, long, wide in self.slots:
            cuts += [box((x - long / 2 + wide / 2, y - wide / 2, -1), (x + long / 2 - wide / 2, y + wide / 2, t + 1)),
                     *(rod((x + way * (long - wide) / 2, y, -1), (0, 0, 1), wide / 2, t + 2) for way in (-1, 1))]
        return rounded(cut(joined(*pieces), *cuts), wanted)

    def _at(self, side, place):
        """(in from the outside of a side, along it, up) in space; sides 0 left, 1 front, 2 right, 3 back."""
        u, v, z = place
        return ((u, v, z), (v, u, z), (self.length - u, v, z), (v, self.width - u, z))[side]

    def _on(self, side, low, high):
        corners = np.array([self._at(side, low), self._at(side, high)])
        return box(corners.min(axis=0), corners.max(axis=0))

    def blank(self, k: float) -> tuple[float, float, float]:
        """(length, width, area) of the blank, by plain arithmetic."""
        t, r = self.thickness, self.radius
        deduction = 2 * (r + t) - 3.141592653589793 / 2 * (r + k * t)
        grown, area = [0.0] * 4, self.length * self.width
        for side, height, start, end, _, lip in self.flanges:
            long = (self.width, self.length, self.width, self.length)[side] - start - end
            out = height - deduction + (lip - deduction if lip else 0)
            grown[side] = out
            area += long * out - self.relief * (r + t + 1) * (bool(start) + bool(end))
        area -= sum(3.141592653589793 * d ** 2 / 4 for *_, d in self.holes)
        area -= sum((long - wide) * wide + 3.141592653589793 * wide ** 2 / 4 for *_, long, wide in self.slots)
        return self.length + grown[0] + grown[2], self.width + grown[1] + grown[3], area


def sound_bracket(rng: random.Random) -> tuple[Bracket, object]:
    """One that can be bent, and its solid as the kernel can round it: now and then it makes a body that is none."""
    from OCP.BRepCheck import BRepCheck_Analyzer

    while True:
        bracket = random_bracket(rng)
        body = bracket.solid()
        if BRepCheck_Analyzer(body).IsValid():
            return bracket, body


def random_bracket(rng: random.Random) -> Bracket:
    """Flanges that meet at a corner leave it free, each by a relief and what the other takes."""
    t = rng.choice([0.8, 1.0, 1.5, 2.0, 3.0])
    r, relief = round(t * rng.uniform(0.5, 2), 2), round(t + rng.uniform(0.5, 2), 2)
    sides, free, flanges = rng.sample(range(4), rng.randint(1, 4)), round(r + t + relief + 1.5, 2), []
    for side in sides:
        start, end = (free if beside in sides or rng.random() < 0.3 else 0
                      for beside in ((1, 3), (0, 2), (1, 3), (0, 2))[side])
        lip = rng.choice([0, 0, round(3 * (r + t) + rng.uniform(1, 6), 2)])
        height = round(3 * (r + t) * (2 if lip else 1) + rng.uniform(4, 30), 2)
        flanges.append((side, height, start, end, rng.random() < 0.7, lip))
    length, width = round(rng.uniform(120, 220), 2), round(rng.uniform(90, 160), 2)
    holes = [(round(length * rng.uniform(0.3, 0.45), 2), round(width * rng.uniform(0.3, 0.7), 2),
              rng.choice([3, 5, 8]))]
    slots = [(round(length * 0.65, 2), round(width * 0.5, 2), 22, 6)] if rng.random() < 0.5 else []
    return Bracket(length, width, t, r, flanges, holes, slots, relief)

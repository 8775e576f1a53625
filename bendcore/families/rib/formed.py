"""A rib as it is formed: its blank in small pieces, each corner carried to where the hammer brings it.

Web, bend zones, flats and flutes are cut along the same lines, so that every edge inside belongs to two pieces and the
whole is one closed solid.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from mapbox_earcut import triangulate_float64
from shapely import MultiLineString, Polygon, STRtree

from ...develop.curves import Edge
from ...sheet.model import Point
from ...sheet.solid import BENEATH, TOP, Mesh
from .blank import Blank, Strip
from .flutes import Flute

ZONE_DEGREES = 15.0
APART = 0.02
"""Lines across a flange lie no nearer to each other, mm."""
FEWEST, UP = 8, 6
"""A flute is drawn in at least so many steps across, and its flange in one up for so many of them."""
SAME = 6
GRID = 1e-6
"""Lines are cut on this grid, mm."""
"""Corners alike to so many decimals of a mm are one."""
WEB = "web"
QUAD = np.array([[0, 1, 2], [0, 2, 3]])


@dataclass(frozen=True)
class Formed:
    """Carries points of the blank to the formed part."""

    plan: Blank
    flutes: Sequence[Flute]
    thickness: float
    down: bool

    def carried(self, points: np.ndarray, edge: Edge, strip: Strip, depth: float) -> np.ndarray:
        """(n, 3) of points (n, 2) that lie in a strip, ``depth`` thicknesses from the inner face."""
        section = strip.section
        shares = np.array([edge.where(tuple(p)) for p in points])
        feet = np.array([edge.at(s) for s in shares])
        outward = np.array([edge.outward(s) for s in shares])
        far = ((points - feet) * outward).sum(axis=1) + section.setback
        x, z = section.at(far, depth)
        sunk = self._sunk(shares, np.maximum(far - section.figures.allowance, 0) / section.flat, edge)
        angle = math.radians(section.figures.angle)
        x, z = x - sunk * math.sin(angle), z + sunk * math.cos(angle)
        return np.column_stack([feet + outward * x[:, None], z])

    def _sunk(self, shares, high, edge) -> np.ndarray:
        """How far flutes lay points inwards, ``high`` of the flange's flat up it."""
        deep = np.zeros(len(shares))
        for flute in self.flutes:
            if flute.edge == edge:
                off = np.abs(shares - flute.share) * edge.length / np.maximum(flute.width * high, 1e-9)
                deep += np.where(off < 0.5, flute.depth * high / 2 * (1 + np.cos(2 * math.pi * off)), 0)
        return deep

    def mesh(self, holes: Sequence[Sequence[Point]]) -> Mesh:
        """The whole as a closed solid; web and flanges are owners of their triangles."""
        flat, homes, triangles, owner = self._triangles(self.plan.pieces[0], holes)
        top, bottom = (self._placed(flat, homes, depth) for depth in (0.0, 1.0))
        rim = _rim(triangles)
        walls = [np.stack([bottom[rim[:, 0]], bottom[rim[:, 1]], top[rim[:, 1]]], axis=1),
                 np.stack([bottom[rim[:, 0]], top[rim[:, 1]], top[rim[:, 0]]], axis=1)]
        found, owners, sides = [], [], []
        for name in sorted(set(owner.tolist())):
            own = triangles[owner == name]
            layers = [top[own], bottom[own[:, ::-1]]]  # hammered down, the sheet's top is the one that lies beneath
            found.append(np.concatenate(layers[::-1] if self.down else layers))
            sides.append(np.repeat([TOP, BENEATH], len(own)))
            owners.append((f"flange {name + 1}" if name < len(self.plan.strips) else WEB, len(found[-1])))
        solid = np.concatenate([*found, *walls])
        lines = np.concatenate([np.stack([side[rim[:, 0]], side[rim[:, 1]]], axis=1) for side in (top, bottom)])
        if self.down:
            mirror = np.array([1.0, 1.0, -1.0])
            solid, lines = ((part * mirror - [0, 0, self.thickness]) for part in (solid, lines))
            solid = solid[:, ::-1]
        sides.append(np.zeros(2 * len(rim)))
        return Mesh(solid, lines, (*owners, ("", 2 * len(rim))), frozenset({WEB}),
                    np.concatenate(sides).astype(np.int8))

    def _placed(self, flat: np.ndarray, homes: np.ndarray, depth: float) -> np.ndarray:
        """Every corner where it comes to stand, those of one edge together."""
        placed = np.column_stack([flat, np.full(len(flat), -depth * self.thickness)])
        for n, (strip, edge) in enumerate(self._edges()):
            own = homes == n
            if own.any():
                placed[own] = self.carried(flat[own], edge, strip, depth)
        return placed

    @property
    def _drawn(self) -> tuple[int, int]:
        """(steps across a flute, steps up its flange): so many that the chords of the deepest lie on its crest within
        the plan's own ``fine``, where its curvature is 2π²·depth/width²."""
        deep = max((flute.depth for flute in self.flutes), default=0.0)
        across = max(FEWEST, 2 * math.ceil(math.pi / 4 * math.sqrt(deep / self.plan.fine)))
        return across, round(across / UP)

    def _edges(self) -> list[tuple[Strip, Edge]]:
        return [(strip, edge) for strip in self.plan.strips for _, edge in strip.edges]

    def _triangles(self, body: Polygon, holes):
        """(corners of the blank, the edge each belongs to or how many there are of the web's, triangles, the strip each
        belongs to or how many there are)."""
        cells = shapely.get_parts(shapely.polygonize(shapely.get_parts(self._cut(body))))
        at = shapely.point_on_surface(cells)
        cells, at = (part[shapely.covers(body, at)] for part in (cells, at))
        bands, strips = self._bands()
        web = shapely.covers(self.plan.web, at)
        home = np.where(web, len(bands), STRtree(bands).nearest(at))
        if holes:
            cells[web] = shapely.difference(cells[web], shapely.union_all([Polygon(ring) for ring in holes]))
        flat, corners, homes = [], [], []
        for cell, own in zip(cells.tolist(), home.tolist(), strict=True):
            rings = [np.array(ring.coords[:-1]) for ring in (cell.exterior, *cell.interiors)]
            points = np.concatenate(rings)
            found = QUAD if len(points) == 4 else triangulate_float64(
                points, np.cumsum([len(r) for r in rings]).astype(np.uint32)).reshape(-1, 3)
            corners.append(found + len(flat))
            flat.extend(points)
            homes.append(own)
        flat, triangles = np.array(flat), np.concatenate(corners)
        counts = [len(rows) for rows in corners]
        a, b, c = (flat[triangles[:, i]].T for i in range(3))
        areas = np.add.reduceat((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]),
                                np.cumsum([0, *counts[:-1]]))
        right = np.repeat(areas < 0, counts)  # a cell as a whole: one of its triangles may have no area
        triangles[right] = triangles[right][:, ::-1]
        of_cell = np.repeat(homes, counts)
        _, first, same = np.unique(np.round(flat, SAME), axis=0, return_index=True, return_inverse=True)
        own = np.full(len(first), len(bands))
        np.minimum.at(own, same[triangles].ravel(), np.repeat(of_cell, 3))
        triangles = same.reshape(-1)[triangles]
        sound = (triangles != np.roll(triangles, 1, axis=1)).all(axis=1)
        owner = np.array([*strips, len(self.plan.strips)])[of_cell]
        return flat[first], own, triangles[sound], owner[sound]

    def _cut(self, body: Polygon):
        """Every line along which the blank is cut in pieces, and its outline."""
        lines = []
        for strip in self.plan.strips:
            section = strip.section
            steps = max(2, math.ceil(section.figures.angle / ZONE_DEGREES))
            up = self._drawn[1]
            levels = [section.figures.allowance * n / steps - section.setback for n in range(steps + 1)]
            levels += [levels[-1] + section.flat * n / up for n in range(1, up) if self.flutes]
            lines += [strip.line(level) for level in (*levels, section.reach)]
        for strip, edge in self._edges():
            low, high = edge.offset(-strip.section.setback), edge.offset(strip.section.reach)
            lines += [[low.at(share), high.at(share)] for share in self._shares(edge, strip.section.reach)]
        return shapely.union_all([MultiLineString(lines), body.boundary], grid_size=GRID)

    def _bands(self) -> tuple[list[Polygon], list[int]]:
        """What every edge's flange is hammered up from, and the strip it belongs to."""
        bands, strips = [], []
        for i, strip in enumerate(self.plan.strips):
            bands += strip.bands()
            strips += [i] * len(strip.edges)
        return bands, strips

    def _shares(self, edge: Edge, widest: float) -> list[float]:
        ripple = self._drawn[0]
        extra = [flute.share + flute.width / edge.length * n / ripple for flute in self.flutes if flute.edge == edge
                 for n in range(-ripple // 2, ripple // 2 + 1)]
        own = np.array(edge.shares(widest, self.plan.fine))
        return sorted([*own, *(s for s in extra if 0 < s < 1 and np.abs(own - s).min() * edge.length > APART)])


def _rim(triangles: np.ndarray) -> np.ndarray:
    """Edges that belong to one triangle only, in its direction."""
    edges = np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]])
    have = set(map(tuple, edges.tolist()))
    return np.array([edge for edge in edges.tolist() if (edge[1], edge[0]) not in have])


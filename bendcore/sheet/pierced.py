"""A bend's zone with openings across it, as part of a solid.

The zone is laid flat, u along and v across, parted at the lines between its facets; each piece is cut into triangles
there and carried onto its facet, which is plane. Along the tangent lines it has the ends that the faces have.
"""

import numpy as np
from mapbox_earcut import triangulate_float64
from shapely import LineString, Polygon, box, union_all

from .fold import FoldedBend

ON_LINE = 1e-7
"""An edge so near to a line between facets lies on it, mm."""


def joined_along(bend: FoldedBend, row: int) -> list[tuple[np.ndarray, np.ndarray]]:
    """The stretches of a tangent line (``row`` 0 the parent's, −1 the child's) at which the zone hangs on its face."""
    start, end = bend.arc[row]
    if not bend.openings:
        return [(start, end)]
    long, v = float(np.linalg.norm(end - start)), 0.0 if row == 0 else bend.allowance
    line = LineString([(0.0, v), (long, v)])
    left = line - union_all([Polygon(ring).buffer(1e-9, join_style="mitre") for ring in bend.openings])
    pieces = [piece for piece in getattr(left, "geoms", [left]) if piece.length > 1e-6]
    spans = sorted(sorted(u for u, _ in piece.coords) for piece in pieces)
    return [(start + (end - start) * low / long, start + (end - start) * high / long) for low, high in spans]


def pierced(bend: FoldedBend, thickness: float) -> tuple[list[np.ndarray], np.ndarray]:
    """(triangles of the zone with its thickness, counter-clockwise seen from outside: on the sheet's top, beneath, at
    its edges; the lines along its rim)."""
    steps, long = len(bend.arc) - 1, float(np.linalg.norm(bend.arc[0, 1] - bend.arc[0, 0]))
    rows = bend.allowance * np.arange(steps + 1) / steps
    left = box(0.0, 0.0, long, bend.allowance) - union_all([Polygon(ring) for ring in bend.openings])
    layers = bend.arc, bend.arc - thickness * bend.normals[:, None, :]
    tops, beneath, walls, lines = [], [], [], []
    for k in range(steps):
        strip = left & box(-1.0, rows[k], long + 1.0, rows[k + 1])
        for piece in (p for p in getattr(strip, "geoms", [strip]) if p.geom_type == "Polygon" and p.area > 1e-12):
            piece = piece if piece.exterior.is_ccw else piece.reverse()
            rings = [np.array(ring.coords[:-1]) for ring in (piece.exterior, *piece.interiors)]
            plane = np.concatenate(rings)
            top, under = (_carried(plane, layer[k:k + 2], rows[k:k + 2], long) for layer in layers)
            ends = np.cumsum([len(ring) for ring in rings]).astype(np.uint32)
            found = triangulate_float64(plane, ends).reshape(-1, 3).astype(int)
            one, other = (plane[found[:, i]] - plane[found[:, 0]] for i in (1, 2))
            turned = one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0] < 0
            found[turned] = found[turned, ::-1]
            tops.append(top[found[:, ::-1]])
            beneath.append(under[found])
            begin = 0
            for ring in rings:
                index = np.arange(begin, begin + len(ring))
                begin += len(ring)
                after = np.roll(index, -1)
                v, w = plane[index, 1], plane[after, 1]
                between = np.zeros(len(index), bool)
                for row in rows[k:k + 2]:
                    between |= (np.abs(v - row) < ON_LINE) & (np.abs(w - row) < ON_LINE)
                p, q = index[~between], after[~between]
                walls += [np.stack([top[q], under[q], under[p]], axis=1),
                          np.stack([top[q], under[p], top[p]], axis=1)]
                lines += [np.stack([layer[p], layer[q]], axis=1) for layer in (top, under)]
    return [np.concatenate(layer) for layer in (tops, beneath, walls)], np.concatenate(lines)


def _carried(plane: np.ndarray, rows: np.ndarray, at: np.ndarray, long: float) -> np.ndarray:
    """Points (u, v) of a facet onto it: between its two lines, each along its length."""
    u, v = plane[:, 0] / long, (plane[:, 1] - at[0]) / (at[1] - at[0])
    near, far = (row[0] + (row[1] - row[0]) * u[:, None] for row in rows)
    return near + (far - near) * v[:, None]

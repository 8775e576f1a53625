"""A judge of flats and folds that shares no code with what it judges.

It takes the flat and fold results alone: cuts the blank along the tangent lines, asks that every
line is borne by a piece on either side over its whole length, that pieces and zones are all
the metal there is, and turns the pieces about the bends with matrices of its own to see whether
every face of the fold result lies where it comes to lie.
"""

import math
from collections import defaultdict

import numpy as np
import shapely
from shapely import LineString, Polygon

HANGS, SHORTEST, PLACE, SLIVER = 0.06, 0.01, 0.03, 0.01


def faults(flat: dict, folded: dict, thickness: float) -> list[str]:
    """What is wrong with a part's results in mm; empty when nothing is."""
    found = []
    outline = Polygon(flat["outline"])
    if not outline.is_valid:
        return ["the outline crosses itself"]
    corners = flat["outline"]
    if min(math.dist(a, b) for a, b in zip(corners, corners[1:] + corners[:1], strict=True)) < SHORTEST:
        found.append("an edge too short to cut")
    holes = [Polygon(h) if isinstance(h, list) else shapely.Point(h["centre"]).buffer(h["diameter"] / 2)
             for h in flat["holes"]]
    if any(a.distance(b) < 1e-3 for i, a in enumerate(holes) for b in holes[:i]):
        found.append("holes on each other")
    if any(not outline.contains(h) for h in holes):
        found.append("a hole off the blank")
    zones = {b["id"]: Polygon([*b["tangents"][0], *b["tangents"][1][::-1]]).convex_hull for b in flat["bends"]}
    if any(h.intersects(z) for h in holes for z in zones.values()):
        found.append("a hole in a bend")
    rest = outline - shapely.union_all([z.buffer(1e-6, join_style="mitre") for z in zones.values()])
    for size in (-SLIVER, SLIVER):
        rest = rest.buffer(size, join_style="mitre", mitre_limit=100)
    pieces = list(getattr(rest, "geoms", [rest]))
    if len(pieces) != len(zones) + 1:
        return [*found, f"{len(pieces)} pieces for {len(zones)} bends"]
    beside = {}
    for b in flat["bends"]:
        sides = []
        for line in b["tangents"]:
            line = LineString(line)
            near = [line.intersection(p.buffer(1e-3)).length for p in pieces]
            sides.append(int(np.argmax(near)))
            if line.length - max(near) > HANGS:
                found.append(f"{b['id']} hangs on nothing for {line.length - max(near):.3f}")
        beside[b["id"]] = sides
    metal = sum(p.area for p in pieces) + sum(z.area for z in zones.values())
    if abs(metal - outline.area) > 1e-4 * outline.area:
        found.append("metal lost or counted twice")
    return found + _folded(flat, folded, thickness, pieces, beside)


def _folded(flat, folded, thickness, pieces, beside) -> list[str]:
    places = {0: None}
    root = folded["faces"][0]
    start = _same_area(root, pieces)
    if start is None:
        return ["no piece is the root face"]
    places, waiting = {start: np.eye(4)}, [start]
    bends = {b["id"]: b for b in flat["bends"]}
    joined = defaultdict(list)
    for name, (one, other) in beside.items():
        joined[one].append((name, other, 0))
        joined[other].append((name, one, 1))
    while waiting:
        piece = waiting.pop()
        for name, other, side in joined[piece]:
            if other not in places:
                places[other] = places[piece] @ _turned(bends[name], side, thickness)
                waiting.append(other)
    if len(places) != len(pieces):
        return ["the pieces do not hang together"]
    shift = np.array(root["corners"][0])
    clouds = {}
    for i, piece in enumerate(pieces):
        flat_points = np.array([(x, y, 0, 1) for x, y in piece.exterior.coords[:-1]])
        clouds[i] = (places[i] @ flat_points.T).T[:, :3]
    # the fold keeps the root where it lies in the blank
    off = shift - clouds[start][np.linalg.norm(clouds[start] - shift, axis=1).argmin()]
    found = []
    for face in folded["faces"]:
        points = np.array(face["corners"])
        apart = min(max(_off(points, cloud + off), _off(cloud + off, points)) for cloud in clouds.values())
        if apart > PLACE:
            found.append(f"{face['id']} lies {apart:.3f} from where it folds to")
    return found


def _off(points, ring) -> float:
    """How far the farthest of the points lies from a ring's edges."""
    along = np.roll(ring, -1, axis=0) - ring
    far = points[:, None] - ring[None]
    share = np.clip((far * along).sum(axis=2) / (along * along).sum(axis=1), 0, 1)
    return float(np.linalg.norm(far - share[..., None] * along, axis=2).min(axis=1).max())


def _same_area(face, pieces):
    corners = np.array(face["corners"])[:, :2]
    shape = Polygon(corners)
    near = [i for i, p in enumerate(pieces) if p.symmetric_difference(shape).area < 0.05 * p.area + 1]
    return near[0] if near else None


def _turned(bend, side, t) -> np.ndarray:
    """The motion of what lies beyond a bend, seen from the piece on ``side`` of it: back over the zone's width,
    round the axis above (up) or below (down) it, by the angle."""
    near, far = bend["tangents"][side], bend["tangents"][1 - side]
    along = np.subtract(near[1], near[0]) / math.dist(*near)
    out = np.array([-along[1], along[0]])
    if out @ np.subtract(far[0], near[0]) < 0:
        out = -out
    wide = float(out @ np.subtract(far[0], near[0]))
    up = 1.0 if bend["direction"] == "up" else -1.0
    angle = math.radians(bend["angle"])
    radius = bend["inside_radius"] + (0.0 if up > 0 else t)
    u, n = np.array([*out, 0.0]), np.array([0.0, 0.0, up])
    p = np.array([*near[0], 0.0])
    flat_back = _shift(-wide * u)
    axis = np.cross(u, n)  # turning by it brings u towards n
    centre = p + radius * n
    k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    spin = np.eye(4)
    spin[:3, :3] = np.eye(3) + math.sin(angle) * k + (1 - math.cos(angle)) * k @ k
    return _shift(centre) @ spin @ _shift(-centre) @ flat_back


def _shift(by) -> np.ndarray:
    moved = np.eye(4)
    moved[:3, 3] = by
    return moved

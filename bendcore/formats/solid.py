"""The folded part as a solid mesh for others: STL in millimetres, glTF in metres with y up."""

from collections import defaultdict

import numpy as np
import trimesh

from ..part import Part

Y_UP = np.array([[1, 0, 0], [0, 0, 1], [0, -1, 0]], float)
"""Rows take (x, y, z up) to glTF's (x, y up, z)."""
FACET = 2.0
"""Degrees to a facet of a bend: its metal is lost to a 5,000th."""
PLACES = 4
"""Decimals of a corner's place in mm: finer, the single precision of an STL does not tell."""
MOST_AT_EDGE = 12
"""Triangles that meet at an edge where a part touches itself."""
APART = 2e-4
"""Where a part touches itself, corners that coincide are drawn back so far, mm: a file that tells corners by their
place alone would join what only touches. More where the part is so large that single precision asks it."""


def folded_mesh(part: Part) -> trimesh.Trimesh:
    """Faces and true arcs with their thickness as one closed solid, in mm, z up."""
    corners = np.round(part.formed(FACET).triangles.reshape(-1, 3), PLACES)
    solid = trimesh.Trimesh(corners, np.arange(len(corners)).reshape(-1, 3), process=True)
    a, b, c = solid.faces.T
    solid.update_faces((a != b) & (b != c) & (c != a))  # what is narrower than a corner's place is told
    return solid if solid.is_watertight else _parted(solid)


def _parted(solid: trimesh.Trimesh) -> trimesh.Trimesh:
    """The same solid, its corners that coincide where it touches itself drawn back into the metal. At an edge of
    four triangles and more each is taken together with the next one round the edge on its inner side."""
    faces, points = solid.faces.copy(), solid.vertices.view(np.ndarray).copy()
    at_edge: dict[tuple, list] = defaultdict(list)
    for n, triangle in enumerate(faces.tolist()):
        for i in range(3):
            at_edge[tuple(sorted((triangle[i], triangle[i - 1])))].append(n)
    if max(map(len, at_edge.values())) > MOST_AT_EDGE:
        return solid  # it runs into itself over and over, which is told as a clash
    beside: dict[tuple, set] = defaultdict(set)  # (corner, triangle) → triangles next to it round the corner
    for edge, found in at_edge.items():
        for one, other in _together(edge, found, faces, points):
            for corner in edge:
                beside[corner, one].add(other)
                beside[corner, other].add(one)
    about = defaultdict(list)
    for n, triangle in enumerate(faces.tolist()):
        for corner in triangle:
            about[corner].append(n)
    more, apart = [], max(APART, 4e-7 * float(np.ptp(points, axis=0).max()))
    for corner in sorted({c for edge, found in at_edge.items() if len(found) != 2 for c in edge}):
        around = set(about[corner])
        fans = []
        while around:
            fan, waiting = set(), [around.pop()]
            while waiting:
                fan.add(triangle := waiting.pop())
                waiting += (beside[corner, triangle] & around) - fan
                around -= beside[corner, triangle]
            fans.append(sorted(fan))
        for fan in fans if len(fans) > 1 else ():
            inwards = -solid.face_normals[fan].mean(axis=0)
            faces[fan] = np.where(solid.faces[fan] == corner, len(points) + len(more), faces[fan])
            more.append(points[corner] + apart * inwards / max(np.linalg.norm(inwards), 1e-9))
    return trimesh.Trimesh(np.concatenate([points, *([more] if more else [])]), faces, process=False)


def _together(edge, found, faces, points):
    """Pairs of triangles with metal between them at an edge."""
    if len(found) <= 2:
        return [tuple(found)] if len(found) == 2 else []
    start, end = points[edge[0]], points[edge[1]]
    along = (end - start) / np.linalg.norm(end - start)
    across = np.cross(along, [1.0, 0, 0] if abs(along[0]) < 0.9 else [0, 1.0, 0])
    up = np.cross(along, across)
    rows = []
    for n in found:
        triangle = faces[n].tolist()
        third = next(c for c in triangle if c not in edge)
        forwards = triangle[(triangle.index(edge[0]) + 1) % 3] == edge[1]
        out = points[third] - start
        angle = round(float(np.arctan2(out @ up, out @ across)), 3)
        rows.append((3.142 if angle <= -3.141 else -angle, forwards, n))
    rows.sort()  # metal lies beyond a triangle that runs forwards; of two in one place the other's ends first
    pairs, waiting, done = [], [], set()
    for _, forwards, n in [*rows, *rows]:
        if n in done:
            continue
        if forwards:
            waiting.append(n)
            done.add(n)
        elif waiting:
            pairs.append((waiting.pop(), n))
            done.add(n)
    return pairs


def to_stl(part: Part) -> bytes:
    """The folded part as binary STL, mm."""
    return folded_mesh(part).export(file_type="stl")


def to_glb(part: Part) -> bytes:
    """Binary glTF; the scene is named after the part."""
    solid = folded_mesh(part)
    solid.vertices = solid.vertices @ Y_UP.T / 1000
    scene = trimesh.Scene()
    scene.add_geometry(solid, node_name=part.name or "part")
    return scene.export(file_type="glb")

"""A step in space: the part among its tools, as the operator sees it from the front, a little to the left and above."""

import numpy as np

from bendcore.order.scene import TOOL, Solid

from .fit import Fit
from .still import projected, seen_from

AZIMUTH, ELEVATION = np.radians(-24), np.radians(24)
LIGHT = np.array([0.3, -0.6, 0.74])
NEARER = 6.0
"""What lies on a tool is drawn before it, mm."""
SIDES = {"up": 0, "down": 1}
"""Which face of a body is which side of the sheet."""
PIECES = 9
"""Faces longer than so small a part of the picture are cut, so that far before near can be told by their middles."""


def scene(solids: list[Solid], good: str = "", width=300, height=220) -> dict:
    """Faces far to near: ``kind`` held, free or tool, one of five shades, and whether it is the side to be spared
    (``good``, up or down in the flat)."""
    right, up, away = seen_from(AZIMUTH, ELEVATION)
    spared = SIDES.get(good)
    faces = [(face, solid, n == spared and solid.kind != TOOL) for solid in solids
             for n, face in enumerate(solid.faces)]
    span = np.ptp(np.concatenate([face for face, *_ in faces]), axis=0).max() / PIECES
    shown = []
    for face, solid, is_good in faces:
        normal = np.cross(face[1] - face[0], face[2] - face[1])
        size = np.linalg.norm(normal)
        shade = int(min(4, abs(normal @ LIGHT) / size * 5)) if size > 1e-9 else 2
        shown += [(piece, solid, shade, is_good) for piece in _cut(face, span)]
    focus = [face for face, solid, _ in faces if solid.kind != TOOL] or [face for face, *_ in faces]
    points = np.concatenate(focus)
    fit = Fit.into(projected(points, right, up), 24, 24, width - 48, height - 48)
    shown.sort(key=lambda row: -(row[0].mean(axis=0) @ away) + NEARER * (row[1].kind != TOOL))
    return {"width": width, "height": height, "faces": [
        {"kind": solid.kind, "shade": shade, "good": is_good, "d": fit.path(projected(piece, right, up))}
        for piece, solid, shade, is_good in shown]}


def _cut(face, span) -> list[np.ndarray]:
    """A ring as pieces no larger than so; only those of four corners are cut."""
    if len(face) != 4:
        return [face]
    a, b, c, d = face
    n, m = (int(min(24, max(1, np.ceil(max(np.linalg.norm(p), np.linalg.norm(q)) / span))))
            for p, q in ((b - a, c - d), (d - a, c - b)))
    if n * m == 1:
        return [face]

    def at(u, v):
        return (a * (1 - u) + b * u) * (1 - v) + (d * (1 - u) + c * u) * v

    return [np.array([at(i / n, j / m), at((i + 1) / n, j / m), at((i + 1) / n, (j + 1) / m), at(i / n, (j + 1) / m)])
            for i in range(n) for j in range(m)]


COLOURS = {"held": ("#2f6d7d", "#3f8192", "#579bab", "#7db7c4", "#a9d3dc"),
           "free": ("#a35a1e", "#b96d2c", "#cf8543", "#e0a26a", "#efc59c"),
           "tool": ("#767b80", "#8a8f94", "#a0a5a9", "#b9bdc0", "#d3d6d8")}


def scene_svg(solids: list[Solid], good: str = "", width=880, height=620) -> str:
    """The picture as a file of its own; the side to be spared is hatched."""
    picture = scene(solids, good, width, height)
    layers = "".join(f'<path d="{face["d"]}" fill="{COLOURS[face["kind"]][face["shade"]]}" '
                     f'stroke="{COLOURS[face["kind"]][face["shade"]]}"/>'
                     + (f'<path d="{face["d"]}" fill="url(#good)" stroke="none"/>' if face["good"] else "")
                     for face in picture["faces"])
    return (f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" stroke-width="0.8" '
            f'stroke-linejoin="round"><defs><pattern id="good" width="9" height="9" patternUnits="userSpaceOnUse" '
            f'patternTransform="rotate(45)"><path d="M0 0v9" stroke="#fffbe6" stroke-width="2.4"/></pattern></defs>'
            f'{layers}</svg>')

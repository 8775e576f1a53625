"""A step in space: the part among its tools, as the operator sees it from the front, a little to the left and above."""

import io
from dataclasses import dataclass

import numpy as np
from PIL import Image, ImageDraw

from bendcore.order.explain.scene import TOOL, Solid

from .fit import Fit, ring_path
from .still import projected, seen_from

AZIMUTH, ELEVATION = np.radians(-24), np.radians(24)
LIGHT = np.array([0.3, -0.6, 0.74])
NEARER = 6.0
"""What lies on a tool is drawn before it, mm."""
SIDES = {"up": 0, "down": 1}
"""Which face of a body is which side of the sheet."""
PIECES, MOST = 9, 24
"""Faces longer than so small a part of the picture are cut, so that far before near can be told by their middles; into
so many each way at most."""
COLOURS = {"held": ("#2f6d7d", "#3f8192", "#579bab", "#7db7c4", "#a9d3dc"),
           "free": ("#a35a1e", "#b96d2c", "#cf8543", "#e0a26a", "#efc59c"),
           "tool": ("#767b80", "#8a8f94", "#a0a5a9", "#b9bdc0", "#d3d6d8")}
GREYS = {"held": (140, 155, 171, 186, 201), "free": (76, 92, 107, 122, 138), "tool": (219, 227, 235, 242, 250)}
"""Of the five shades on paper, 0 black to 255 white."""
GOOD = ('<defs><pattern id="good" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
        '<path d="M0 0v9" stroke="#fffbe6" stroke-width="2.4"/></pattern></defs>')
"""The hatching of the side to be spared."""
FINER, HATCH = 2, 14
"""A picture for paper is drawn so much larger and made smaller again; its hatching repeats after so many dots."""


@dataclass(frozen=True)
class Pane:
    """A ring of ``points`` (k, 2) of the page: ``kind`` held, free or tool, one of five shades, and whether it is the
    ``good`` side, the one to be spared."""

    points: np.ndarray
    kind: str
    shade: int
    good: bool

    @property
    def d(self) -> str:
        """Its path."""
        return ring_path(self.points)

    @property
    def svg(self) -> str:
        """In its colour, hatched where it is the side to be spared."""
        colour = COLOURS[self.kind][self.shade]
        return f'<path d="{self.d}" fill="{colour}" stroke="{colour}"/>' + (
            f'<path d="{self.d}" fill="url(#good)" stroke="none"/>' if self.good else "")


def scene(solids: list[Solid], good: str = "", width=300, height=220) -> dict:
    """``width``, ``height`` and the ``faces`` far to near; ``good`` says which side of the flat is to be spared, up or
    down."""
    return {"width": width, "height": height, "faces": panes(solids, good, _fit(solids, width, height))}


def _fit(solids: list[Solid], width: float, height: float) -> Fit:
    """The part fills the picture, whatever of the tools lies beyond it."""
    right, up, _ = seen_from(AZIMUTH, ELEVATION)
    focus = [face for one in solids if one.kind != TOOL for face in one.faces] or [
        face for one in solids for face in one.faces]
    return Fit.into(projected(np.concatenate(focus), right, up), 24, 24, width - 48, height - 48)


def panes(solids: list[Solid], good: str, fit: Fit) -> list[Pane]:
    """What is seen of bodies, far to near, as a picture's ``fit`` has it."""
    spared = SIDES.get(good)
    faces = [(face, solid.kind, n == spared and solid.kind != TOOL)
             for solid in solids for n, face in enumerate(solid.faces)]
    right, up, away = seen_from(AZIMUTH, ELEVATION)
    span = np.ptp(np.concatenate([face for face, *_ in faces]), axis=0).max() / PIECES
    found = []
    for count in sorted({len(face) for face, *_ in faces}):
        own = [row for row in faces if len(row[0]) == count]
        rings = np.array([face for face, *_ in own])
        shades = _shades(rings)
        pieces, of = _cut(rings, span) if count == 4 else (rings, np.arange(len(rings)))
        deep = -(pieces.mean(axis=1) @ away) + NEARER * np.array([own[k][1] != TOOL for k in of])
        found += zip(deep.tolist(), fit.all(projected(pieces, right, up)),
                     ((*own[k][1:], shades[k]) for k in of.tolist()), strict=True)
    found.sort(key=lambda row: row[0])
    return [Pane(points, kind, shade, is_good) for _, points, (kind, is_good, shade) in found]


def _shades(rings) -> list[int]:
    normals = np.cross(rings[:, 1] - rings[:, 0], rings[:, 2] - rings[:, 1])
    size = np.linalg.norm(normals, axis=1)
    light = np.abs(normals @ LIGHT) / np.where(size > 1e-9, size, 1) * 5
    return np.where(size > 1e-9, np.minimum(4, light), 2).astype(int).tolist()


def _cut(quads, span) -> tuple[np.ndarray, np.ndarray]:
    """(quads (n, 4, 3) in pieces no larger than so, which each is of)."""
    a, b, c, d = (quads[:, k] for k in range(4))
    longest = [np.maximum(np.linalg.norm(one, axis=1), np.linalg.norm(other, axis=1))
               for one, other in ((b - a, c - d), (d - a, c - b))]
    counts = np.clip(np.ceil(np.stack(longest, axis=1) / span), 1, MOST).astype(int)
    pieces, of = [], []
    for n, m in np.unique(counts, axis=0).tolist():
        own = np.flatnonzero((counts == (n, m)).all(axis=1))
        u, v = (np.arange(k + 1) / k for k in (n, m))
        p, q, r, s = (corner[own, None, None] for corner in (a, b, c, d))
        u, v = u[None, :, None, None], v[None, None, :, None]
        grid = (p * (1 - u) + q * u) * (1 - v) + (s * (1 - u) + r * u) * v
        corners = grid[:, :-1, :-1], grid[:, 1:, :-1], grid[:, 1:, 1:], grid[:, :-1, 1:]
        pieces.append(np.stack(corners, axis=3).reshape(-1, 4, 3))
        of.append(np.repeat(own, n * m))
    return np.concatenate(pieces), np.concatenate(of)


def scene_svg(solids: list[Solid], good: str = "", width=880, height=620) -> str:
    """The picture as a file of its own; the side to be spared is hatched."""
    return framed("".join(pane.svg for pane in panes(solids, good, _fit(solids, width, height))), width, height)


def framed(layers: str, width: float, height: float) -> str:
    """A picture of these layers as a file of its own, the hatching of the side to be spared in it."""
    return (f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" stroke-width="0.8" '
            f'stroke-linejoin="round">{GOOD}{layers}</svg>')


def scene_png(solids: list[Solid], good: str = "", width=640, height=470) -> bytes:
    """The picture in greys for paper; what is seen of the side to be spared is hatched."""
    size = width * FINER, height * FINER
    drawn, spared = Image.new("L", size, 255), Image.new("L", size, 0)
    on, over = ImageDraw.Draw(drawn), ImageDraw.Draw(spared)
    for pane in panes(solids, good, _fit(solids, *size)):
        ring = pane.points.ravel().tolist()
        on.polygon(ring, fill=GREYS[pane.kind][pane.shade])
        over.polygon(ring, fill=255 if pane.good else 0)
    x, y = np.indices(size[::-1])
    lines = Image.fromarray(np.where((x + y) % (HATCH * FINER) < 3 * FINER, 0, 255).astype(np.uint8))
    drawn.paste(lines, mask=Image.composite(spared, Image.new("L", size, 0), lines.point(lambda v: 255 - v)))
    file = io.BytesIO()
    drawn.resize((width, height), Image.Resampling.LANCZOS).save(file, "PNG", optimize=False)
    return file.getvalue()

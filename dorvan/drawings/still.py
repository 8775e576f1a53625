"""A still picture of the folded part, for printing, beside an edit, and where WebGL is missing."""

import numpy as np

from bendcore.sheet.model import DOWN, UP
from bendcore.sheet.solid import BENEATH, TOP, Mesh

from .fit import Fit

OTHER = 2
"""No side of a mesh."""
MOST = 2000
"""Triangles beyond which none is cut further: they are small enough, or many enough."""
AZIMUTH, ELEVATION = np.radians(-52), np.radians(26)


def seen_from(azimuth: float, elevation: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Which way is right, up and away in a picture, seen from there (radians)."""
    ca, sa, ce, se = np.cos(azimuth), np.sin(azimuth), np.cos(elevation), np.sin(elevation)
    right, up = np.array([ca, sa, 0]), np.array([-sa * se, ca * se, ce])
    return right, up, np.cross(up, right)


def projected(points: np.ndarray, right: np.ndarray, up: np.ndarray) -> np.ndarray:
    """Points (…, 3) as they lie in the picture, (…, 2), up positive."""
    return np.stack([points @ right, points @ up], axis=-1)


def still(mesh: Mesh, good: str = "", width=300, height=210) -> dict:
    """Triangles far to near with one of five shades each, and whether they are the side to be spared (``good``, up or
    down in the flat)."""
    points, spared = _split(mesh.triangles, mesh.sides == {UP: TOP, DOWN: BENEATH}.get(good, OTHER))
    right, up, away = seen_from(AZIMUTH, ELEVATION)
    normals = np.cross(points[:, 1] - points[:, 0], points[:, 2] - points[:, 0])
    size = np.linalg.norm(normals, axis=1)
    light = np.abs(normals @ np.array([0.35, -0.5, 0.79])) / np.where(size > 0, size, 1)
    fit = Fit.into(projected(points, right, up).reshape(-1, 2), 8, 8, width - 16, height - 16)
    shown = (normals @ away < 0) & (size > 1e-9)
    points, light, spared = points[shown], light[shown], spared[shown]
    order = np.argsort(-(points.mean(axis=1) @ away))
    x, y = fit.dx + fit.scale * (points @ right), fit.dy - fit.scale * (points @ up)
    return {"width": width, "height": height,
            "triangles": [{"d": f"M{a:.1f},{b:.1f}L{c:.1f},{d:.1f}L{e:.1f},{f:.1f}Z", "shade": shade, "good": is_good}
                          for (a, c, e), (b, d, f), shade, is_good in zip(x[order].tolist(), y[order].tolist(),
                                                                 np.minimum(4, light[order] * 5).astype(int).tolist(),
                                                                 spared[order].tolist(),
                                                                 strict=True)]}


def _split(triangles, marked, times=3, parts=6):
    """Long triangles cut into four, so that far before near can be told by their middles, and the marks of each."""
    span = np.ptp(triangles.reshape(-1, 3), axis=0).max()
    for _ in range(times):
        if len(triangles) > MOST:
            break
        sides = np.linalg.norm(triangles - np.roll(triangles, 1, axis=1), axis=2).max(axis=1)
        is_big = sides > span / parts
        big = triangles[is_big]
        if not len(big):
            break
        a, b, c = big[:, 0], big[:, 1], big[:, 2]
        ab, bc, ca = (a + b) / 2, (b + c) / 2, (c + a) / 2
        cut = [np.stack(corner, axis=1) for corner in ((a, ab, ca), (ab, b, bc), (ca, bc, c), (ab, bc, ca))]
        triangles = np.concatenate([triangles[~is_big], *cut])
        marked = np.concatenate([marked[~is_big], *[marked[is_big]] * len(cut)])
    return triangles, marked


SHADES = ("#31586f", "#416d86", "#5c8aa3", "#84acc1", "#b5d0dd")
SPARED = ("#6f5a2b", "#8a7034", "#a98a43", "#c4a868", "#dcc998")
"""Of the side that is to be spared: brass."""


def still_svg(mesh: Mesh, good: str = "", width=300, height=210) -> str:
    """The picture as a file of its own, so that a page need not wait for it."""
    picture = still(mesh, good, width, height)
    shades = SHADES, SPARED
    seen = [(t["d"], shades[t["good"]][t["shade"]]) for t in picture["triangles"]]
    layers = "".join(f'<path d="{d}" fill="{colour}" stroke="{colour}"/>' for d, colour in seen)
    return (f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" stroke-width="1.1" '
            f'stroke-linejoin="round">{layers}</svg>')

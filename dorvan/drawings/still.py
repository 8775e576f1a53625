"""A still picture of the folded part, for printing and where WebGL is missing."""

import numpy as np

from .fit import Fit

AZIMUTH, ELEVATION = np.radians(-52), np.radians(26)


def still(mesh: dict, width=300, height=210) -> dict:
    """Triangles far to near with one of five shades each."""
    points = np.asarray(mesh["positions"]).reshape(-1, 3, 3)
    ca, sa, ce, se = np.cos(AZIMUTH), np.sin(AZIMUTH), np.cos(ELEVATION), np.sin(ELEVATION)
    right = np.array([ca, sa, 0])
    up = np.array([-sa * se, ca * se, ce])
    away = np.cross(up, right)
    normals = np.cross(points[:, 1] - points[:, 0], points[:, 2] - points[:, 0])
    size = np.linalg.norm(normals, axis=1)
    light = np.abs(normals @ np.array([0.35, -0.5, 0.79])) / np.where(size > 0, size, 1)
    facing = normals @ away < 0
    order = [i for i in np.argsort(-(points.mean(axis=1) @ away)) if facing[i]]
    flat = np.stack([points @ right, points @ up], axis=-1)
    fit = Fit.into(flat.reshape(-1, 2), 8, 8, width - 16, height - 16)
    return {"width": width, "height": height,
            "triangles": [{"d": fit.path(flat[i]), "shade": int(min(4, light[i] * 5))}
                          for i in order if size[i] > 1e-9]}

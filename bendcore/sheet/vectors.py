"""Vectors in space, for arrays whose last axis is (x, y, z)."""

import numpy as np


def cross(a: np.ndarray, b: np.ndarray) -> np.ndarray:
    """The cross product; numpy's own costs ten times as much on the few vectors of a face."""
    ax, ay, az = a[..., 0], a[..., 1], a[..., 2]
    bx, by, bz = b[..., 0], b[..., 1], b[..., 2]
    return np.stack([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx], axis=-1)


def plane_axes(corners: np.ndarray, normal: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Two axes in the plane of a ring of corners, the first along its first edge."""
    along = (corners[1] - corners[0]) / np.linalg.norm(corners[1] - corners[0])
    return along, cross(normal, along)


def unit(vectors: np.ndarray) -> np.ndarray:
    """Every vector at length 1; those without length stay 0."""
    long = np.sqrt((vectors * vectors).sum(axis=-1, keepdims=True))
    return np.divide(vectors, long, out=np.zeros_like(vectors), where=long > 1e-9)

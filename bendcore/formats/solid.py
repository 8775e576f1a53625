"""The folded part as a solid mesh for others: STL in millimetres, glTF in metres with y up."""

import numpy as np
import trimesh

from ..sheet import fold
from ..sheet.solid import mesh
from .part import Part

Y_UP = np.array([[1, 0, 0], [0, 0, 1], [0, -1, 0]], float)
"""Rows take (x, y, z up) to glTF's (x, y up, z)."""


def folded_mesh(part: Part) -> trimesh.Trimesh:
    """Faces and true arcs with their thickness, in mm, z up; coincident corners merged."""
    corners = mesh(fold(part.sheet, flat=part.flat)).triangles.reshape(-1, 3)
    return trimesh.Trimesh(corners, np.arange(len(corners)).reshape(-1, 3), process=True)


def to_stl(part: Part) -> bytes:
    return folded_mesh(part).export(file_type="stl")


def to_glb(part: Part) -> bytes:
    """Binary glTF; the scene is named after the part."""
    solid = folded_mesh(part)
    solid.vertices = solid.vertices @ Y_UP.T / 1000
    scene = trimesh.Scene()
    scene.add_geometry(solid, node_name=part.name or "part")
    return scene.export(file_type="glb")

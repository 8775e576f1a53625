"""A folded sheet as STEP: true planes and cylinders, one body, by the kernel.

Every face is its outline carried down by the thickness, every bend the rectangle on its tangent line turned about its
axis; both are joined and what lies in one plane or cylinder is made one surface.
"""

import tempfile
from pathlib import Path

import numpy as np

from ..errors import Refusal
from ..sheet.fold import FoldedBend, FoldedFace, fold
from ..sheet.model import Bend, Hole, Sheet
from .kernel import INSTALL, be_quiet, is_there

ARC = 179.0
"""A bend is drawn by fold() in steps of so many degrees: only its ends are needed."""


def to_step(sheet: Sheet, name: str) -> bytes:
    """The folded sheet as a STEP file, mm (AP214); refuses one of which a zone tapers, or that closes on itself."""
    if not is_there():
        raise Refusal("to", f"cannot end in .step here: {INSTALL}")
    for bend in sheet.bends:
        if any(abs(v) > 1e-6 for v in bend.taper):
            raise Refusal("shape", f"cannot be written as a solid: the zone of {bend.id} tapers")
        if bend.openings:
            raise Refusal("shape", f"cannot be written as a solid: an opening lies across bend {bend.id}")
        if bend.is_hem and bend.figures.inside_radius < 1e-3:
            raise Refusal("shape", f"cannot be written as a solid: {bend.id} is folded flat down, and two sheets that "
                                   "touch would be one; give the fold a gap")
    from OCP.IFSelect import IFSelect_ReturnStatus
    from OCP.Interface import Interface_Static
    from OCP.STEPControl import STEPControl_StepModelType, STEPControl_Writer

    be_quiet()
    writer = STEPControl_Writer()
    Interface_Static.SetCVal_s("write.step.product.name", name[:80] or "part")
    writer.Transfer(_joined(sheet), STEPControl_StepModelType.STEPControl_AsIs)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "part.step"
        if writer.Write(str(path)) != IFSelect_ReturnStatus.IFSelect_RetDone:
            raise Refusal("to", "could not be written as STEP")
        return path.read_bytes()


def _joined(sheet: Sheet):
    """One solid of all faces and bends."""
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Fuse
    from OCP.collections import List_TopoDS_Shape
    from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain

    folded, pieces = fold(sheet, facet=ARC), []
    for face in folded.faces:
        pieces.append(_plate(face, sheet.face[face.id].holes, folded.frames[face.id], sheet.thickness))
    for arc in folded.bends:
        pieces.append(_turned(arc, sheet.bend[arc.id], sheet.thickness))
    if len(pieces) == 1:
        return pieces[0]
    fuse, first, rest = BRepAlgoAPI_Fuse(), List_TopoDS_Shape(), List_TopoDS_Shape()
    first.Append(pieces[0])
    for piece in pieces[1:]:
        rest.Append(piece)
    fuse.SetArguments(first)
    fuse.SetTools(rest)
    fuse.SetFuzzyValue(1e-5)
    fuse.Build()
    joined = ShapeUpgrade_UnifySameDomain(fuse.Shape(), True, True, True)
    joined.Build()
    return joined.Shape()


def _point(p: np.ndarray):
    from OCP.gp import gp_Pnt

    return gp_Pnt(*map(float, p))


def _vector(v: np.ndarray):
    from OCP.gp import gp_Vec

    return gp_Vec(*map(float, v))


def _ring(points: np.ndarray):
    """A closed wire of straight edges."""
    from OCP.BRepBuilderAPI import BRepBuilderAPI_MakePolygon

    polygon = BRepBuilderAPI_MakePolygon()
    for p in points:
        polygon.Add(_point(p))
    polygon.Close()
    return polygon.Wire()


def _plate(face: FoldedFace, holes: tuple[Hole, ...], frame, thickness: float):
    """A flat face with its thickness, less its holes."""
    from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
    from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
    from OCP.gp import gp_Dir, gp_Pln
    from OCP.TopoDS import TopoDS

    plane = gp_Pln(_point(face.corners[0]), gp_Dir(*map(float, face.normal)))
    made = BRepBuilderAPI_MakeFace(plane, _ring(face.corners))
    for hole in holes:
        made.Add(TopoDS.Wire(_opening(hole, frame, face.normal).Reversed()))
    return BRepPrimAPI_MakePrism(made.Face(), _vector(-thickness * face.normal)).Shape()


def _opening(hole: Hole, frame, normal: np.ndarray):
    """A hole's edge, counter-clockwise seen from the top: round ends are true arcs."""
    from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeWire
    from OCP.GC import GC_MakeArcOfCircle
    from OCP.gp import gp_Ax2, gp_Circ, gp_Dir

    if hole.ring:
        return _ring(frame(np.array(hole.outline())))
    if not hole.is_slot:
        circle = gp_Circ(gp_Ax2(_point(frame(np.array([hole.centre]))[0]), gp_Dir(*map(float, normal))),
                         hole.diameter / 2)
        return BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(circle).Edge()).Wire()
    radius = hole.diameter / 2
    one, other = (np.array(p) for p in hole.ends)
    along = (other - one) / np.linalg.norm(other - one)
    left = np.array([-along[1], along[0]])
    wire = BRepBuilderAPI_MakeWire()
    round_ = ((other - radius * left, other + radius * along, other + radius * left),
              (one + radius * left, one - radius * along, one - radius * left))
    for n, points in enumerate(round_):
        a, b, c = (_point(p) for p in frame(np.array(points)))
        wire.Add(BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(a, b, c).Value()).Edge())
        d = _point(frame(np.array([round_[1 - n][0]]))[0])
        wire.Add(BRepBuilderAPI_MakeEdge(c, d).Edge())
    return wire.Wire()


def _turned(arc: FoldedBend, bend: Bend, thickness: float):
    """A bend: the rectangle on its first tangent line turned about its axis."""
    from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeRevol
    from OCP.gp import gp_Ax1, gp_Dir

    near, normal = arc.arc[0], arc.normals[0]
    radius = bend.figures.inside_radius
    centre = near[0] + (radius if bend.sign > 0 else -(radius + thickness)) * normal
    along = (near[1] - near[0]) / np.linalg.norm(near[1] - near[0])
    axis = gp_Ax1(_point(centre), gp_Dir(*map(float, -bend.sign * along)))
    face = BRepBuilderAPI_MakeFace(_ring(np.array([near[0], near[1], near[1] - thickness * normal,
                                                   near[0] - thickness * normal]))).Face()
    return BRepPrimAPI_MakeRevol(face, axis, float(np.radians(bend.angle))).Shape()

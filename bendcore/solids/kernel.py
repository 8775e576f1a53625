"""The one module that knows the kernel of solids, which is an extra: everything else works on what it hands over.

STEP is read by OpenCASCADE; surfaces that lie in one are joined, bodies that are loose shells are sewn together.
"""

import math
import tempfile
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from ..errors import Refusal
from .brep import CIRCLE, CURVE, CYLINDER, LINE, OTHER, PLANE, Side, Solid, Surface

SAGITTA = 0.004
"""An edge that is no line is followed so closely, mm."""
SEWN = 0.02
"""Edges of loose surfaces so near each other are one, mm."""
MOST_FACES, MOST_SOLIDS = 4000, 100
INSTALL = "reading solids needs an extra of about 70 MB: whoever runs the server adds it with “make solids”"


def is_there() -> bool:
    """Whether the kernel is installed."""
    from importlib.util import find_spec

    return find_spec("OCP") is not None


def read_step(data: bytes, name: str) -> list[Solid]:
    """The bodies of a STEP file (AP203, AP214, AP242), mm; refuses what is none, or holds none."""
    if not is_there():
        raise Refusal(name, f"cannot be read here: {INSTALL}")
    if b"ISO-10303-21" not in data[:400]:
        raise Refusal(name, "is no STEP file: it does not begin as one")
    from OCP.IFSelect import IFSelect_ReturnStatus
    from OCP.STEPControl import STEPControl_Reader

    be_quiet()
    reader = STEPControl_Reader()
    with tempfile.NamedTemporaryFile(suffix=".step") as file:
        Path(file.name).write_bytes(data)
        if reader.ReadFile(file.name) != IFSelect_ReturnStatus.IFSelect_RetDone:
            raise Refusal(name, "is no STEP file that can be read")
        reader.TransferRoots()
    shape = reader.OneShape()
    bodies = [] if shape.IsNull() else _bodies(shape)
    if not bodies:
        raise Refusal(name, "holds no solid body: send the solid, not its lines or a picture of it")
    if len(bodies) > MOST_SOLIDS:
        raise Refusal(name, f"holds {len(bodies)} bodies; at most {MOST_SOLIDS} are taken")
    found: list[Solid] = []
    for number, body in enumerate(bodies):
        same = next((i for i in range(number) if bodies[i].IsPartner(body)), number)
        found.append(_solid(body, name, number, same))
    return found


def be_quiet() -> None:
    """The kernel tells its doings on the standard output; it is to tell nothing."""
    from OCP.Message import Message

    messenger = Message.DefaultMessenger_s()
    for printer in list(messenger.Printers()):
        messenger.RemovePrinter(printer)


def _all(shape, kind: str) -> Iterator:
    """Every vertex, edge, wire, face, shell or solid of a shape, typed."""
    from OCP import TopAbs
    from OCP.TopExp import TopExp_Explorer
    from OCP.TopoDS import TopoDS

    explorer = TopExp_Explorer(shape, getattr(TopAbs.TopAbs_ShapeEnum, f"TopAbs_{kind.upper()}"))
    typed = getattr(TopoDS, kind, None) or getattr(TopoDS, f"{kind}_s")
    while explorer.More():
        yield typed(explorer.Current())
        explorer.Next()


def _bodies(shape) -> list:
    """The solids of a shape; of loose surfaces those that close when they are sewn together."""
    solids = list(_all(shape, "Solid"))
    if solids:
        return solids
    from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeSolid, BRepBuilderAPI_Sewing

    sewing = BRepBuilderAPI_Sewing(SEWN)
    faces = list(_all(shape, "Face"))
    if not faces or len(faces) > MOST_FACES:
        return []
    for face in faces:
        sewing.Add(face)
    sewing.Perform()
    sewn = sewing.SewedShape()
    return [] if sewn.IsNull() else [BRepBuilderAPI_MakeSolid(shell).Solid() for shell in _all(sewn, "Shell")
                                     if shell.Closed()]


def _solid(body, name: str, number: int, same: int) -> Solid:
    """A body with the surfaces in one plane or cylinder joined."""
    from OCP.BRepGProp import BRepGProp
    from OCP.GProp import GProp_GProps
    from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain

    joined = ShapeUpgrade_UnifySameDomain(body, True, True, False)
    joined.SetLinearTolerance(SEWN / 2)
    joined.Build()
    whole = joined.Shape()
    faces = list(_all(whole, "Face"))
    if len(faces) > MOST_FACES:
        raise Refusal(name, f"has a body of {len(faces)} surfaces; at most {MOST_FACES} are taken")
    told = GProp_GProps()
    BRepGProp.VolumeProperties_s(whole, told)
    known: dict[int, int] = {}
    surfaces = tuple(_surface(n, face, known) for n, face in enumerate(faces))
    return Solid(f"body {number + 1}", surfaces, abs(told.Mass()), same)


def _xyz(point) -> np.ndarray:
    return np.array([point.X(), point.Y(), point.Z()])


def _surface(number: int, face, known: dict[int, int]) -> Surface:
    from OCP.BRepAdaptor import BRepAdaptor_Surface
    from OCP.BRepGProp import BRepGProp
    from OCP.BRepTools import BRepTools
    from OCP.GeomAbs import GeomAbs_SurfaceType
    from OCP.GProp import GProp_GProps
    from OCP.TopAbs import TopAbs_Orientation

    adaptor = BRepAdaptor_Surface(face)
    forward = face.Orientation() == TopAbs_Orientation.TopAbs_FORWARD
    told = GProp_GProps()
    BRepGProp.SurfaceProperties_s(face, told)
    outer = BRepTools.OuterWire_s(face)
    wires = sorted(_all(face, "Wire"), key=lambda wire: not wire.IsSame(outer))
    loops = tuple(loop for wire in wires if (loop := _loop(wire, face, forward, known)))
    kind, area = adaptor.GetType(), abs(told.Mass())
    if kind == GeomAbs_SurfaceType.GeomAbs_Plane:
        axes = adaptor.Plane().Position()
        normal = np.cross(_xyz(axes.XDirection()), _xyz(axes.YDirection()))
        return Surface(number, PLANE, _xyz(axes.Location()), normal if forward else -normal, loops, area)
    if kind == GeomAbs_SurfaceType.GeomAbs_Cylinder:
        cylinder = adaptor.Cylinder()
        axes = cylinder.Position()
        right = float(np.cross(_xyz(axes.XDirection()), _xyz(axes.YDirection())) @ _xyz(axes.Direction())) > 0
        return Surface(number, CYLINDER, _xyz(axes.Location()), _xyz(axes.Direction()), loops, area,
                       cylinder.Radius(), right == forward)
    return Surface(number, OTHER, _xyz(told.CentreOfMass()), np.zeros(3), loops, area)


def _loop(wire, face, forward: bool, known: dict[int, int]) -> tuple[Side, ...]:
    """A wire's edges as they run round the face seen from outside."""
    from OCP.BRep import BRep_Tool
    from OCP.BRepTools import BRepTools_WireExplorer

    explorer, found = BRepTools_WireExplorer(wire, face), []
    while explorer.More():
        edge = explorer.Current()
        if not BRep_Tool.Degenerated_s(edge):
            found.append(_side(edge, known))
        explorer.Next()
    return tuple(found)


def _side(edge, known: dict[int, int]) -> Side:
    from OCP.BRepAdaptor import BRepAdaptor_Curve
    from OCP.GCPnts import GCPnts_TangentialDeflection
    from OCP.GeomAbs import GeomAbs_CurveType
    from OCP.TopAbs import TopAbs_Orientation

    curve = BRepAdaptor_Curve(edge)
    first, last, kind = curve.FirstParameter(), curve.LastParameter(), curve.GetType()
    number = known.setdefault(hash(edge), len(known))
    if kind == GeomAbs_CurveType.GeomAbs_Line:
        points = np.array([_xyz(curve.Value(first)), _xyz(curve.Value(last))])
    else:
        taken = GCPnts_TangentialDeflection(curve, math.radians(15), SAGITTA)
        points = np.array([_xyz(taken.Value(i + 1)) for i in range(taken.NbPoints())])
    if edge.Orientation() == TopAbs_Orientation.TopAbs_REVERSED:
        points = points[::-1]
    if kind == GeomAbs_CurveType.GeomAbs_Circle:
        circle = curve.Circle()
        return Side(number, CIRCLE, points, _xyz(circle.Location()), circle.Radius())
    return Side(number, LINE if kind == GeomAbs_CurveType.GeomAbs_Line else CURVE, points)

"""A part as a file for others: its flat as DXF, SVG, CSV, JSON or PDF, folded as STL or glTF.

DXF and SVG carry the same layers: CUT, BEND_UP, BEND_DOWN, TANGENT, MARK and TEXT.
"""

import csv
import io
import json
import math
from dataclasses import replace
from typing import Any
from xml.sax.saxutils import escape, quoteattr

from ..errors import Refusal
from ..families.chained import Chained
from ..layout.scribed import scribed
from ..part import Part
from .arcs import with_bulges
from .blocks import to_backing_block, to_blocks, to_form_block
from .dxf_out import as_text, drawing
from .gauge import to_gauge
from .paper import paper_model
from .pdf import Template, templates
from .results import flat_result
from .solid import to_glb, to_stl

LAYERS = {"CUT": 7, "BEND_UP": 5, "BEND_DOWN": 1, "TANGENT": 8, "MARK": 3, "TEXT": 2}


def to_json(part: Part) -> str:
    """The flat result as text."""
    return json.dumps(flat_result(part), indent=1) + "\n"


def to_csv(part: Part) -> str:
    """The bend table, one row a bend in strip order: which face lies still, which is turned, and where the
    centre line runs."""
    flat = flat_result(part)
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["bend", "direction", "angle", "inside_radius", "line", "allowance", "deduction", "units",
                     "fixed_face", "turned_face", "x0", "y0", "x1", "y1"])
    for b in flat["bends"]:
        joint = part.sheet.bend[b["id"]]
        writer.writerow([b["id"], b["direction"], b["angle"], b["inside_radius"], b["line"][0][0],
                         b["allowance"], b["deduction"], flat["units"], joint.parent, joint.child,
                         *b["line"][0], *b["line"][1]])
    return out.getvalue()


def _lines(part: Part, flat: dict):
    """(layer, start, end, label) of everything but the outline and the holes."""
    for _, *ends in scribed(part):
        yield "MARK", *([v / part.per_unit for v in point] for point in ends), ""
    for b in flat["bends"]:
        layer = "BEND_UP" if b["direction"] == "up" else "BEND_DOWN"
        yield layer, *b["line"], f"{b['id']} {b['direction']} {b['angle']:.10g} R{b['inside_radius']:.6g}"
        for tangent in b["tangents"]:
            yield "TANGENT", *tangent, ""


def _beside(start, end, size):
    """(where, degrees) a line's label stands: at its middle, along it, a little to its left."""
    (x0, y0), (x1, y1) = start, end
    turn = math.atan2(y1 - y0, x1 - x0)
    return ((x0 + x1) / 2 - math.sin(turn) * size / 2, (y0 + y1) / 2 + math.cos(turn) * size / 2), math.degrees(turn)


def _slot(hole):
    """Corners of a slot counter-clockwise with the bulge of what follows: 1 is a half circle."""
    (ax, ay), (bx, by) = hole.ends
    turn, r = math.radians(hole.angle), hole.diameter / 2
    nx, ny = -math.sin(turn) * r, math.cos(turn) * r
    return [(bx - nx, by - ny, 1), (bx + nx, by + ny, 0), (ax + nx, ay + ny, 1), (ax - nx, ay - ny, 0)]


def _corners(part: Part, flat: dict) -> list[tuple[float, float, float]]:
    """The outline's corners, in the part's units, with the bulge of what follows each."""
    centres = [tuple((c + by) / part.per_unit for c, by in zip(centre, part.flat.shift, strict=True))
               for centre in part.shape.centres]
    return with_bulges(flat["outline"], centres)


def to_dxf(part: Part) -> str:
    """R2010, units set, one closed contour on CUT; arcs where the outline has true ones."""
    flat = flat_result(part)
    doc = drawing(part.units, LAYERS)
    space = doc.modelspace()
    space.add_lwpolyline(_corners(part, flat), format="xyb", close=True, dxfattribs={"layer": "CUT"})
    for hole in part.flat.holes:
        if hole.ring:
            space.add_lwpolyline([(x / part.per_unit, y / part.per_unit) for x, y in hole.outline()], close=True,
                                 dxfattribs={"layer": "CUT"})
        elif hole.is_slot:
            points = [(x / part.per_unit, y / part.per_unit, bulge) for x, y, bulge in _slot(hole)]
            space.add_lwpolyline(points, format="xyb", close=True, dxfattribs={"layer": "CUT"})
        else:
            (x, y), radius = hole.centre, hole.diameter / 2 / part.per_unit
            space.add_circle((x / part.per_unit, y / part.per_unit), radius, dxfattribs={"layer": "CUT"})
    size = max(flat["blank"]["width"] / 60, 2.5 if part.units == "mm" else 0.1)
    for layer, start, end, label in _lines(part, flat):
        space.add_line(start, end, dxfattribs={"layer": layer})
        if label:
            place, turn = _beside(start, end, size)
            space.add_text(label, height=size, rotation=turn, dxfattribs={"layer": "TEXT"}).set_placement(place)
    return as_text(doc)


def _path(points, height) -> str:
    """A closed path, y down from ``height``."""
    return " ".join(f"{'L' if i else 'M'}{x:.9g},{height - y:.9g}" for i, (x, y) in enumerate(points)) + " Z"


def to_svg(part: Part) -> str:
    """True size, y up in the file's own coordinates, one group a layer."""
    flat = flat_result(part)
    length, width, unit = flat["blank"]["length"], flat["blank"]["width"], part.units
    groups = {name: [] for name in LAYERS}
    groups["CUT"].append(f'<path d="{_path(flat["outline"], width)}"/>')
    for hole in part.flat.holes:
        per, radius = part.per_unit, hole.diameter / 2 / part.per_unit
        if hole.ring:
            groups["CUT"].append(f'<path d="{_path([(x / per, y / per) for x, y in hole.outline()], width)}"/>')
        elif hole.is_slot:
            a, b, c, d = (f"{x / per:.9g},{width - y / per:.9g}" for x, y, _ in _slot(hole))
            arc = f"A{radius:.9g},{radius:.9g} 0 0 0"
            groups["CUT"].append(f'<path d="M{a} {arc} {b} L{c} {arc} {d} Z"/>')
        else:
            x, y = hole.centre
            groups["CUT"].append(f'<circle cx="{x / per:.9g}" cy="{width - y / per:.9g}" r="{radius:.9g}"/>')
    size = max(width / 60, 2.5 if unit == "mm" else 0.1)
    for layer, (x0, y0), (x1, y1), label in _lines(part, flat):
        groups[layer].append(f'<line x1="{x0:.9g}" y1="{width - y0:.9g}" x2="{x1:.9g}" y2="{width - y1:.9g}"/>')
        if label:
            (x, y), turn = _beside((x0, y0), (x1, y1), size)
            groups["TEXT"].append(f'<text transform="translate({x:.9g} {width - y:.9g}) rotate({-turn:.9g})" '
                                  f'font-size="{size:.4g}">{escape(label)}</text>')
    colours = {"CUT": "#000", "BEND_UP": "#17384f", "BEND_DOWN": "#a63d25", "TANGENT": "#999",
               "MARK": "#25705f", "TEXT": "#000"}
    body = "\n".join(
        f'<g id="{name}" fill="{"#000" if name == "TEXT" else "none"}" '
        f'stroke="{"none" if name == "TEXT" else colours[name]}" '
        f'stroke-width="{size / 12:.4g}">{"".join(items)}</g>' for name, items in groups.items() if items)
    return (f'<svg xmlns="http://www.w3.org/2000/svg" width="{length:.9g}{unit}" height="{width:.9g}{unit}" '
            f'viewBox="0 0 {length:.9g} {width:.9g}"><title>{escape(part.name)}</title>'
            f'<desc data-units={quoteattr(unit)}>Flat pattern</desc>\n{body}\n</svg>\n')


def to_pdf(part: Part, paper: str = "A4") -> bytes:
    """Templates at 1:1, tiled over ``paper``."""
    return templates([_template(part)], paper)


def to_set(part: Part, paper: str = "A4") -> bytes:
    """Templates of every piece of a chain, in order, each with its number; refuses what is one piece."""
    shape = part.shape
    if not isinstance(shape, Chained):
        raise Refusal("shape", "is one piece: its template stands by itself")
    pieces = [replace(part, shape=shape.piece(n)) for n in range(1, len(shape.whole) + 1)]
    return templates([_template(piece) for piece in pieces], paper)


def _template(part: Part) -> Template:
    shape = part.shape
    lines = [(a, b) for _, a, b in scribed(part)] if shape.making else []
    words = f"{shape.label}, OUTSIDE, upright" if isinstance(shape, Chained) else ""
    return Template(part.flat, " ".join(filter(None, (part.name or "part", getattr(shape, "label", "")))),
                    tuple(lines), words)


WRITERS = {"dxf": (to_dxf, "image/vnd.dxf"), "svg": (to_svg, "image/svg+xml"), "csv": (to_csv, "text/csv"),
           "json": (to_json, "application/json"), "pdf": (to_pdf, "application/pdf"),
           "model": (paper_model, "application/pdf"), "gauge": (to_gauge, "image/svg+xml"),
           "blocks": (to_blocks, "image/vnd.dxf"), "formblock": (to_form_block, "application/pdf"),
           "backing": (to_backing_block, "application/pdf"), "set": (to_set, "application/pdf"),
           "stl": (to_stl, "model/stl"), "glb": (to_glb, "model/gltf-binary")}

CUT = {"dxf", "svg", "pdf", "model"}
"""What is made to be cut by; a blank that lies on itself is refused there."""


def export(part: Part, ending: str, **options: Any) -> str | bytes:
    """The part as a file of this kind: ``model`` is a paper model as PDF, ``gauge`` a template of its radius as SVG,
    ``set`` the templates of all pieces of a chain in one PDF, ``blocks`` a rib's blocks as DXF, ``formblock`` and
    ``backing`` their templates as PDF. ``options`` are the writer's (``paper`` of a PDF)."""
    if ending not in WRITERS:
        raise Refusal("to", "must end in " + ", ".join(f".{e}" for e in WRITERS))
    if ending in CUT and part.conflicts[0]:
        found = part.conflicts[0][0]
        raise Refusal("shape", f"cannot be cut: {found.one} and {found.other} lie on each other in the blank")
    return WRITERS[ending][0](part, **options)

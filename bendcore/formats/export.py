"""A part as a file for others: its flat as DXF, SVG, CSV, JSON or PDF, folded as STL, glTF or STEP.

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
from ..layout.linework import BEND_DOWN, BEND_UP, CUT, LAYERS, MARK, TANGENT, TEXT, linework
from ..layout.scribed import scribed
from ..part import Part
from ..solids.guarded import to_step
from .blocks import to_backing_block, to_blocks, to_form_block
from .dxf_out import as_text, draw, drawing
from .gauge import to_gauge
from .paper import paper_model
from .pdf import Template, templates
from .results import flat_result
from .solid import to_glb, to_stl


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


def to_dxf(part: Part) -> str:
    """R2010, units set, one closed contour on CUT; arcs where the outline has true ones."""
    doc = drawing(part.units, LAYERS)
    draw(doc.modelspace(), linework(part), part.per_unit)
    return as_text(doc)


def _path(corners, place) -> str:
    """A closed path by (x, y, bulge); ``place`` writes a point."""
    words = [f"M{place(*corners[0][:2])}"]
    for (x0, y0, bulge), (x1, y1, _) in zip(corners, (*corners[1:], corners[0]), strict=True):
        if bulge:
            radius = math.dist((x0, y0), (x1, y1)) * (1 + bulge ** 2) / (4 * abs(bulge))
            words.append(f"A{radius:.9g},{radius:.9g} 0 {int(abs(bulge) > 1)} {int(bulge < 0)} {place(x1, y1)}")
        else:
            words.append(f"L{place(x1, y1)}")
    if not corners[-1][2]:
        words.pop()  # the closing side is straight
    return " ".join(words) + " Z"


def to_svg(part: Part) -> str:
    """True size, y up in the file's own coordinates, one group a layer."""
    per, unit, drawn = part.per_unit, part.units, linework(part)
    length, width = (side / per for side in part.flat.size)

    def at(x, y):
        return f"{x:.9g},{width - y:.9g}"

    groups = {name: [] for name in LAYERS}
    for contour in drawn.contours:
        if contour.is_circle:
            x, y = (v / per for v in contour.centre)
            groups[CUT].append(f'<circle cx="{x:.9g}" cy="{width - y:.9g}" r="{contour.diameter / 2 / per:.9g}"/>')
        else:
            corners = [(x / per, y / per, bulge) for x, y, bulge in contour.corners]
            groups[CUT].append(f'<path d="{_path(corners, at)}"/>')
    size = drawn.size / per
    for stroke in drawn.strokes:
        (x0, y0), (x1, y1) = ((x / per, y / per) for x, y in (stroke.start, stroke.end))
        groups[stroke.layer].append(
            f'<line x1="{x0:.9g}" y1="{width - y0:.9g}" x2="{x1:.9g}" y2="{width - y1:.9g}"/>')
        if stroke.label:
            (x, y), turn = stroke.beside(drawn.size)
            groups[TEXT].append(f'<text transform="translate({x / per:.9g} {width - y / per:.9g}) rotate({-turn:.9g})" '
                                f'font-size="{size:.4g}">{escape(stroke.label)}</text>')
    colours = {CUT: "#000", BEND_UP: "#17384f", BEND_DOWN: "#a63d25", TANGENT: "#999", MARK: "#25705f", TEXT: "#000"}
    body = "\n".join(
        f'<g id="{name}" fill="{"#000" if name == TEXT else "none"}" '
        f'stroke="{"none" if name == TEXT else colours[name]}" '
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
    if not shape.running():
        raise Refusal("shape", "is one piece: its template stands by itself")
    pieces = [replace(part, shape=shape.other_piece(one.number)) for one in shape.running()]
    return templates([_template(piece) for piece in pieces], paper)


def _template(part: Part) -> Template:
    shape = part.shape
    lines = [(a, b) for _, a, b in scribed(part)] if shape.making else []
    words = f"{shape.label}, OUTSIDE, upright" if shape.label else ""
    return Template(part.flat, " ".join(filter(None, (part.name or "part", shape.label))),
                    tuple(lines), words, part.stock.good and f"{part.stock.good_called} {part.stock.good}")


WRITERS = {"dxf": (to_dxf, "image/vnd.dxf"), "svg": (to_svg, "image/svg+xml"), "csv": (to_csv, "text/csv"),
           "json": (to_json, "application/json"), "pdf": (to_pdf, "application/pdf"),
           "model": (paper_model, "application/pdf"), "gauge": (to_gauge, "image/svg+xml"),
           "blocks": (to_blocks, "image/vnd.dxf"), "formblock": (to_form_block, "application/pdf"),
           "backing": (to_backing_block, "application/pdf"), "set": (to_set, "application/pdf"),
           "stl": (to_stl, "model/stl"), "glb": (to_glb, "model/gltf-binary"),
           "step": (lambda part: to_step(part.sheet, part.name), "model/step")}

FOR_CUTTING = {"dxf", "svg", "pdf", "model"}
"""What is made to be cut by; a blank that lies on itself is refused there."""


def export(part: Part, ending: str, **options: Any) -> str | bytes:
    """The part as a file of this kind: ``model`` is a paper model as PDF, ``gauge`` a template of its radius as SVG,
    ``set`` the templates of all pieces of a chain in one PDF, ``blocks`` a rib's blocks as DXF, ``formblock`` and
    ``backing`` their templates as PDF. ``options`` are the writer's (``paper`` of a PDF)."""
    if ending not in WRITERS:
        raise Refusal("to", "must end in " + ", ".join(f".{e}" for e in WRITERS))
    if ending in FOR_CUTTING and part.conflicts[0]:
        found = part.conflicts[0][0]
        raise Refusal("shape", f"cannot be cut: {found.one} and {found.other} lie on each other in the blank")
    return WRITERS[ending][0](part, **options)

"""A transition read from a part file: its panels, where it is cut, what its bends leave flat, its flanges."""

import math
from collections.abc import Sequence

import numpy as np

from ...develop.facets import Outline, angle_at, opened
from ...errors import Refusal
from ...sheet.model import Face, Sheet
from ...sheet.unfold import unfold
from ..common import Given
from ..facetted import SIDE, Panel, bent_edges, outline_of, panel_bends_of, setbacks
from ..legs import OUTSIDE
from .fields import BOTTOM, FIELDS, TOP
from .flanges import Flange, Rim, flange_of, rim_of, shared_end, wedge_limits
from .panels import corner_of, corners, panels
from .shape import Transition
from .sizes import ENDS, Sizes

POINTED = 0.3
"""At a seam to which a panel comes with a corner only, edges stand so many thicknesses further apart."""
SLIT = 0.5
"""Ends left on to trim stay so far apart in the blank, mm."""


def read_transition(shape: dict, given: Given) -> Transition:
    """A transition from the part file's ``shape``; refusals name the field below ``shape``."""
    sizes = _sizes(shape, given)
    pieces, piece = shape.get("pieces", 1), shape.get("piece", 1)
    if piece > pieces:
        raise Refusal("piece", "is of a transition in two pieces, and this one is in one")
    whole = panels(corners(*sizes.ends["bottom"]),
                   corners(*sizes.ends["top"], sizes.offset, sizes.turn, sizes.height),
                   given.thickness if sizes.dims == OUTSIDE else 0.0)

    def made(cut: int) -> Transition:
        return _piece(whole, cut, sizes, shape, given)

    if pieces == 1:
        return made(shape.get("seam", _shortest(whole)))
    if "seam" in shape:
        first = (shape["seam"] - 1) % 2 + 1
    elif sizes.flanges:
        first = min((1, 2), key=lambda cut: max(c.wide for start in (cut, cut + 2) for c in made(start).open_corners))
    else:
        first = _shortest(whole) % 2 or 2
    return made(first + 2 * (piece - 1))


def _sizes(shape, given) -> Sizes:
    top = shape["top"]
    ends = {end: tuple(group.mm(shape[end], key, end, given.length) for key in ("length", "width"))
            for end, group in (("bottom", BOTTOM), ("top", TOP))}
    offset = tuple(given.length(value, f"top.offset[{i}]") for i, value in enumerate(top.get("offset", (0, 0))))
    height, gap, trim = (FIELDS.mm(shape, key, "", given.length) for key in ("height", "gap", "trim"))
    flanges = {end: (FIELDS.fields[path].mm(shape[path], "width", path, given.length), shape[path]["direction"])
               for end, path in ((end, f"{end}_flange") for end in ENDS) if shape.get(path)}
    return Sizes(given.thickness, shape.get("dims", OUTSIDE), ends, offset, float(top.get("turn", 0.0)), height, gap,
                 trim, flanges)


def _called(kind: str, number: int) -> str:
    return f"{'C' if kind == SIDE else 'D'}{number}"


def _shortest(whole: Sequence[Panel]) -> int:
    """The corner that is the least to weld."""
    return min(range(1, 5), key=lambda n: round(float(np.linalg.norm(np.subtract(*next(
        p.ends(p.edge(SIDE, n)) for p in whole if p.edge(SIDE, n) is not None)))), 6))


def _piece(whole, cut, sizes, shape, given) -> Transition:
    pieces = shape.get("pieces", 1)
    numbers = [(cut - 1 + k) % 4 + 1 for k in range(4 // pieces)]
    chain = [panel for number in numbers for panel in whole if panel.number == number]
    panel_bends = panel_bends_of(chain, given, _called, "top.turn")
    rims = {end: [rim_of(panel, end, shape[f"{end}_flange"], sizes, given) for panel in chain
                  if panel.edge(end, panel.number) is not None] for end in sizes.flanges}
    trims = {end: _trim(chain, panel_bends, end, sizes) for end in ENDS if end not in rims}
    outlines = _outlines(whole, chain, panel_bends, rims, sizes, trims)
    flanges = _flanges(chain, panel_bends, rims, outlines, sizes)
    return Transition(sizes, pieces, shape.get("piece", 1), tuple(chain), tuple(panel_bends), outlines, trims,
                      tuple(flanges), shape.get("seam", 0))


def _trim(chain, panel_bends, end, sizes) -> float:
    """How much is left on at an open end: as much as was asked, but where panels that stay joined lean together in the
    blank no more than keeps their ends a slit apart, and nothing where several bends come to one corner of it."""
    least = sizes.trim if all(len(panel.edges) == 4 for panel in chain) else 0.0
    for bend in panel_bends:
        place = (max if end == "top" else min)(bend.parent.ends(bend.at), key=lambda corner: corner[2])
        whole = sum(angle_at(panel.facet, place) for panel in chain)
        if bend.bend.id[0] == "C" and whole > math.pi:
            room = max(bend.bend.figures.allowance - SLIT, 0.0)
            least = min(least, room / (2 * math.tan((whole - math.pi) / 2)))
    return least


def _outlines(whole, chain, panel_bends, rims, sizes, trims) -> dict[str, Outline]:
    """By panel the corners of what stays flat: drawn in at its bends, cut back at a seam, longer at an open end."""
    outside, split = sizes.dims == OUTSIDE, any(len(panel.edges) == 3 for panel in chain)
    back = setbacks(panel_bends, outside) | {(rim.panel.facet.id, rim.at): rim.back for rim in sum(rims.values(), [])}
    gap = sizes.gap + (POINTED * sizes.thickness if split else 0.0)

    def free(kind, number):
        if kind != SIDE:
            return -trims.get(kind, 0.0)
        return opened(*corner_of(whole, number), outside, sizes.thickness, gap)

    return {panel.facet.id: outline_of(panel, back, free, "height") for panel in chain}


def _flanges(chain, panel_bends, rims: dict[str, list[Rim]], outlines, sizes) -> list[Flange]:
    if not rims:
        return []
    bent = bent_edges(panel_bends) | {(rim.panel.facet.id, rim.at) for own in rims.values() for rim in own}
    faces = tuple(Face(name, outline.points) for name, outline in outlines.items())
    bare = Sheet(sizes.thickness, faces[0].id, faces, tuple(bend.made(outlines, bent) for bend in panel_bends))
    flats, found = unfold(bare).faces, []
    for own in rims.values():
        wedges: list[list] = [[None, None] for _ in own]
        for n, (one, other) in enumerate(zip(own, own[1:], strict=False)):
            end = shared_end(one.end)
            wedges[n][end], wedges[n + 1][1 - end] = wedge_limits(one, other, outlines, flats, sizes.gap)
        found += [flange_of(rim, outlines[rim.panel.facet.id], sizes.gap, tuple(pair))
                  for rim, pair in zip(own, wedges, strict=True)]
    return found

"""The folded section of a profile with its sizes beside it, and small pictures of states."""

import math

import numpy as np
import shapely

from bendcore.part import Part
from bendcore.sheet.model import UP
from bendcore.sheet.rings import polygons
from bendcore.sheet.section import Piece

from .fit import Fit
from .places import LABEL_H, LABEL_W, places

WIDTH, HEIGHT = 872, 600
NAME = (28, 15)
MOST = 30
"""More inputs than these never find room about a section."""
REACHES = np.array([52, 66, 84, 104, 128, 156])
"""How far off its piece a label may stand."""
OFF = 5.0
"""The line along the good side stands so far off it, pixels."""
NAMED = 21
"""A bend's name stands so far off it in a small picture, pixels."""
STAGE = np.array([4, 64, WIDTH - 4, HEIGHT - 88])


def pieces_of(part: Part, angles=None) -> list[Piece]:
    strip = part.strip
    return strip.whole(angles if angles is not None else [b.figures.angle for b in strip.bends])


def section_view(part: Part, units: str) -> dict:
    """The section scaled to the stage, with a place for each leg's and each angle's input, in their order along
    the strip; ``good``, a line along the side to be spared. Where there is no room for all of them it is ``crowded``,
    and the places are of their names."""
    pieces = pieces_of(part)
    points = np.concatenate([p.outline for p in pieces])
    fit = Fit.into(points, 130, 120, WIDTH - 260, HEIGHT - 290)
    centre = fit(points.mean(axis=0).tolist())
    drawn = polygons([fit.all(piece.outline) for piece in pieces])  # on the page a small zone may lie on itself
    covered = shapely.union_all(shapely.make_valid(drawn))
    shapely.prepare(covered)
    kinds = {leg.id: "leg" for leg in part.shape.legs} | {bend.id: "angle" for bend in part.shape.bends}
    labels = []
    for piece in pieces:
        if piece.is_flat or piece.id in kinds:
            middle = fit(piece.outline.mean(axis=0).tolist())
            labels.append({"id": piece.id, "kind": kinds.get(piece.id, "hem"), "at": middle,
                           "away": _away(piece, middle, centre, fit)})
    first = sorted(labels, key=lambda label: label["kind"] == "angle")
    found = places(first, (LABEL_W, LABEL_H), REACHES, STAGE, covered) if len(first) <= MOST else None
    names = [] if found else places(first, NAME, REACHES / 3, STAGE, covered) or []
    for label, (left, top, right, bottom) in zip(first, found or names, strict=False):
        label |= {"left": left, "top": top, "x": round((left + right) / 2, 1), "y": round((top + bottom) / 2, 1)}
    outlines = [(piece.id, fit.path(piece.outline)) for piece in pieces]
    metal, zones = ("".join(d for p, (_, d) in zip(pieces, outlines, strict=True) if p.is_flat is kind)
                    for kind in (True, False))
    return {"metal": metal, "zones": zones, "good": _spared(part, pieces, fit), "labels": labels,
            "crowded": found is None, "bar": fit.bar(units),
            "pieces": outlines, "width": WIDTH, "height": HEIGHT}


def _spared(part, pieces, fit) -> str:
    """A line beside the good side, from end to end; empty where there is none."""
    good = part.stock.good
    if not good:
        return ""
    points = np.array(fit.all(np.concatenate([piece.side(good == UP) for piece in pieces])))
    points = points[np.append(True, np.linalg.norm(np.diff(points, axis=0), axis=1) > 1e-3)]
    line = shapely.LineString(points).parallel_offset(OFF, "right" if good == UP else "left", join_style="round")
    return "".join("M" + "L".join(f"{x:.1f},{y:.1f}" for x, y in one.coords)
                   for one in getattr(line, "geoms", [line]) if not one.is_empty)


def _away(piece, middle, centre, fit) -> float:
    """The heading in which a piece's label would best stand: off it, away from the middle."""
    out = (middle[0] - centre[0], middle[1] - centre[1])
    if piece.is_flat:
        (y0, z0), (y1, z1) = map(fit, piece.outline[:2].tolist())
        normal = (z1 - z0, -(y1 - y0))
        sign = 1 if out[0] * normal[0] + out[1] * normal[1] >= 0 else -1
        out = (sign * normal[0], sign * normal[1])
    return math.atan2(out[1], out[0])


def small_section(part: Part, width: int, height: int) -> dict:
    """A small picture of the finished section: its outline only."""
    pieces = pieces_of(part)
    points = np.concatenate([p.outline for p in pieces])
    fit = Fit.into(points, 10, 8, width - 20, height - 16)
    return {"d": " ".join(fit.path(p.outline) for p in pieces), "width": width, "height": height}


def named_section(part: Part, width: int, height: int) -> dict:
    """A small picture of the finished section, its bends named beside it."""
    pieces = pieces_of(part)
    points = np.concatenate([p.outline for p in pieces])
    fit = Fit.into(points, 34, 26, width - 68, height - 52)
    centre = fit(points.mean(axis=0).tolist())
    names = []
    for piece in (p for p in pieces if not p.is_flat):
        middle = fit(piece.outline.mean(axis=0).tolist())
        away = _away(piece, middle, centre, fit)
        x, y = middle[0] + NAMED * math.cos(away), middle[1] + NAMED * math.sin(away)
        names.append({"id": piece.id, "x": round(x, 1), "y": round(y + 4, 1)})
    return {"d": " ".join(fit.path(p.outline) for p in pieces), "names": names, "width": width, "height": height}

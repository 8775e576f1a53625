"""The folded section of a profile with its sizes beside it, and small pictures of states."""

import math

import numpy as np

from bendcore.formats.part import Part
from bendcore.sheet.section import Piece, Strip

from .fit import Fit

WIDTH, HEIGHT = 872, 600
LABEL_W, LABEL_H = 92, 44


def pieces_of(part: Part, angles=None) -> list[Piece]:
    strip = Strip.of(part.sheet)
    return strip.whole(angles if angles is not None else [b.figures.angle for b in strip.bends])


def section_view(part: Part) -> dict:
    """The section scaled to the stage, with a place for each leg's and each angle's input."""
    pieces = pieces_of(part)
    points = np.concatenate([p.outline for p in pieces])
    fit = Fit.into(points, 130, 110, WIDTH - 260, HEIGHT - 210)
    centre = fit(points.mean(axis=0))
    legs = {leg.id: i for i, leg in enumerate(part.shape.legs)}
    bends = {bend.id: i for i, bend in enumerate(part.shape.bends)}
    labels = []
    for piece in pieces:
        middle = fit(piece.outline.mean(axis=0))
        if piece.id in legs and piece.is_flat:
            labels.append(_label(piece, middle, centre, fit, {"kind": "leg", "index": legs[piece.id]}, 46))
        elif piece.id in bends and not piece.is_flat:
            labels.append(_label(piece, middle, centre, fit, {"kind": "angle", "index": bends[piece.id]}, 64))
        elif piece.is_flat:
            labels.append(_label(piece, middle, centre, fit, {"kind": "hem", "index": 0}, 46))
    _push_apart(labels)
    for label in labels:
        label["left"], label["top"] = round(label["x"] - LABEL_W / 2, 1), round(label["y"] - LABEL_H / 2, 1)
    return {"pieces": [{"id": p.id, "d": fit.path(p.outline), "flat": p.is_flat} for p in pieces],
            "labels": labels, "bar": fit.bar(), "width": WIDTH, "height": HEIGHT}


def _label(piece, middle, centre, fit, fields, off):
    """A label on the side of the piece that faces away from the section's middle."""
    if piece.is_flat:
        (y0, z0), (y1, z1) = fit(piece.outline[0]), fit(piece.outline[1])
        run = math.hypot(y1 - y0, z1 - z0) or 1.0
        normal = ((z1 - z0) / run, -(y1 - y0) / run)
        away = (middle[0] - centre[0]) * normal[0] + (middle[1] - centre[1]) * normal[1]
        sign = 1 if away >= 0 else -1
        direction = (sign * normal[0], sign * normal[1])
    else:
        out = (middle[0] - centre[0], middle[1] - centre[1])
        run = math.hypot(*out) or 1.0
        direction = (out[0] / run, out[1] / run)
    return fields | {"id": piece.id, "x": middle[0] + off * direction[0], "y": middle[1] + off * direction[1],
                     "at": middle, "away": direction}


def _push_apart(labels):
    """Move labels outwards until none lies on another and all stay on the stage."""
    for _ in range(60):
        moved = False
        for i, one in enumerate(labels):
            for other in labels[:i]:
                dx, dy = one["x"] - other["x"], one["y"] - other["y"]
                over_x, over_y = LABEL_W + 4 - abs(dx), LABEL_H + 2 - abs(dy)
                if over_x > 0 and over_y > 0:
                    moved = True
                    axis, over, delta = ("y", over_y, dy) if over_y < over_x else ("x", over_x, dx)
                    step = (over / 2 + 1) * (1 if delta >= 0 else -1)
                    one[axis] += step
                    other[axis] -= step
        for label in labels:
            label["x"] = min(max(label["x"], LABEL_W / 2 + 4), WIDTH - LABEL_W / 2 - 4)
            label["y"] = min(max(label["y"], LABEL_H / 2 + 60), HEIGHT - LABEL_H / 2 - 30)
        if not moved:
            break


def small_section(part: Part, angles=None, width=180, height=84) -> dict:
    """A small picture of a state: the section's outline only."""
    pieces = pieces_of(part, angles)
    points = np.concatenate([p.outline for p in pieces])
    fit = Fit.into(points, 10, 8, width - 20, height - 16)
    return {"d": " ".join(fit.path(p.outline) for p in pieces), "width": width, "height": height}


def film(part: Part, steps: list[dict]) -> list[dict]:
    """The states of an order, flat first: a picture after each step."""
    strip = Strip.of(part.sheet)
    angles = {b.id: 0.0 for b in strip.bends}
    cards = [{"step": 0, "title": "flat", "picture": small_section(part, [0.0] * len(angles))}]
    for n, step in enumerate(steps, 1):
        for name in step["bends"]:
            angles[name] = step["angle"]
        cards.append({"step": n, "title": ", ".join(step["bends"]), "note": step["notes"][0] if step["notes"] else "",
                      "bend": step["bends"][0], "picture": small_section(part, list(angles.values()))})
    return cards

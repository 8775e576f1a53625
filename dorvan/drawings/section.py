"""The folded section of a profile with its sizes beside it, and small pictures of states."""

import math

import numpy as np
from shapely import Polygon, box, union_all

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
    fit = Fit.into(points, 130, 120, WIDTH - 260, HEIGHT - 290)
    centre = fit(points.mean(axis=0))
    metal = union_all([Polygon([fit(p) for p in piece.outline]).buffer(3) for piece in pieces])
    legs = {leg.id: i for i, leg in enumerate(part.shape.legs)}
    bends = {bend.id: i for i, bend in enumerate(part.shape.bends)}
    labels = []
    for piece in pieces:
        if piece.is_flat:
            kind, index = ("leg", legs[piece.id]) if piece.id in legs else ("hem", 0)
        elif piece.id in bends:
            kind, index = "angle", bends[piece.id]
        else:
            continue
        middle = fit(piece.outline.mean(axis=0))
        labels.append({"id": piece.id, "kind": kind, "index": index, "at": middle,
                       "away": _away(piece, middle, centre, fit)})
    labels.sort(key=lambda label: label["kind"] == "angle")
    taken = []
    for label in labels:
        place = _free_place(label, metal, taken)
        taken.append(place)
        label["left"], label["top"] = round(place.bounds[0], 1), round(place.bounds[1], 1)
        label["x"], label["y"] = label["left"] + LABEL_W / 2, label["top"] + LABEL_H / 2
    return {"pieces": [{"id": p.id, "d": fit.path(p.outline), "flat": p.is_flat} for p in pieces],
            "labels": labels, "bar": fit.bar(), "width": WIDTH, "height": HEIGHT}


def _away(piece, middle, centre, fit) -> float:
    """The heading in which a piece's label would best stand: off it, away from the middle."""
    out = (middle[0] - centre[0], middle[1] - centre[1])
    if piece.is_flat:
        (y0, z0), (y1, z1) = fit(piece.outline[0]), fit(piece.outline[1])
        normal = (z1 - z0, -(y1 - y0))
        sign = 1 if out[0] * normal[0] + out[1] * normal[1] >= 0 else -1
        out = (sign * normal[0], sign * normal[1])
    return math.atan2(out[1], out[0])


def _free_place(label, metal, taken):
    """The nearest box round the piece that covers neither metal nor another label."""
    best = None
    for reach in (52, 66, 84, 104, 128, 156):
        for turn in (0, 30, -30, 60, -60, 90, -90, 130, -130, 180):
            heading = label["away"] + math.radians(turn)
            x = label["at"][0] + reach * math.cos(heading) * 1.15
            y = label["at"][1] + reach * math.sin(heading) * 0.8
            x = min(max(x, LABEL_W / 2 + 4), WIDTH - LABEL_W / 2 - 4)
            y = min(max(y, LABEL_H / 2 + 64), HEIGHT - LABEL_H / 2 - 88)
            place = box(x - LABEL_W / 2, y - LABEL_H / 2, x + LABEL_W / 2, y + LABEL_H / 2)
            room = place.buffer(2)
            cost = 3 * sum(room.intersection(other).area for other in taken) + room.intersection(metal).area
            if cost == 0:
                return place
            if best is None or cost < best[0]:
                best = (cost, place)
    return best[1]


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

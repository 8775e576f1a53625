"""Random trays, and how far apart two faces of a folded part stand, measured by brute force."""

import random

import numpy as np


def tray_file(**shape) -> dict:
    walls = {side: {"height": 40} for side in ("left", "right", "front", "back")}
    return {"format": "dorvan-part", "version": 1, "name": "tray", "units": "mm",
            "stock": {"material": "mild-steel", "thickness": 1.0}, "inside_radius": 1.2,
            "allowance": {"method": "k_factor", "k": 0.42},
            "shape": {"kind": "tray", "length": 200, "width": 120, "walls": walls,
                      "corners": {"style": "open", "gap": 0.5}} | shape}


def random_tray(rng: random.Random) -> dict:
    """Any corner, lips and hems, leaning walls, walls left out; sizes that a shop would make."""
    t = rng.choice([0.7, 1.0, 1.5, 2.0])
    style = rng.choice(["open", "open", "butt", "tab"])
    lean = style != "tab" and rng.random() < 0.4
    same = rng.choice([75, 82, 98, 105])
    height, walls = rng.uniform(30, 60), {}
    level = rng.random() < 0.7
    for side in ("left", "right", "front", "back"):
        if rng.random() < 0.12:
            continue
        wall = {"height": height if level else rng.uniform(30, 60)}
        if lean:
            wall["angle"] = same if rng.random() < 0.7 else 90
        kind = rng.random()
        if kind < 0.35:
            wall["lip"] = {"width": rng.uniform(10, 16) + 4 * t, "direction": rng.choice(["in", "out"])}
        if kind > 0.25 and rng.random() < 0.3:
            wall["hem"] = {"length": rng.uniform(6, 9) + t, "gap": rng.choice([0, 0.5]),
                           "direction": rng.choice(["in", "out"])}
            if "lip" in wall:
                wall["hem"]["direction"] = wall["lip"]["direction"]
        walls[side] = wall
    corners = {"style": style, "gap": rng.choice([0.2, 0.5, 1.0, 3.0])}
    if style == "tab":
        corners["tab"] = {"width": rng.uniform(10, 15) + 3 * t, "side": rng.choice(["inside", "outside"]), "ease": 4}
    if style != "open":
        corners["pair"] = rng.choice(["front", "left"])
    data = tray_file(length=rng.uniform(150, 300), width=rng.uniform(120, 200), dims=rng.choice(["outside", "inside"]),
                     direction=rng.choice(["up", "up", "down"]), walls=walls or {"front": {"height": 40}},
                     corners=corners)
    data["stock"]["thickness"] = t
    data["inside_radius"] = t * rng.uniform(0.8, 2)
    return data


def _segments(points):
    return points, np.roll(points, -1, axis=0)


def segment_distance(p0, p1, q0, q1) -> float:
    """Between two segments, by the closest points of their lines held to their ends."""
    d1, d2, r = p1 - p0, q1 - q0, p0 - q0
    a, e, f, c, b = d1 @ d1, d2 @ d2, d2 @ r, d1 @ r, d1 @ d2
    best = min(np.linalg.norm(p - (q0 + np.clip((p - q0) @ d2 / e, 0, 1) * d2)) for p in (p0, p1))
    best = min(best, *(np.linalg.norm(q - (p0 + np.clip((q - p0) @ d1 / a, 0, 1) * d1)) for q in (q0, q1)))
    denominator = a * e - b * b
    if denominator > 1e-12:
        s, t = (b * f - c * e) / denominator, (a * f - b * c) / denominator
        if 0 <= s <= 1 and 0 <= t <= 1:
            best = min(best, np.linalg.norm(p0 + s * d1 - q0 - t * d2))
    return float(best)


def apart(one, other, thickness: float) -> float:
    """Least distance between the edges of two folded faces, with their thickness."""
    best = np.inf
    for a in (one.corners, one.corners - thickness * one.normal):
        for b in (other.corners, other.corners - thickness * other.normal):
            for p0, p1 in zip(*_segments(a), strict=True):
                for q0, q1 in zip(*_segments(b), strict=True):
                    best = min(best, segment_distance(p0, p1, q0, q1))
    return best

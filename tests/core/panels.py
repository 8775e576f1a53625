"""Random panels on panels, and where they stand by arithmetic of their own."""

import math
import random

import numpy as np

from bendcore.errors import Refusal
from bendcore.part import read_part

BASE = "base"


def panels_file(panels=(), outline=((0, 0), (160, 0), (160, 100), (0, 100)), thickness=1.0, radius=1.5,
                **shape) -> dict:
    return {"format": "dorvan-part", "version": 1, "name": "panels", "units": "mm",
            "stock": {"material": "mild-steel", "thickness": thickness}, "inside_radius": radius,
            "allowance": {"method": "k_factor", "k": 0.42},
            "shape": {"kind": "panels", "outline": [list(p) for p in outline], "panels": list(panels), **shape}}


def housing_file() -> dict:
    """A housing with windows and tabs."""
    up = {"direction": "up"}
    return panels_file([up | {"edge": 1, "length": 60}, up | {"edge": 6, "length": 60},
                        up | {"on": 1, "edge": 2, "length": 14, "start": 3, "end": 3},
                        {"on": 2, "edge": 2, "length": 14, "direction": "down", "start": 20, "end": 20}],
                       [(0, 0), (220, 0), (220, 120), (150, 120), (150, 150), (0, 150)],
                       windows=[{"on": 1, "x": 90, "y": 32, "length": 80, "width": 26, "radius": 4}],
                       holes=[{"x": 180, "y": 60, "diameter": 22}, {"on": 2, "x": 75, "y": 30, "diameter": 12}])


def random_panels(rng: random.Random, most: int = 8) -> dict:
    """A tree of panels that may or may not be possible."""
    n = rng.choice([3, 4, 4, 4, 5, 6])
    around = sorted(rng.uniform(0, 2 * math.pi) for _ in range(n)) if n != 4 else [0.7, 2.4, 3.9, 5.5]
    outline = [(round(rng.uniform(90, 150) * math.cos(a), 1), round(rng.uniform(90, 150) * math.sin(a), 1))
               for a in around]
    if rng.random() < 0.25:
        outline = [(0, 0), (200, 0), (200, 80), (110, 80), (110, 170), (0, 170)]
    panels: list[dict] = []
    for _ in range(rng.randint(1, most)):
        on = rng.choice([0, 0, *range(1, len(panels) + 1)])
        taken = {p["edge"] for p in panels if p["on"] == on} | ({2} if on and "hem" in panels[on - 1] else set())
        free = [edge for edge in (range(1, len(outline) + 1) if not on else (1, 2, 3)) if edge not in taken]
        if not free:
            continue
        panels.append({"on": on, "edge": rng.choice(free), "length": rng.choice([12, 20, 30, 45]),
                       "angle": rng.choice([90, 90, 90, 60, 45, 105]), "direction": rng.choice(["up", "up", "down"]),
                       "ends": rng.choice(["mitred", "mitred", "square", "covers"])}
                      | ({"start": rng.choice([5, 8, 20])} if rng.random() < 0.3 else {})
                      | ({"end": rng.choice([5, 8, 20])} if rng.random() < 0.3 else {})
                      | ({"start_taper": rng.choice([0, 4])} if rng.random() < 0.15 else {})
                      | ({"hem": {"length": 8, "gap": rng.choice([0, 1])}} if rng.random() < 0.15 else {}))
    holes = [{"on": rng.randint(0, len(panels)), "x": rng.uniform(25, 60), "y": rng.uniform(5, 10), "diameter": 3}
             for _ in range(rng.randint(0, 2))]
    windows = [{"on": rng.randint(0, len(panels)), "x": rng.uniform(20, 60), "y": rng.uniform(10, 30), "length": 12,
                "width": 6, "radius": rng.choice([0, 1, 3]), "angle": rng.choice([0, 30])}
               for _ in range(rng.random() < 0.3)]
    return panels_file(panels, outline[::rng.choice([1, 1, -1])], thickness=rng.choice([0.8, 1.0, 1.5]),
                       gap=rng.choice([0.3, 0.5, 1.0]), holes=holes, windows=windows)


class Frame:
    """A face in space: points of its top are ``at + x·ex + y·ey``, in the coordinates of its mould."""

    def __init__(self, at, ex, ey):
        self.at, self.ex, self.ey = (np.asarray(v, float) for v in (at, ex, ey))
        self.up = np.cross(self.ex, self.ey)

    def __call__(self, x, y, z=0.0):
        return self.at + x * self.ex + y * self.ey + z * self.up


def frames(data: dict, outline) -> dict[str, Frame]:
    """Every face where its description puts it: each panel's outer face goes through the line in which it meets its
    parent's, turned by its angle about that. ``outline`` is the base's, counter-clockwise over the outside; needs
    panels that are told over the outside and start on edges of known corners."""
    shape, t = data["shape"], data["stock"]["thickness"]
    n = len(shape["outline"])
    turned = sum((b[0] - a[0]) * (b[1] + a[1]) for a, b in zip(shape["outline"], [*shape["outline"][1:],
                                                                                   shape["outline"][0]],
                                                               strict=True)) > 0
    found = {BASE: Frame((0, 0, 0), (1, 0, 0), (0, 1, 0))}
    for i, block in enumerate(shape["panels"], 1):
        on = f"P{block['on']}" if block.get("on") else BASE
        parent = found[on]
        if on == BASE:
            k = (n - 1 - block["edge"]) % n if turned else block["edge"] - 1
            a, b = outline[k], outline[(k + 1) % n]
        else:
            edge = 4 - block["edge"] if turned else block["edge"]
            a, b = edge_of(data["moulds"][on], edge)
        along = (np.array(b) - a) / math.dist(a, b)
        e = along[0] * parent.ex + along[1] * parent.ey
        out = np.cross(e, parent.up)
        sign, theta = (1 if block["direction"] == "up" else -1), math.radians(block.get("angle", 90))
        deep = -t if sign > 0 else 0.0
        ex = math.cos(theta) * out + sign * math.sin(theta) * parent.up
        up = np.cross(ex, e)
        found[f"P{i}"] = Frame(parent(*a, deep) - deep * up, ex, e)
    return found


def edge_of(mould, edge):
    """The ends of a side of a panel: 1 the side at its start, 2 its far edge, 3 the side at its end."""
    return mould[edge - 1], mould[edge]


def sound_panels(rng: random.Random) -> dict:
    """A tree of panels that can be made: nothing of it lies in anything, flat or folded."""
    while True:
        data = random_panels(rng, 5)
        try:
            if not any(read_part(data).conflicts):
                return data
        except Refusal:
            continue

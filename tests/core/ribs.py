"""Random ribs."""

import math
import random

from bendcore.errors import Refusal
from bendcore.part import read_part


def rib_file(**shape) -> dict:
    """A rib with one edge that sticks out and one that goes in."""
    return {"format": "dorvan-part", "version": 1, "name": "rib", "units": "mm",
            "stock": {"material": "aluminium-soft", "thickness": 0.8}, "inside_radius": 2.4,
            "allowance": {"method": "generic"}, "shape": {
                "kind": "rib", "outline": [[0, 0], [280, 0], [280, 60], [0, 110]],
                "edges": [{"edge": 1, "rise": -8}, {"edge": 3, "rise": 22}], "flange": {"width": 18},
                "flutes": {"width": 12}} | shape}


def random_rib(rng: random.Random, **more) -> dict:
    """One that can be made; what runs into itself is refused, and drawn again."""
    while True:
        n = rng.randint(3, 6)
        around = sorted(rng.uniform(0, 2 * math.pi) for _ in range(n))
        points = [[round(160 * math.cos(a) * rng.uniform(0.6, 1.2), 1),
                   round(120 * math.sin(a) * rng.uniform(0.6, 1.2), 1)] for a in around]
        edges = [{"edge": i + 1, "rise": rng.choice([0, rng.uniform(-12, 30)]),
                  "flange": rng.choice(["hammered"] * 4 + ["none"])} for i in range(n) if rng.random() < 0.6]
        corners = [{"corner": i + 1, "radius": rng.uniform(12, 40)} for i in range(n) if rng.random() < 0.3]
        data = rib_file(outline=points[::rng.choice([1, -1])], edges=edges, corners=corners,
                        dims=rng.choice(["outside", "inside"]),
                        flange={"width": rng.uniform(8, 25), "angle": rng.choice([90, 90, 70, 105]),
                                "direction": rng.choice(["up", "down"])})
        data["shape"] |= more
        try:
            read_part(data)
        except Refusal:
            continue
        return data

"""Random guards."""

import math
import random

from bendcore.errors import Refusal
from bendcore.part import read_part


def guard_file(**shape) -> dict:
    return {"format": "dorvan-part", "version": 1, "name": "guard", "units": "mm",
            "stock": {"material": "mild-steel", "thickness": 1.0}, "inside_radius": 1.2,
            "allowance": {"method": "k_factor", "k": 0.42},
            "shape": {"kind": "guard", "outline": [[0, 0], [240, 0], [240, 90], [150, 160], [0, 160]], "width": 80,
                      "wrapped": [2, 5], "front": {"width": 14, "direction": "in"},
                      "back": {"width": 14, "direction": "in"}, "corners": {"style": "mitre", "gap": 0.5}} | shape}


def random_guard(rng: random.Random) -> dict:
    """A star-shaped outline, now and then with a corner turned inwards; one that can be a guard."""
    while True:
        data = _any_guard(rng)
        try:
            read_part(data)
        except Refusal as refusal:
            if "straight on" not in refusal.message and "first corner" not in refusal.message:
                raise
            continue
        return data


def _any_guard(rng: random.Random) -> dict:
    t, n = rng.choice([0.7, 1.0, 1.5]), rng.randint(3, 7)
    size = rng.uniform(200, 400)
    outline = []
    for i in range(n):
        a = 2 * math.pi * (i + rng.uniform(-0.15, 0.15)) / n
        r = size * rng.uniform(0.75, 1.0)
        outline.append([round(r * math.cos(a), 2), round(r * math.sin(a), 2)])
    if n >= 5 and rng.random() < 0.5:
        outline[2] = [outline[2][0] * 0.45, outline[2][1] * 0.45]
    if rng.random() < 0.3:
        outline.reverse()
    shape = {"outline": outline, "width": rng.uniform(70, 200),
             "corners": {"style": rng.choice(["mitre", "bypass"]), "gap": rng.choice([0.2, 0.5, 1.0])}}
    shape["wrapped"] = [rng.randint(1, n), rng.randint(1, n)]
    data = guard_file(**shape)
    if rng.random() < 0.25:
        data["shape"].pop("wrapped", None)
    for side in ("front", "back"):
        if rng.random() < 0.25:
            del data["shape"][side]
        else:
            data["shape"][side] = {"width": rng.uniform(10, 22), "direction": rng.choice(["in", "in", "out"])}
    data["stock"]["thickness"] = t
    data["inside_radius"] = t * rng.uniform(0.8, 2)
    return data

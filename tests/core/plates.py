"""Random flanged plates."""

import math
import random


def plate_file(**shape) -> dict:
    return {"format": "dorvan-part", "version": 1, "name": "plate", "units": "mm",
            "stock": {"material": "mild-steel", "thickness": 2.0}, "inside_radius": 2.5,
            "allowance": {"method": "k_factor", "k": 0.42},
            "shape": {"kind": "plate", "outline": [[0, 0], [150, 0], [150, 100], [0, 100]],
                      "flanges": [{"edge": 1, "length": 30, "direction": "up"}]} | shape}


def random_plate(rng: random.Random) -> dict:
    """A polygon of 3 to 7 corners round a circle, or an L; flanges whole, in part, with returns."""
    if rng.random() < 0.25:
        outline = [[0, 0], [200, 0], [200, 90], [110, 90], [110, 180], [0, 180]]
    else:
        n = rng.randint(3, 7)
        angles = sorted((i + rng.uniform(-0.25, 0.25)) * 2 * math.pi / n for i in range(n))
        outline = [[120 * math.cos(a), 120 * math.sin(a)] for a in angles]
    if rng.random() < 0.4:
        outline = outline[::-1]
    t = rng.choice([1.0, 1.5, 2.0])
    flanges = []
    for edge in range(1, len(outline) + 1):
        if rng.random() < 0.45:
            continue
        a, b = outline[edge - 1], outline[edge % len(outline)]
        flange = {"edge": edge, "length": rng.uniform(14, 22) + 4 * t, "direction": rng.choice(["up", "up", "down"]),
                  "angle": rng.choice([90, 90, 60, 105])}
        for key, share in (("start", 0.4), ("end", 0.3)):
            if rng.random() < share:  # some so near the corner that a neighbour is in the way
                flange[key] = rng.uniform(0.2, rng.choice([9, 0.3 * math.dist(a, b)]))
        if rng.random() < 0.25:
            flange["return"] = {"length": rng.uniform(8, 12) + 3 * t, "direction": rng.choice(["up", "down"])}
        flanges.append(flange)
    data = plate_file(outline=outline, flanges=flanges)
    data["stock"]["thickness"] = t
    data["inside_radius"] = t * rng.uniform(0.8, 1.6)
    return data

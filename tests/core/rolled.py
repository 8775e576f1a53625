"""Random cones and tubes."""

import random

from bendcore.errors import Refusal
from bendcore.part import read_part


def rolled_file(**shape) -> dict:
    return {"format": "dorvan-part", "version": 1, "name": "rolled", "units": "mm",
            "stock": {"material": "mild-steel", "thickness": 1.0}, "allowance": {"method": "generic"}, "shape": shape}


def cone_file(**shape) -> dict:
    return rolled_file(**({"kind": "cone", "large": 180, "small": 80, "height": 120} | shape))


def tube_file(**shape) -> dict:
    return rolled_file(**({"kind": "tube", "diameter": 120, "length": 80} | shape))


def random_rolled(rng: random.Random) -> dict:
    """One that can be rolled; ends that meet are refused, and drawn again."""
    while True:
        seam = {"kind": rng.choice(["butt", "lap", "lock"]), "at": rng.uniform(0, 360)}
        if seam["kind"] != "butt":
            seam["width"] = rng.uniform(4, 15)
        tilts = [rng.choice([0, rng.uniform(-40, 40)]) for _ in range(2)]
        how = {"dims": rng.choice(["outside", "inside", "neutral"]), "k": rng.choice([0.4, 0.5]), "seam": seam}
        if rng.random() < 0.5:
            small = rng.uniform(40, 300)
            data = cone_file(small=small, large=small + rng.uniform(10, 250), height=rng.uniform(60, 400),
                             large_tilt=tilts[0], small_tilt=tilts[1], **how)
        else:
            data = tube_file(diameter=rng.uniform(40, 400), length=rng.uniform(60, 400), start_tilt=tilts[0],
                             end_tilt=tilts[1], **how)
        data["stock"]["thickness"] = rng.choice([0.7, 1.0, 2.0])
        try:
            read_part(data)
        except Refusal:
            continue
        return data

"""Random sleeves."""

import random


def sleeve_file(**shape) -> dict:
    return {"format": "dorvan-part", "version": 1, "name": "sleeve", "units": "mm",
            "stock": {"material": "mild-steel", "thickness": 1.0}, "inside_radius": 1.2,
            "allowance": {"method": "k_factor", "k": 0.42},
            "shape": {"kind": "sleeve", "width": 120, "height": 80, "length": 200,
                      "seam": {"kind": "lap", "lap": 15, "gap": 0.5}} | shape}


def random_sleeve(rng: random.Random) -> dict:
    t = rng.choice([0.7, 1.0, 1.5])
    seam = {"kind": rng.choice(["lap", "butt", "standing"]), "gap": rng.choice([0.2, 0.5, 1.0])}
    if seam["kind"] == "lap":
        seam |= {"lap": rng.uniform(12, 20), "hole": rng.choice([0, 3.2])}
    if seam["kind"] == "standing":
        seam |= {"height": rng.uniform(8, 20), "hole": rng.choice([0, 3.2])}
    ends = {f"{end}_flange": {"width": rng.uniform(10, 20), "direction": rng.choice(["in", "out"])}
            for end in ("start", "end") if rng.random() < 0.6}
    data = sleeve_file(width=rng.uniform(90, 200), height=rng.uniform(80, 150), length=rng.uniform(90, 300), seam=seam,
                       dims=rng.choice(["outside", "inside"]), **ends)
    data["stock"]["thickness"] = t
    data["inside_radius"] = t * rng.uniform(0.8, 2)
    return data

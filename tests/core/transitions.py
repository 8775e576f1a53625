"""Random transitions, and squares to round."""

import random

from bendcore.errors import Refusal
from bendcore.part import read_part


def transition_file(**shape) -> dict:
    return {"format": "dorvan-part", "version": 1, "name": "transition", "units": "mm",
            "stock": {"material": "mild-steel", "thickness": 1.0}, "inside_radius": 1.2,
            "allowance": {"method": "k_factor", "k": 0.42},
            "shape": {"kind": "transition", "bottom": {"length": 160, "width": 120},
                      "top": {"length": 100, "width": 80, "offset": [20, 0], "turn": 0}, "height": 120,
                      "gap": 1} | shape}


def square_to_round_file(**shape) -> dict:
    return transition_file() | {"shape": {
        "kind": "square-to-round", "square": {"length": 200, "width": 160},
        "round": {"diameter": 120, "offset": [0, 0]}, "height": 140, "facets": 4, "gap": 1} | shape}


def random_square_to_round(rng: random.Random) -> dict:
    """One that can be made."""
    while True:
        data = square_to_round_file(
            square={"length": rng.uniform(100, 300), "width": rng.uniform(100, 300)}, facets=rng.randint(1, 8),
            round={"diameter": rng.uniform(60, 250), "offset": [rng.uniform(-40, 40), rng.uniform(-40, 40)]},
            height=rng.uniform(80, 300), dims=rng.choice(["outside", "inside"]))
        try:
            read_part(data)
        except Refusal:
            continue
        return data


def random_transition(rng: random.Random) -> dict:
    """One that can be made: flanges so narrow that a bend uses them up are refused, and drawn again."""
    while True:
        data = _random(rng)
        try:
            read_part(data)
        except Refusal:
            continue
        return data


def _random(rng):
    flanges = {f"{end}_flange": {"width": rng.uniform(10, 25), "direction": rng.choice(["in", "out"])}
               for end in ("bottom", "top") if rng.random() < 0.6}
    data = transition_file(
        bottom={"length": rng.uniform(80, 300), "width": rng.uniform(80, 300)},
        top={"length": rng.uniform(80, 300), "width": rng.uniform(80, 300),
             "offset": [rng.uniform(-40, 40), rng.uniform(-40, 40)],
             "turn": rng.choice([0, 0, 90, rng.uniform(-45, 45), rng.uniform(-180, 180)])},
        height=rng.uniform(80, 300), gap=rng.choice([0.5, 1, 2]), dims=rng.choice(["outside", "inside"]),
        trim=rng.choice([0, 2]), pieces=rng.choice([1, 2]), **flanges)
    data["shape"]["piece"] = rng.randint(1, data["shape"]["pieces"])
    data["stock"]["thickness"] = t = rng.choice([0.7, 1.0, 1.5])
    data["inside_radius"] = t * rng.uniform(0.8, 2)
    return data

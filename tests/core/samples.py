"""Parts and brakes for tests: plain ones, and random ones by seed or by hypothesis."""

import copy
import json
import random
from pathlib import Path

from hypothesis import strategies as st

from bendcore.brakes.brake import read_brake
from bendcore.brakes.press import read_press
from bendcore.order.planning import plan_order
from bendcore.part import Part, read_part

ROOT = Path(__file__).resolve().parents[2]
REFERENCE = ROOT / "tests" / "reference"


def reference(name: str) -> list[dict]:
    return json.loads((REFERENCE / f"{name}.json").read_text("utf-8"))


def order_result(part: Part, brake, names=None) -> dict:
    """An order as its file says it."""
    return plan_order(part, brake, names).written(part.units)


def part_file(legs=(30, 60, 30), bends=((90, "up"), (90, "up")), *, thickness=1.0, radius=1.2, width=300,
              springback=1.0, **shape) -> dict:
    return {"format": "dorvan-part", "version": 1, "name": "sample", "units": "mm",
            "stock": {"material": "mild-steel", "thickness": thickness, "springback": springback},
            "inside_radius": radius, "allowance": {"method": "k_factor", "k": 0.42},
            "shape": {"kind": "profile", "width": width, "legs": list(legs),
                      "bends": [{"angle": a, "direction": d} for a, d in bends], **shape}}


def press_file() -> dict:
    return json.loads((ROOT / "demo" / "press-60t.json").read_text("utf-8"))


def press(punches=None, dies=None):
    """The demo brake, its rack cut down to the named tools."""
    data = copy.deepcopy(press_file())
    if punches:
        data["punches"] = [p for p in data["punches"] if p["name"] in punches]
    if dies:
        data["dies"] = [d for d in data["dies"] if d["name"] in dies]
    return read_press(data)


def random_part(rng: random.Random, most=6, least=2):
    n = rng.randint(least, most)
    legs = [rng.randint(10, 55) for _ in range(n + 1)]
    bends = [(rng.choice([90, 90, 90, 60, 45]), rng.choice(["up", "up", "up", "down"])) for _ in range(n)]
    return read_part(part_file(legs, bends))


@st.composite
def profiles(draw):
    """Part files that can be read: legs longer than any setback they could meet."""
    t = draw(st.sampled_from([0.7, 1.0, 1.5, 3.0]))
    n = draw(st.integers(0, 6))
    ratio = draw(st.floats(0.7, 3))
    legs = draw(st.lists(st.floats(90 * t, 200 * t), min_size=n + 1, max_size=n + 1))
    bends = draw(st.lists(st.tuples(st.floats(5, 140), st.sampled_from(["up", "down"])), min_size=n, max_size=n))
    extra = {"dims": draw(st.sampled_from(["outside", "inside", "flat"])),
             "convention": draw(st.sampled_from(["apex", "tangent"]))}
    for end in ("start_hem", "end_hem"):
        if draw(st.booleans()):
            extra[end] = {"length": 12 * t, "gap": draw(st.sampled_from([0, t])), "direction": "up"}
    return part_file(legs, bends, thickness=t, radius=ratio * t, **extra)


def tray_file(length=200, width=140, walls=None, *, radius=1.2, springback=1.0, **shape) -> dict:
    """A tray with 30 mm walls all round unless said otherwise."""
    walls = walls if walls is not None else {side: {"height": 30} for side in ("left", "right", "front", "back")}
    return {"format": "dorvan-part", "version": 1, "name": "sample", "units": "mm",
            "stock": {"material": "mild-steel", "thickness": 1.0, "springback": springback},
            "inside_radius": radius, "allowance": {"method": "k_factor", "k": 0.42},
            "shape": {"kind": "tray", "dims": "outside", "length": length, "width": width, "walls": walls,
                      "corners": {"style": "open", "gap": 0.5}, **shape}}


def brake(name: str, **changes):
    """A brake of the demo shop, its file changed so."""
    return read_brake(json.loads((ROOT / "demo" / f"{name}.json").read_text("utf-8")) | changes)


def random_tray(rng: random.Random, most=4):
    """A tray of two to four walls, some with lips, now and then one too high, too narrow or lipped inwards."""
    sides = rng.sample(("left", "right", "front", "back"), rng.randint(2, 4))
    walls, bends = {}, len(sides)
    for side in sides:
        walls[side] = {"height": rng.choice([14, 25, 40, 60, 125])}
        if bends < most and rng.random() < 0.5:
            walls[side]["lip"] = {"width": rng.choice([9, 15]), "direction": rng.choice(["in", "out"])}
            bends += 1
    return read_part(tray_file(rng.choice([60, 120, 260]), rng.choice([55, 90, 180]), walls))

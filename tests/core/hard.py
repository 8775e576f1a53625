"""Hard parts of all families: thick stock, tiny flanges, sharp and obtuse corners, unlike angles and radii,
leaning walls, places that are nearly others. Many of them cannot be made; those must be refused, not crash."""

import math
import random

from tests.core.guards import guard_file
from tests.core.plates import plate_file
from tests.core.samples import part_file
from tests.core.sleeves import sleeve_file
from tests.core.trays import tray_file


def _hole(rng, wide, high, keys=("x", "y")):
    return {keys[0]: rng.uniform(0, wide), keys[1]: rng.uniform(0, high), "diameter": rng.choice([2, 5, 9])}


def _plate(rng, t):
    n, size = rng.randint(3, 6), rng.uniform(25, 120)
    turns = sorted(rng.uniform(0, 2 * math.pi) for _ in range(n))
    outline = [[size * math.cos(a), size * rng.uniform(0.6, 1) * math.sin(a)] for a in turns]
    flanges = []
    for edge in rng.sample(range(1, n + 1), rng.randint(1, n)):
        flange = {"edge": edge, "length": rng.uniform(2, 20) + 4 * t, "direction": rng.choice(["up", "down"]),
                  "angle": rng.choice([90, 30, 45, 120, 135, 88]), "inside_radius": rng.choice([0, t, 3 * t])}
        flange |= {key: rng.uniform(0, rng.choice([3 * t, 15])) for key in ("start", "end") if rng.random() < 0.4}
        if rng.random() < 0.3:
            flange["return"] = {"length": rng.uniform(3, 12) + 3 * t, "direction": rng.choice(["up", "down"])}
        if rng.random() < 0.3:
            flange["holes"] = [_hole(rng, 2 * size, 20, ("along", "up")) for _ in range(rng.randint(1, 2))]
        flanges.append(flange)
        if rng.random() < 0.2:
            flanges.append(flange | {"start": flange.get("start", 0) + rng.uniform(5, 40),
                                     "direction": rng.choice(["up", "down"])})
    return plate_file(outline=outline, flanges=flanges, gap=rng.choice([0, 0.2, 1, 3]),
                      holes=[_hole(rng, size, size) for _ in range(rng.randint(0, 2))])


def _tray(rng, t):
    walls = {}
    for side in ("left", "right", "front", "back"):
        if rng.random() < 0.2:
            continue
        wall = {"height": rng.uniform(2, 60) + 4 * t, "angle": rng.choice([90, 90, 60, 75, 110, 135]),
                "inside_radius": rng.choice([0, t, 4 * t])}
        if rng.random() < 0.3:
            wall["lip"] = {"width": rng.uniform(2, 15) + 4 * t, "direction": rng.choice(["in", "out"])}
        if rng.random() < 0.3:
            wall["hem"] = {"length": rng.uniform(1, 9) + 2 * t, "gap": rng.choice([0, t]),
                                                 "direction": rng.choice(["in", "out"])}
        walls[side] = wall
    style = rng.choice(["open", "butt", "tab"])
    if style == "tab":
        walls = {side: wall | {"angle": 90} for side, wall in walls.items()}
    corners = {"style": style, "gap": rng.choice([0, 0.2, 1, 4])}
    if style == "tab":
        corners["tab"] = {"width": rng.uniform(
            5, 15) + 2 * t, "side": rng.choice(["inside", "outside"]), "ease": rng.choice([0, 1, 5])}
    walls = walls or {"left": {"height": 20 + 4 * t}}
    return tray_file(length=rng.uniform(40, 150), width=rng.uniform(40, 150), walls=walls,
                     corners=corners, holes=[_hole(rng, 100, 100) for _ in range(rng.randint(0, 2))])


def _guard(rng, t):
    n = rng.randint(3, 7)
    outline = [[rng.uniform(0, 200), rng.uniform(0, 200)] for _ in range(n)]
    middle = [sum(axis) / n for axis in zip(*outline, strict=True)]
    outline.sort(key=lambda p: math.atan2(p[1] - middle[1], p[0] - middle[0]))
    sides = {side: {"width": rng.uniform(2, 30) + 3 * t, "direction": rng.choice(["in", "out"])}
             for side in ("front", "back") if rng.random() < 0.7}
    data = guard_file(outline=outline, width=rng.uniform(20, 120) + 6 * t,
                      wrapped=[rng.randint(1, n), rng.randint(1, n)],
                      corners={"style": rng.choice(["mitre", "bypass"]), "gap": rng.choice([0, 0.3, 2])})
    for side in ("front", "back"):
        del data["shape"][side]
    data["shape"] |= sides
    return data


def _sleeve(rng, t):
    seam = rng.choice([{"kind": "butt"}, {"kind": "lap", "lap": rng.uniform(3, 20) + 3 * t},
                       {"kind": "standing", "height": rng.uniform(3, 20) + 3 * t}])
    if seam["kind"] != "butt" and rng.random() < 0.5:
        seam |= {"hole": rng.choice([2, 6]), "holes": rng.randint(1, 30)}
    ends = {f"{end}_flange": {"width": rng.uniform(2, 30) + 3 * t, "direction": rng.choice(["in", "out"])}
            for end in ("start", "end") if rng.random() < 0.5}
    return sleeve_file(width=rng.uniform(20, 120) + 4 * t, height=rng.uniform(20, 120) + 4 * t,
                       length=rng.uniform(10, 150) + 4 * t, seam=seam | {"gap": rng.choice([0, 0.3, 2])}, **ends)


def _strip(rng, t):
    n = rng.randint(0, 4)
    ends = {}
    if rng.random() < 0.4:
        ends["taper"] = {"front": {"start": rng.uniform(0, 20), "end": rng.uniform(0, 30)}}
    if rng.random() < 0.4:
        ends["snips"] = {"end_back": {"along": rng.uniform(1, 20), "across": rng.uniform(1, 20)}}
    if rng.random() < 0.4:
        ends["start_hem"] = {"length": rng.uniform(2, 9) + 2 * t, "gap": rng.choice([0, t]), "direction": "up"}
    return part_file([rng.uniform(3, 40) + 6 * t for _ in range(n + 1)],
                     [(rng.choice([10, 45, 90, 120, 140]), rng.choice(["up", "down"])) for _ in range(n)],
                     width=rng.uniform(20, 100), **ends)


def hard_part(rng: random.Random) -> dict:
    """A part file that may or may not be possible."""
    t = rng.choice([0.5, 1, 2, 4, 6])
    data = rng.choice([_plate, _plate, _tray, _tray, _guard, _sleeve, _strip])(rng, t)
    data["stock"]["thickness"] = t
    data["inside_radius"] = t * rng.choice([0, 0.5, 1, 2.5])
    return data

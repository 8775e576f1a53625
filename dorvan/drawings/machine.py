"""One still of a step in the machine, from its frames."""

from bendcore.sheet.section import END, START, Strip

from .fit import Fit

WIDTH, HEIGHT = 420, 320
REACH = 90.0
HALF = 46
"""Half the width of what is written at the end that goes to the stop, pixels."""


def step_picture(frames: dict, strip: Strip, held: str, which: str = "during") -> dict:
    """The last frame of a phase: tools cut off at the picture's edge, the part in front, its two ends named and which
    of them is ``held`` towards the stop."""
    frame = [f for f in frames["frames"] if f["phase"] == which][-1]
    part = [p for piece in frame["part"] for p in piece["points"]]
    low = [min(min(p[k] for p in part), -REACH * 0.5) for k in (0, 1)]
    high = [max(max(p[k] for p in part), REACH * 0.5) for k in (0, 1)]
    fit = Fit.into([low, high], 10, 10, WIDTH - 20, HEIGHT - 20)
    moved = {name: [(y, z + frame["lift"]) for y, z in pts] for name, pts in frames["moving"].items()}
    return {"width": WIDTH, "height": HEIGHT,
            "tools": [{"name": n, "d": fit.path(p)} for n, p in (frames["still"] | moved).items()],
            "part": [{"id": piece["id"], "d": fit.path(piece["points"])} for piece in frame["part"]],
            "ends": [_end(frame, fit, strip.flats[at][0], frames["still"].get("stop") if held == end else None,
                          held == end) for end, at in ((START, 0), (END, -1))]}


def _end(frame, fit, name, stop, held) -> dict:
    """Where the name of an end's face stands: on the stop it goes to, else over the face, or under one too high up."""
    points = fit.all(next(piece["points"] for piece in frame["part"] if piece["id"] == name))
    half = HALF if held else HALF / 3
    (x, _), top, bottom = points.mean(axis=0), points[:, 1].min() - 7, points[:, 1].max() + 16
    y = top if top > 14 else bottom
    if stop:
        box = fit.all(stop)
        x, y = box[:, 0].min() + half + 6, box[:, 1].mean() + 4
    return {"id": name, "held": held, "x": round(float(min(max(x, half), WIDTH - half)), 1), "y": round(float(y), 1)}

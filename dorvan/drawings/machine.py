"""One still of a step in the machine, from its frames."""

from .fit import Fit

WIDTH, HEIGHT = 420, 320
REACH = 90.0


def step_picture(frames: dict, which: str = "during") -> dict:
    """The last frame of a phase: tools cut off at the picture's edge, the part in front."""
    frame = [f for f in frames["frames"] if f["phase"] == which][-1]
    part = [p for piece in frame["part"] for p in piece["points"]]
    low = [min(min(p[k] for p in part), -REACH * 0.5) for k in (0, 1)]
    high = [max(max(p[k] for p in part), REACH * 0.5) for k in (0, 1)]
    fit = Fit.into([low, high], 10, 10, WIDTH - 20, HEIGHT - 20)
    moved = {name: [(y, z + frame["lift"]) for y, z in pts] for name, pts in frames["moving"].items()}
    return {"width": WIDTH, "height": HEIGHT,
            "tools": [{"name": n, "d": fit.path(p)} for n, p in (frames["still"] | moved).items()],
            "part": [{"id": piece["id"], "d": fit.path(piece["points"])} for piece in frame["part"]]}

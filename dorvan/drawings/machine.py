"""One still of a step in the machine, from its frames."""

import numpy as np

from bendcore.part import Part

from .fit import Fit, ring_path

WIDTH, HEIGHT = 420, 320
REACH = 90.0
BEHIND = 14.0
"""So much of a stop is seen, mm."""
LETTER = 4.4
"""Half the width of a letter there, pixels."""
HELD = " to the stop"
"""What is written after the name of the end that is held, the most there is."""


def step_picture(frames: dict, part: Part, held: str, which: str = "during") -> dict:
    """The last frame of a phase: tools cut off at the picture's edge, the part in front, the faces named that lie in
    the section and which of them is ``held`` towards the stop or under the clamp."""
    return _drawn(frames, part, held, which)[0]


def set_picture(frames: dict, part: Part, held: str, stop: float | None) -> dict:
    """The same as the punch touches the sheet, with the ``stop`` dimensioned from the bend line, mm."""
    picture, fit = _drawn(frames, part, held, "before", () if stop is None else ((stop + BEHIND, 0.0),))
    if stop is None:
        return picture
    (line, level), (face, _) = fit((0.0, 0.0)), fit((stop, 0.0))
    return picture | {"stop": {"line": line, "face": face, "from": level, "y": HEIGHT - 12}}


def _drawn(frames, part, held, which, more=()) -> tuple[dict, Fit]:
    frame = [f for f in frames["frames"] if f["phase"] == which][-1]
    cut = [piece for piece in frame["part"] if piece["cut"]]
    points = [*more, *(p for piece in cut for p in piece["points"])]
    low = [min(min(p[k] for p in points), -REACH * 0.5) for k in (0, 1)]
    high = [max(max(p[k] for p in points), REACH * 0.5) for k in (0, 1)]
    fit = Fit.into([low, high], 10, 10, WIDTH - 20, HEIGHT - 20)
    moved = {name: moved_by(points, frame["shifts"].get(name, (0, 0, 0))) for name, points in frames["moving"].items()}
    return {"width": WIDTH, "height": HEIGHT,
            "tools": [{"name": n} | _on_page(fit, p) for n, p in (frames["still"] | moved).items()],
            "part": [{"id": piece["id"], "cut": piece["cut"]} | _on_page(fit, piece["points"])
                     for piece in frame["part"]],
            "ends": _ends(cut, fit, part, held, frames["still"].get("stop"))}, fit


def _on_page(fit, ring) -> dict:
    """A ring by its points on the page and as a path."""
    points = fit.all(ring)
    return {"points": points, "d": ring_path(points)}


def moved_by(points: list, shift: list) -> list:
    """A section turned about the origin (degrees) and moved to the right and up: ``shift`` is (right, up, turned)."""
    right, up, turned = shift
    c, s = np.cos(np.radians(turned)), np.sin(np.radians(turned))
    return [(y * c - z * s + right, y * s + z * c + up) for y, z in points]


def _ends(cut, fit, part, held, stop) -> list[dict]:
    """Where names stand: of the outermost faces of the section to the left and the right, and of the face held."""
    middles = {piece["id"]: np.mean(piece["points"], axis=0)[0] for piece in cut if piece["id"] in part.sheet.face}
    if not middles:
        return []
    names = {min(middles, key=middles.get), max(middles, key=middles.get)}
    at_stop = max(middles, key=middles.get)
    called = part.shape.short if part.shape.is_strip else part.shape.called
    return [_end(cut, fit, name, called(name), stop if name == at_stop else None, name == held)
            for name in sorted(names)]


def _end(cut, fit, name, called, stop, held) -> dict:
    """Where the name of an end's face stands: on the stop it goes to, else over the face, or under one too high up."""
    points = fit.all(next(piece["points"] for piece in cut if piece["id"] == name))
    half = LETTER * len(f"{called}{HELD}" if held else called)
    (x, _), top, bottom = points.mean(axis=0), points[:, 1].min() - 7, points[:, 1].max() + 16
    y = top if top > 14 else bottom
    if stop and held:
        box = fit.all(stop)
        x, y = box[:, 0].min() + half + 6, box[:, 1].mean() + 4
    return {"id": called, "held": held, "x": round(float(min(max(x, half), WIDTH - half)), 1), "y": round(float(y), 1)}

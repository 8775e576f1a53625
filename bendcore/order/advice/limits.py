"""What a brake can do at most in a metal: measure the machine before anything is cut.

Model parts are bent by simulation in the part's stock, radius and allowance, and one size of each is halved in on: the
highest wall of a square tray, the narrowest tray with low walls, the deepest channel on a base of its width, the
shortest leg of an angle.
"""

import copy
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from ...brakes.brake import Brake
from ...errors import Refusal
from ...part import read_part
from ...patience import ENDLESS, Patience
from ...said import Mm, Said
from ..search.backwards import fits

FINENESS = 1.0
"""Limits are given to so much on the side that works, mm."""
LARGE, LOW_WALL, CHANNEL = 300.0, 25.0, 60.0
"""A tray's sides for its walls; its walls for its width; a channel's base, mm."""
MOST = 400.0
SIDES = ("left", "right", "front", "back")


@dataclass(frozen=True)
class Limit:
    """``name`` of what is limited, in ``words``, and how far it goes, mm; None where the model cannot be bent at all,
    ``open_ended`` where no limit was met as far as it was looked. ``unfinished`` where there was no time to look
    closer: the size is the best that was seen to work, None where none was."""

    name: str
    words: str
    size: float | None
    open_ended: bool = False
    unfinished: bool = False


def limits(data: dict, brake: Brake, patience: Patience = ENDLESS) -> list[Limit]:
    """The limits of a brake for the stock of a part file."""
    wide = min(LARGE, brake.length * 0.8)

    def tray(size, height):
        return _model(data, {"kind": "tray", "dims": "outside", "length": f"{size} mm", "width": f"{size} mm",
                             "walls": {side: {"height": f"{height} mm"} for side in SIDES}})

    def channel(leg):
        return _model(data, {"kind": "profile", "dims": "outside", "width": f"{min(200.0, wide)} mm",
                             "legs": [f"{leg} mm", f"{CHANNEL} mm", f"{leg} mm"],
                             "bends": [{"angle": 90, "direction": "up"}] * 2})

    def angle(leg):
        return _model(data, {"kind": "profile", "dims": "outside", "width": f"{min(200.0, wide)} mm",
                             "legs": [f"{leg} mm", f"{CHANNEL} mm"], "bends": [{"angle": 90, "direction": "up"}]})

    def works(model) -> bool:
        try:
            part = read_part(model)
        except Refusal:
            return False
        return fits(part, brake, patience)

    most = min(MOST, wide)
    asked = (
        ("highest-wall", Said("highest walls of a tray {wide} square", wide=Mm(wide)), partial(tray, wide),
         LOW_WALL, most),
        ("narrowest-tray", Said("narrowest tray with walls of {low}", low=Mm(LOW_WALL)),
         lambda size: tray(size, LOW_WALL), wide, 10.0),
        ("deepest-channel", Said("deepest channel on a base of {base}", base=Mm(CHANNEL)), channel, LOW_WALL, most),
        ("shortest-leg", Said("shortest leg of an angle"), angle, CHANNEL, 1.0))
    found = []
    for n, (name, words, model, able, far) in enumerate(asked, 1):
        patience.note(turn=n, of=len(asked))
        found.append(_halved(name, words, lambda size, model=model: works(model(size)), able, far, patience))
    return found


def _model(data: dict, shape: dict) -> dict:
    found = copy.deepcopy({key: value for key, value in data.items() if key != "shape"})
    return found | {"name": "model", "shape": shape}


def _halved(name, words, works: Callable[[float], bool], able: float, most: float, patience: Patience) -> Limit:
    """How far a size goes from one that is ``able``, the best for there to be a limit, to what is asked at ``most``."""
    if works(most):
        return Limit(name, words, most, open_ended=True)
    if patience():
        return Limit(name, words, None, unfinished=True)
    if not works(able):
        return Limit(name, words, None, unfinished=patience())
    while abs(most - able) > FINENESS:
        middle = (able + most) / 2
        if works(middle):
            able = middle
        elif patience():
            return Limit(name, words, able, unfinished=True)
        else:
            most = middle
    return Limit(name, words, able)

"""Set lessons for practice: a part, the brake it is bent on, and what is hidden in it."""

import json
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from pathlib import Path

from django.conf import settings

from bendcore.brakes.brake import Brake, read_brake
from bendcore.brakes.press import PressBrake
from bendcore.floor.ties import Ties
from bendcore.order.plan import Step
from bendcore.order.planning import plan_order
from bendcore.part import Part, read_part


@dataclass(frozen=True)
class Lesson:
    """``aim`` says what is to be learnt; ``hidden`` is what is certain of what the seed draws, ``drifts`` how much more
    the lot springs back from piece to piece, degrees per 90°; ``asks_k`` whether K is to be found."""

    title: str
    aim: str
    brake: str
    shape: dict
    metal: tuple[str, float, float]
    hidden: dict = field(default_factory=dict)
    drifts: float = 0.0
    asks_k: bool = False


def _strip(legs, bends, width=300):
    return {"kind": "profile", "width": width, "legs": legs,
            "bends": [{"angle": angle, "direction": way} for angle, way in bends]}


LESSONS = {
    "first-angle": Lesson(
        "The first angle", "One bend to within half a degree, in as few strips as can be. How far did it spring back?",
        "press-60t", _strip([40, 60], [(90, "up")], 80), ("mild-steel", 1.5, 1.5)),
    "own-k": Lesson(
        "Finding your own K",
        "Both legs of a strip measured say what the bend took. Which K would have made them right?",
        "press-60t", _strip([40, 60], [(90, "up")], 80), ("stainless-304", 1.2, 1.5), {"springback": 0.0}, asks_k=True),
    "hat": Lesson(
        "A hat and its stop", "Four bends, one stop: read from the legs whether the stop stands off, or the allowance.",
        "press-60t", _strip([18, 24, 48, 24, 18], [(90, "up"), (90, "down"), (90, "down"), (90, "up")]),
        ("stainless-304", 1.0, 1.2), {"offset": 0.45}),
    "box": Lesson(
        "A box on fingers",
        "Four walls to scribed lines. A line is never twice the same: correct what lasts, and let be the rest.",
        "finger-1270", {"kind": "tray", "dims": "outside", "length": 200, "width": 140,
                        "walls": {side: {"height": 30} for side in ("left", "right", "front", "back")},
                        "corners": {"style": "open", "gap": 0.5}}, ("galvanised", 0.7, 1.0)),
    "drift": Lesson(
        "A lot that drifts", "The springback grows from piece to piece. When do you correct, and by how much?",
        "press-60t", _strip([30, 60, 30], [(90, "up"), (90, "up")]), ("mild-steel", 1.0, 1.2), {"springback": 0.2},
        0.25)}


@dataclass(frozen=True, eq=False)
class Work:
    """A part in its order on one brake."""

    part: Part
    steps: tuple[Step, ...]
    brake: Brake

    @cached_property
    def ties(self) -> Ties:
        """How its dimensions hang on what is set."""
        return Ties(self.part, self.steps, [self.brake])


def part_of(slug: str) -> dict:
    """The part file of a lesson."""
    lesson = LESSONS[slug]
    metal, thickness, radius = lesson.metal
    return {"format": "dorvan-part", "version": 1, "name": lesson.title, "units": "mm",
            "stock": {"material": metal, "thickness": thickness, "springback": 2.0}, "inside_radius": radius,
            "allowance": {"method": "k_factor", "k": 0.42}, "shape": lesson.shape}


def brake_of(slug: str) -> str:
    """The file of the brake a lesson is bent on."""
    return (Path(settings.BASE_DIR) / "demo" / f"{LESSONS[slug].brake}.json").read_text("utf-8")


@lru_cache(maxsize=16)
def work_of(slug: str) -> Work:
    """The part of a lesson, its order found once."""
    part, brake = read_part(part_of(slug)), read_brake(json.loads(brake_of(slug)))
    if isinstance(brake, PressBrake):
        brake = brake.with_tools(["Straight 85"], ["V 8"])
    return Work(part, tuple(plan_order(part, brake).steps), brake)

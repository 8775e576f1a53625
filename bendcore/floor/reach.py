"""What machine, tool and metal can do: nothing is asked of a setter beyond it.

A press bends no sharper than its punch and die are, and nothing past flat; a leaf swings as far as it swings; a stop
stands where it reaches. K outside what bends have speaks of something else (handbook, *Where the allowance comes
from*).
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

from ..brakes.brake import Brake
from ..brakes.press import die_named
from ..order.plan import Step
from ..part import Part
from ..said import Deg, Mm, Said
from .corrections import SMALLEST_DEGREES, SMALLEST_MM
from .ties import Settings

SENSIBLE_K = (0.2, 0.55)
"""K of ordinary bends (*start*)."""
FLAT = 180.0


@dataclass(frozen=True)
class Reached:
    """``settings`` as far as they can be set; by step, from 0, why something was ``left`` as it was."""

    settings: Settings
    left: Mapping[int, Said] = field(default_factory=dict)


def within_reach(settings: Settings, steps: list[Step] | tuple[Step, ...], brakes: Mapping[str, Brake]) -> Reached:
    """Settings without what cannot be set: it stays as planned, and says why."""
    further, back, left = dict(settings.further), dict(settings.back), {}
    only = next(iter(brakes.values()))
    for n, step in enumerate(steps):
        brake = brakes.get(step.brake, only)
        most = sharpest(step, brake)
        for name in step.bends:
            asked = step.bend_to + further.get(name, 0.0)
            if further.get(name) and not (0 < asked <= max(most, step.bend_to) + SMALLEST_DEGREES):
                left[n] = Said("The readings ask to bend to {asked}, and {most} is the most that can be done here. Not "
                               "moved: measure again, or take another tool", asked=Deg(asked), most=Deg(most))
                del further[name]
        stop = step.gauge.stop
        limits = stop_limits(brake)
        if n in back and stop is not None and limits and not (
                limits[0] - SMALLEST_MM <= stop + back[n] <= limits[1] + SMALLEST_MM):
            left[n] = Said("The readings ask for the stop at {asked}, and it reaches from {low} to {high}. Not moved: "
                           "measure again", asked=Mm(stop + back[n]), low=Mm(limits[0]), high=Mm(limits[1]))
            del back[n]
    return Reached(Settings(further, back), left)


def sharpest(step: Step, brake: Brake) -> float:
    """The largest angle a step can be bent to under load, degrees."""
    if brake.kind == "press":
        die = die_named(brake, step.tools.die)
        punch = next((p for p in brake.punches if p.name == step.tools.punch), None)
        angles = [tool.angle for tool in (die, punch) if tool is not None and getattr(tool, "angle", None)]
        return FLAT - max(angles, default=0.0)
    return min(FLAT, getattr(brake, "max_angle", FLAT))


def stop_limits(brake: Brake) -> tuple[float, float] | None:
    """(nearest, farthest) a stop stands from the bend line, mm; None without one."""
    stops = getattr(brake, "stops", None)
    return (stops.min, stops.max) if stops is not None and brake.kind == "press" else None


def nonsense_k(part: Part, more: float) -> Said | None:
    """Why a K that differs by so much is not believed; None where it is."""
    ks = [bend.figures.k + more for bend in part.sheet.bends if not bend.is_hem]
    bad = next((k for k in ks if not SENSIBLE_K[0] <= k <= SENSIBLE_K[1]), None)
    already = any(not SENSIBLE_K[0] <= bend.figures.k <= SENSIBLE_K[1] for bend in part.sheet.bends if not bend.is_hem)
    if bad is None or already:
        return None
    return Said("The pieces ask for K {k:.3f}; ordinary bends have {low} to {high}. More likely the radius is another "
                "one, the blank was cut otherwise, or a reading slipped: measure those first", k=bad,
                low=f"{SENSIBLE_K[0]:g}", high=f"{SENSIBLE_K[1]:g}")

"""Corrections from what was measured at the brake.

An angle error is applied to every later bend of the same angle in the same stock
under the same tools. A leg error belongs to the stop of its own bend only, and is
kept for the next piece: measured minus wanted is taken off the stop when the leg
lies between bend and stop, added when it lies on the far side.
"""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

NEAR, FAR = "stop side", "far side"
SMALLEST_DEGREES, SMALLEST_MM = 0.05, 0.02


@dataclass(frozen=True)
class Reading:
    """One step's measurements; either may be None. ``step`` counts from 1."""

    piece: int
    step: int
    angle: float | None = None
    leg_error: float | None = None
    leg_side: str = NEAR


@dataclass(frozen=True)
class StepSetting:
    """What a step asks for: a step with the same ``group`` shares its angle correction."""

    step: int
    angle: float
    bend_to: float
    stop: float | None
    group: tuple


@dataclass(frozen=True)
class Corrected:
    """``bend_to`` and ``stop`` as they should now be set, and by how much that differs."""

    bend_to: float
    stop: float | None
    degrees: float
    stop_shift: float


def corrected(steps: Iterable[StepSetting], readings: Iterable[Reading],
              piece: int, step: int) -> Corrected:
    """The setting of one step of one piece after all readings taken before it.

    Readings are errors left with the corrections of their time in force, so each
    adds to the last; readings are taken in order.
    """
    by_step = {s.step: s for s in steps}
    own = by_step[step]
    degrees = shift = 0.0
    for reading in readings:
        if (reading.piece, reading.step) >= (piece, step):
            continue
        at = by_step[reading.step]
        if reading.angle is not None and at.group == own.group:
            degrees += at.angle - reading.angle
        if reading.leg_error is not None and reading.step == step:
            shift += -reading.leg_error if reading.leg_side == NEAR else reading.leg_error
    degrees = degrees if abs(degrees) >= SMALLEST_DEGREES else 0.0
    shift = shift if abs(shift) >= SMALLEST_MM else 0.0
    return Corrected(own.bend_to + degrees, None if own.stop is None else own.stop + shift, degrees, shift)


def in_words(degrees: float) -> str:
    """``"bend 2.5° further"``, never a bare signed number.

    >>> in_words(2.5), in_words(-1)
    ('bend 2.5° further', 'bend 1° less')
    """
    if not degrees:
        return "as set"
    return f"bend {abs(degrees):.3g}° {'further' if degrees > 0 else 'less'}"


def stop_in_words(shift: float, show: Callable[[float], str]) -> str:
    """``"stop 0.4 mm further back"``; ``show(mm)`` writes a length with its unit."""
    if not shift:
        return "as set"
    return f"stop {show(abs(shift))} {'further back' if shift > 0 else 'nearer the bend'}"

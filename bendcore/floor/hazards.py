"""What can hurt at a step, told at that step (handbook, *Before the first stroke, and hazards*).

Start values of the trade, from the part and its place in the brake. Dorvan does not say that a machine is safe: local
rules, the machine's manual and licensed practice decide.
"""

import math
from collections.abc import Iterator, Sequence

import numpy as np

from ..brakes.brake import Brake
from ..order.plan import Step
from ..part import Part
from ..said import Mm, Said

WHIPS, SMALL, NEAR, THIN = 300.0, 100.0, 60.0, 0.8
"""A free side longer than so much whips up; a part, or what is held of it, smaller than that is not held by hand; a
sheet so thin leaves barbs; mm."""
HEAVY, LARGE = 20.0, 1200.0
"""From so many kg, or mm, two people."""
MOST = 4


def hazards(part: Part, steps: Sequence[Step], n: int, brake: Brake) -> list[str | Said]:
    """What to heed at step ``n``, from 1; the gravest first, at most four."""
    rows = {"press": _press, "leaf": _leaf, "bench": _bench}[brake.kind](part, steps[n - 1])
    return [*_any(part, steps, n), *rows][:MOST]


def _any(part, steps, n) -> Iterator[str | Said]:
    size = max(part.flat.size)
    if part.mass_kg > HEAVY or size > LARGE:
        yield Said("Two people, feet free: {kg:.0f} kg, {size} long. Agree who gives the word.", kg=part.mass_kg,
                   size=Mm(size))
    if steps[n - 1].change and n > 1:
        yield "Lock the machine out while its tools are changed."


def _press(part, step) -> Iterator[str | Said]:
    held, free = _sides(part, step)
    if max(part.flat.size) < SMALL or min(held, free) < NEAR and max(held, free) < SMALL:
        yield "Small work: a magnet, tongs, or a longer blank cut off after. No hand between punch and die."
    if free > WHIPS:
        yield Said("The free side, {free}, whips up in front of you: hands flat beneath it, face out of its way.",
                   free=Mm(free))
    if part.sheet.bend[step.bends[0]].is_hem:
        yield "Flattening takes some four times the force of a bend: fingers out of the fold, tools rated for it."
    if not step.tools.punch and step.tools.die:
        yield "The part stands open while it is flattened: hold it by its far edge."


def _leaf(part, step) -> Iterator[str]:
    yield "Fingers out from under the clamp before it comes down; nobody in the leaf's way."
    if step.bend_to > 100:
        yield "The leaf swings far over: head back, and hold it until it stands."


def _bench(part, step) -> Iterator[str]:
    yield "Eyes and ears protected. Clamp before striking, and strike clear of the clamps."


def _sides(part, step) -> tuple[float, float]:
    """How far the sheet reaches from a bend in the blank, to the side held and to the other, mm."""
    (x0, y0), (x1, y1) = part.flat.line[step.bends[0]]
    long = math.hypot(x1 - x0, y1 - y0)
    points = np.array(part.flat.outline) - (x0, y0)
    across = points @ np.array([-(y1 - y0), x1 - x0]) / long
    held = np.array(part.flat.faces[step.held]).mean(axis=0) - (x0, y0)
    side = 1 if held @ np.array([-(y1 - y0), x1 - x0]) > 0 else -1
    return float((side * across).max()), float((-side * across).max())

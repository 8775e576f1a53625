"""Which measured size of a brake is wrong, told by parts that are known to have fitted or to have hit.

A model that says otherwise than the shop saw has a wrong size in it somewhere. Each size is tried off by a little and
by more, either way; those with which the model says what was seen of every part could explain it. Of several the one
comes first that does so over most of what it may be off by: a size that must be wrong by just so much is less likely
than one of which anything from there on will do (Bayes' rule over even odds). What was never measured counts double.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ...brakes.brake import read_brake
from ...brakes.measured.described import taken, with_size
from ...brakes.measured.measure import Unit
from ...errors import Refusal
from ...part import Part
from ...patience import ENDLESS, Patience
from ..search.backwards import fits

STEP, COARSE, MOST = 1.0, 4.0, 12.0
"""Sizes are tried off by so much at a time, and at most, mm; only where coarse steps change what is said of the first
part that was told wrongly."""
OUTSIDE = frozenset({"length", "thickness", "short_length", "short_thickness", "between_frames", "stroke", "stop_most",
                     "stop_least", "nose_radius", "edge_radius"})
"""Sizes that say what a brake bears or reaches, not where it stands in the way."""
UNMEASURED = 2.0
"""So much likelier to be wrong is a size that nobody measured."""


@dataclass(frozen=True)
class Seen:
    """A part, and whether it could be bent on the brake; ``name`` is what the shop calls it."""

    name: str
    part: Part
    fitted: bool


@dataclass(frozen=True)
class Doubt:
    """A size that explains what was seen: what it is taken to be, the nearest value ``would`` that does, the least and
    the most, mm; ``weight`` its share of all that could be wrong, 0 to 1."""

    name: str
    title: str
    value: float
    would: float
    least: float
    most: float
    weight: float
    is_measured: bool


def disagreeing(data: dict, seen: Sequence[Seen], patience: Patience = ENDLESS) -> list[Seen]:
    """The parts of which the brake file's model says otherwise than was seen, as far as there is patience."""
    brake = read_brake(data)
    return [one for one in seen if fits(one.part, brake, patience) != one.fitted and not patience()]


def doubts(data: dict, seen: Sequence[Seen], wrong: Sequence[Seen], patience: Patience = ENDLESS) -> list[Doubt]:
    """Sizes of a brake described by sizes that could explain what was seen, the likeliest first; ``wrong`` are those of
    the parts that the model is :func:`disagreeing` about. None where there are none, or no size alone explains them."""
    if not wrong:
        return []
    first = [*wrong, *(one for one in seen if one not in wrong)]
    rows = [row for row in taken(data, data["units"])
            if row.measure.unit is Unit.LENGTH and row.measure.name not in OUTSIDE]
    found = []
    for n, row in enumerate(rows):
        patience.note(turn=n + 1, of=len(rows))
        name, will = row.measure.name, []
        for way in (1.0, -1.0):
            if not any(_explains(data, name, value, wrong[:1], patience) for value in _off(row, way, COARSE)):
                continue
            for step in (STEP, STEP / 2):  # what is known may leave a size less than a step
                some = [value for value in _off(row, way, step)
                        if _explains(data, name, value, first, patience)]
                if some:
                    break
            will += some
        if will:
            weight = len(will) * (1.0 if row.is_measured else UNMEASURED)
            near = min(will, key=lambda value, now=row.value: abs(value - now))
            found.append((weight, Doubt(name, row.measure.title, row.value, near, min(will), max(will), 0.0,
                                        row.is_measured)))
    whole = sum(weight for weight, _ in found)
    ranked = sorted(found, key=lambda pair: (-pair[0], abs(pair[1].would - pair[1].value)))
    return [Doubt(**vars(doubt) | {"weight": weight / whole}) for weight, doubt in ranked]


def _off(row, way: float, step: float) -> list[float]:
    """What a size may be in truth, mm, one way off by steps, within its limits."""
    tried = [row.value + way * step * k for k in range(1, round(MOST / step) + 1)]
    return [value for value in tried if row.measure.least <= value <= row.measure.most]


def _explains(data: Mapping, name: str, value: float, seen: Sequence[Seen], patience: Patience) -> bool:
    """Whether the model says what was seen of every part, with this size so; not where there is no time to see it."""
    try:
        brake = read_brake(with_size(dict(data), name, f"{value:.6f} mm", "mm"))
    except Refusal:
        return False
    return all(fits(one.part, brake, patience) == one.fitted for one in seen) and not patience()

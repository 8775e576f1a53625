"""Which die to put under the sheet: what each on the rack gives, and the one proposed.

A die is proposed when its radius is not too sharp for the metal, the legs stay on it,
machine and tool bear the force, it is narrow enough in angle for the sharpest bend,
and its opening is nearest to that practice.
"""

import math
from dataclasses import dataclass

from ..bending import bend as bends
from ..bending.radius import Prediction, predict_air, usual_opening
from ..part import Part
from ..said import Mm, Said
from .press import Die, PressBrake, Punch


@dataclass(frozen=True)
class Choice:
    """One die for a part. ``leg`` is the shortest outside leg it takes, with the margin;
    ``force`` kN for the part's width; ``against`` says why it will not do."""

    die: Die
    radius: Prediction
    leg: float
    force: float
    per_metre: float
    against: tuple[str, ...] = ()
    proposed: bool = False

    def over(self, thickness: float) -> float:
        """The opening over the thickness."""
        return self.die.v / thickness


def die_choices(part: Part, press: PressBrake, punch: Punch | None) -> list[Choice]:
    """Every V die on the brake for this part, narrowest first; at most one is proposed."""
    rows = [_choice(part, press, die, punch) for die in press.dies if die.kind == "v"]
    rows.sort(key=lambda row: row.die.v)
    usual = usual_opening(part.stock.thickness)
    fit = [row for row in rows if not row.against]
    if not fit:
        return rows
    best = min(fit, key=lambda row: (abs(math.log(row.die.v / usual)), -row.die.angle))
    return [Choice(**vars(row) | {"proposed": row is best}) for row in rows]


def _choice(part, press, die, punch) -> Choice:
    stock, shape = part.stock, part.shape
    radius = predict_air(die.v, stock.thickness, stock.material.natural_radius_factor, punch.tip_radius if punch else 0)
    legs = [bends.minimum_leg(b.figures, die.v, die.shoulder_radius) for b in shape.bends]
    least = max(legs, default=0.0) + bends.LEG_MARGIN
    per_metre = bends.tonnage(stock.material.tensile_mpa, stock.thickness, die.v)
    force = per_metre * shape.longest_bend / 1000
    against = []
    least_radius = stock.material.min_radius_over_t_across * stock.thickness
    if radius.radius < least_radius - 1e-9:
        against.append(Said("too sharp: {metal} wants R {least} or more", metal=stock.material.title,
                            least=Mm(least_radius)))
    short = _short_by(part, die)
    if short > 1e-9:
        against.append(Said("a leg is {short} too short", short=Mm(short)))
    if force > press.tonnage_kn:
        against.append(f"{force:.0f} kN, the brake gives {press.tonnage_kn:.0f} kN")
    if die.max_kn_per_m and per_metre > die.max_kn_per_m:
        against.append(f"{per_metre:.0f} kN/m, the die bears {die.max_kn_per_m:.0f} kN/m")
    sharpest = max((stock.overbend(b.figures.angle) + b.figures.angle for b in shape.bends), default=0.0)
    if die.angle > 180 - sharpest + 1e-6:
        against.append(f"{die.angle:g}° is too blunt, {180 - sharpest:.1f}° needed")
    if sum(die.lengths) < shape.longest_bend - 1e-9:
        against.append(Said("only {long} long", long=Mm(sum(die.lengths))))
    return Choice(die, radius, least, force, per_metre, tuple(against))


def _short_by(part, die) -> float:
    """How far the worst end leg falls short of the die, mm; inner webs are the order's matter."""
    short = [0.0]
    for leg in part.shape.legs:
        ends = part.shape.at_ends(leg)
        for bend, other in (ends, ends[::-1]):
            if bend and other is None:
                need = bends.shortest_flat(bend.figures, die.v, die.shoulder_radius) + bends.LEG_MARGIN
                short.append(need - leg.flat - bend.figures.allowance / 2)
    return max(short)

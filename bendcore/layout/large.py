"""Large radii of a part and how each is made: bumped in hits, rolled in passes, or over a former."""

from collections.abc import Iterator
from dataclasses import dataclass

from ..bending.bumping import BUMPED, FORMER, ROLLED, Bumps, bumps, is_bumped
from ..bending.springback import loaded_radius
from ..develop.making import Pass, Step, passes
from ..part import Part
from ..said import Deg, Mm, Said


@dataclass(frozen=True)
class Large:
    """A bend of this inside ``radius``, mm; ``held`` is the radius under load that leaves it; ``plan`` its hits where
    it is bumped, ``passes`` where it is rolled."""

    bend: str
    way: str
    radius: float
    angle: float
    held: float
    plan: Bumps | None
    passes: tuple[Pass, ...]
    steps: tuple[Step, ...]


def large_radii(part: Part) -> list[Large]:
    """Every bend that says how its radius is made, or that no single stroke makes."""
    predicted, found = part.predicted, []
    for bend in part.shape.bends:
        f = bend.figures
        way = f.made or (BUMPED if is_bumped(f, predicted and predicted.radius) else "")
        if not way:
            continue
        held = loaded_radius(f.inside_radius, f.thickness, part.stock.material)
        plan = bumps(f) if way == BUMPED else None
        rolled = tuple(passes((f.inside_radius,) * 2, f.thickness, part.stock.material)) if way == ROLLED else ()
        found.append(Large(bend.id, way, f.inside_radius, f.angle, held, plan, rolled,
                           tuple(STEPS[way](f, held, plan))))
    return found


def _bumped(figures, held, plan: Bumps) -> Iterator[Step]:
    yield Step("Mark", Said("{hits} lines, {pitch} apart, the first {first} in from the tangent line.", hits=plan.hits,
                            pitch=Mm(plan.pitch), first=Mm(plan.pitch / 2)))
    yield Step("Hit", Said("{each} a hit: all of them lightly from end to end, then again, until the template lies on "
                           "it. Facets stand off by {off}.", each=Deg(plan.each), off=Mm(plan.error)))


def _rolled(figures, held, plan) -> Iterator[Step]:
    yield Step("Mark", "Both tangent lines, on the face that will lie outside.")
    yield Step("Roll", "Between the tangent lines only: the third roll down at the first, up before the second, a "
                       "little closer each pass. Legs longer than the rolls let by are bent before, "
                       "or left off and joined.")


def _former(figures, held, plan) -> Iterator[Step]:
    yield Step("Former", Said("A bar or pipe of radius {held}: what is bent round it opens to {radius}.", held=Mm(held),
                              radius=Mm(figures.inside_radius)))
    yield Step("Bend", "Clamp one tangent line on its top, bend round it by hand or leaf, by degrees and along the "
                       "whole length at once.")


STEPS = {BUMPED: _bumped, ROLLED: _rolled, FORMER: _former}

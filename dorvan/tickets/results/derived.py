"""What follows from a part file, computed once for each content.

Nothing here is stored: the same file gives the same figures, so results are kept
in memory by the file's canonical text.
"""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

from bendcore.checks import check_part
from bendcore.formats.results import flat_result
from bendcore.notices import Notice, merged
from bendcore.order.accuracy.stackup import Expected, stack_up
from bendcore.order.plan import Plan
from bendcore.order.search.asked import check_asked
from bendcore.order.search.walk import read_sequence
from bendcore.order.states.moves import Job
from bendcore.part import Part, read_part
from bendcore.quality.checklist import checklist
from bendcore.quality.checksheet import Dimension
from bendcore.quality.spreads import Spreads
from bendcore.sheet import Folded, fold
from bendcore.sheet.clash import Bodies, bodies
from bendcore.sheet.solid import Mesh
from bendcore.workings import workings
from dorvan.brakes.models import parsed
from dorvan.longwork import desks
from dorvan.longwork.sought import Sought
from dorvan.longwork.watch import name_of

from .orders import find_doubts, find_limits, find_order, find_ways_out, find_why
from .text import canonical

for _call, _about in ((find_order, 3), (find_ways_out, 20), (find_limits, 5), (find_why, 10),
                      (find_doubts, 30)):
    desks.orders.takes(_call, _about)
FACET = 6.0
"""Degrees to a facet of the part that is turned about on a page."""
STILL_FACET = 30.0
"""Degrees to a facet in a picture of a few hundred pixels."""


@dataclass(frozen=True)
class Figures:
    """A part and all that can be said of it without a brake."""

    part: Part

    @cached_property
    def notices(self) -> list[Notice]:
        """What is to be said of it, in its own units; pages put it into the reader's."""
        return merged(check_part(self.part))

    @property
    def is_proved(self) -> bool:
        """Whether the part has been looked at face against face already."""
        return self.part.shape.is_strip or "conflicts" in vars(self.part)

    @property
    def known_conflicts(self) -> frozenset[str]:
        """What is in conflict, as far as it has been looked at."""
        return self.in_conflict if self.is_proved else frozenset()

    @cached_property
    def in_conflict(self) -> frozenset[str]:
        """Faces and zones that overlap in the flat or run through each other when folded."""
        return frozenset(name for notice in self.notices for name in notice.between)

    @cached_property
    def workings(self) -> dict:
        return workings(self.part)

    @cached_property
    def flat(self) -> dict:
        return flat_result(self.part)

    @cached_property
    def folded(self) -> Folded:
        return fold(self.part.sheet, facet=FACET, flat=self.part.flat)

    @cached_property
    def bodies(self) -> Bodies:
        """The folded part as convex bodies, to be cut."""
        return bodies(self.folded)

    @cached_property
    def mesh(self) -> dict:
        return self.part.formed(FACET, self.folded).as_dict()

    @cached_property
    def coarse_mesh(self) -> Mesh:
        """The folded part with few facets, for small still pictures."""
        return self.part.formed(STILL_FACET)

    @cached_property
    def dimensions(self) -> list[Dimension]:
        return checklist(self.part)


def figures(part: dict) -> Figures:
    """Figures of a part file; raises Refusal when it cannot be read."""
    return _figures(canonical(part))


@lru_cache(maxsize=256)
def _figures(text: str) -> Figures:
    return Figures(read_part(json.loads(text)))


@dataclass(frozen=True)
class Asked:
    """What an order is looked for: the part file with all that the shop joins to it, the brake file, the tools chosen,
    the bends in an order of somebody's own, or how it begins, the legs to be gauged directly and the wishes to be kept,
    and the file of the brake it may go on to."""

    part: dict
    brake_file: str
    punch: str = ""
    die: str = ""
    names: tuple[str, ...] | None = None
    important: tuple[str, ...] = ()
    also: str = ""

    @cached_property
    def args(self) -> tuple:
        """As another process takes it."""
        return canonical(self.part), self.brake_file, self.punch, self.die, self.names, self.important, self.also

    @cached_property
    def name(self) -> str:
        """A short name for it."""
        return name_of(*self.args)

    @property
    def search(self) -> Sought:
        """The search for the order."""
        return Sought(desks.orders, find_order, self.args, self.name)

    def order(self) -> Plan:
        """The best order, or the one named; raises Working while it is being worked out."""
        found = self.search.ask()
        self.search.tidy()
        return found

    def ways_out(self, others: tuple[str, ...]) -> Sought:
        """The order with its ways out, each simulated, the shop's other brakes among them."""
        asked = self.args[:5]
        return Sought(desks.orders, find_ways_out, (*asked, others), name_of("ways out", *asked))

    def limits(self) -> Sought:
        """What the brake can do at most in this metal."""
        stock = canonical({key: value for key, value in self.part.items() if key not in ("shape", "name")})
        asked = (stock, *self.args[1:4])
        return Sought(desks.orders, find_limits, asked, name_of("limits", *asked))

    def why(self) -> Sought:
        """What each step would cost if something else were done there, and each wish."""
        return Sought(desks.orders, find_why, self.args, name_of("why", *self.args))

    def sizes(self, plan: Plan, spreads: Spreads) -> list[Expected]:
        """What an order does to the finished sizes."""
        return _sizes(self.args[0], (self.brake_file, self.also), plan.steps, spreads)


def doubts(brake_file: str, known: Sequence[tuple[str, dict, bool]]) -> Sought:
    """The parts (name, complete part file, whether it fitted) of which a brake's model says otherwise, the sizes that
    could explain it, and whether all were tried."""
    asked = brake_file, tuple((name, canonical(part), fitted) for name, part, fitted in known)
    return Sought(desks.orders, find_doubts, asked, name_of("doubts", *asked))


@lru_cache(maxsize=128)
def _sizes(part: str, brake_files: tuple[str, ...], steps: tuple, spreads: Spreads) -> list[Expected]:
    return stack_up(_figures(part).part, steps, [parsed(file) for file in brake_files if file], spreads)


def check_important(part: dict, brake_file: str, names: list[str]) -> None:
    """Refuse what is neither a leg that could be gauged directly nor a wish."""
    job = Job.of(_figures(canonical(part)).part, parsed(brake_file))
    for name in names:
        check_asked(job, name)


def check_order(part: dict, brake_file: str, names: list[str]) -> None:
    """Refuse an order, or the beginning of one, with a bend that there is not, or too often."""
    read_sequence(Job.of(_figures(canonical(part)).part, parsed(brake_file)), names, whole=False)

"""Tools that the shop does not own and could: the same as it has, taller, deeper or higher, named by their sizes.

Which are tried follows from what the part meets: the punch or the ram it hangs on calls for a taller punch or a larger
swan neck, the die's side or the table for a higher die, the beam over the fingers for taller fingers. Everything else
about the tool stays as it is. Each is drawn, mounted and proved like one that is owned.
"""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import NamedTuple, TypeVar

from ...brakes.brake import Brake
from ...brakes.leaf import LeafBrake
from ...brakes.press import TURNED, Die, PressBrake, Punch
from ...brakes.section import Section
from ...said import Mm, Said

TALLER = (25.0, 50.0, 75.0, 100.0)
"""So much taller or higher a tool is tried, mm."""
LARGER = (1.25, 1.5, 2.0)
"""So many times as large a swan neck is tried."""
NECK = 0.5
"""Above this share of its height a tool is drawn out: what is below keeps its form."""
ASIDE = 0.05
"""A punch whose middle lies this share of its height off its tip is a swan neck."""
OVER, UNDER, ABOVE = {"punch", "ram"}, {"die", "table"}, {"finger", "beam"}
"""What a part meets over the sheet, under it, and above the fingers."""


Own = TypeVar("Own", Punch, Die)


class Bought(NamedTuple):
    """A ``tool`` that could be had, as it is ``said``, and the brake with it on its rack."""

    tool: str
    said: Said
    brake: Brake


def drawn_out(section: Section, more: float) -> Section:
    """A section drawn out at its neck, away from z = 0, by so many mm.

    >>> drawn_out(((0, 0), (5, 10), (5, 100), (-5, 100)), 25)
    ((0, 0), (5, 10), (5, 125), (-5, 125))
    """
    top = max((z for _, z in section), key=abs)
    return tuple((y, z + more * (1 if top > 0 else -1) if abs(z) > NECK * abs(top) else z) for y, z in section)


def scaled(section: Section, share: float) -> Section:
    """A section so many times as large, about its origin."""
    return tuple((y * share, z * share) for y, z in section)


def to_buy(brake: Brake, met: set[str], punches: set[str | None]) -> Iterator[Bought]:
    """The tools that could help where a part meets these tools of a brake, the ``punches`` among those mounted; the
    least first."""
    if isinstance(brake, PressBrake):
        yield from _for_press(brake, met, punches)
    elif isinstance(brake, LeafBrake) and brake.fingers and met & ABOVE:
        for more in TALLER:
            taller = replace(brake, finger_section=drawn_out(brake.finger_section, more),
                             beam_section=tuple((y, z + more) for y, z in brake.beam_section))
            height = max(z for _, z in taller.finger_section)
            yield Bought("fingers", Said("Fingers {more} taller than yours, {height} high, do it.", more=Mm(more),
                                         height=Mm(height)), taller)


def _for_press(brake: PressBrake, met: set[str], punches: set[str | None]) -> Iterator[Bought]:
    names, own = {name.removesuffix(TURNED) for name in punches if name}, [p for p in brake.punches if not p.turned]
    if met & OVER:
        for punch in (punch for punch in own if punch.name in names):
            for more in TALLER:
                yield _punch(brake, punch, drawn_out(punch.section, more))
        for punch in filter(is_swan_neck, own):
            for share in LARGER:
                yield _punch(brake, punch, scaled(punch.section, share))
    if met & UNDER:
        for die in (die for die in brake.dies if die.kind == "v"):
            for more in TALLER:
                yield _die(brake, die, drawn_out(die.section, more))


def is_swan_neck(punch: Punch) -> bool:
    """Whether a punch leaves room on one side of its tip: its body stands to the other."""
    return abs(punch.polygon.centroid.x) > ASIDE * punch.height


def _like(tool: str, own: Own, section: Section) -> tuple[Own, Said]:
    """One that differs from an own tool by its section, called by its height; and what is said of it."""
    bought = replace(own, section=section)
    said = Said("A {tool} like {name}, but {height} high where yours is {now}, does it.", tool=tool, name=own.name,
                height=Mm(bought.height), now=Mm(own.height))
    return replace(bought, name=f"{own.name}, {bought.height:.0f} high"), said


def _punch(brake: PressBrake, own: Punch, section: Section) -> Bought:
    punch, said = _like("punch", own, section)
    return Bought("punch", said, replace(brake, punches=(*brake.punches, punch, punch.end_for_end())))


def _die(brake: PressBrake, own: Die, section: Section) -> Bought:
    die, said = _like("die", own, section)
    return Bought("die", said, replace(brake, dies=(*brake.dies, die)))


def radii(brakes: Sequence[Brake], now: float) -> list[float]:
    """Inside radii larger than the part's that its tools would make, or that are usual, mm: the least first."""
    tools = [brake.nose_radius for brake in brakes if not isinstance(brake, PressBrake)]
    tools += [punch.tip_radius for brake in brakes if isinstance(brake, PressBrake) for punch in brake.punches]
    return sorted({round(r, 2) for r in (*tools, 1.5 * now, 2 * now, 3 * now) if r > now + 0.01})

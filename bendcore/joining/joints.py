"""Joints: places where edges meet that no bend joins, as they follow from a part and from the pieces of its kit."""

import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise

from ..families.chained import Chained
from ..families.facetted import SIDE
from ..families.guard import Guard
from ..families.rib.shape import Rib
from ..families.rolled import BUTT, LAP, LOCK, Rolled
from ..families.sleeve import Sleeve
from ..families.sleeve.fields import BUTT as OPEN_SEAM
from ..families.square_to_round.shape import SquareToRound
from ..families.transition import Transition
from ..families.tray import SIDES, Tray
from ..families.tray.corners import TAB
from ..part import Part

WELD, RIVET, SPOT, SCREW, CLEAT, FOLD = "weld", "rivet", "spot", "screw", "cleat", "fold"
KINDS = {WELD: "weld", RIVET: "rivets", SPOT: "spot welds", SCREW: "screws", CLEAT: "cleats",
         FOLD: "folded lock or seam"}
"""Ways of joining by their words."""


@dataclass(frozen=True)
class Joint:
    """One place, or ``times`` alike: by its ``key``, for people ``place``; ``length`` in mm; ``kind`` as the part says
    it; ``count`` where the part gives holes for it, of ``diameter``; whether it ``closes`` a box or a duct, which is
    squared first."""

    key: str
    place: str
    length: float
    kind: str
    times: int = 1
    count: int | None = None
    diameter: float = 0.0
    closes: bool = False


def joints_of(part: Part, mates: Mapping[str, int] | None = None) -> list[Joint]:
    """Every joint of a part with itself, and with the ``mates`` of its kit (how many to each, by role); alike ones
    together."""
    rule = next((rule for family, rule in RULES.items() if isinstance(part.shape, family)), None)
    return _merged(rule(part, mates or {})) if rule else []


def _merged(joints) -> list[Joint]:
    """Those of the same length, kind and holes as one, so many times."""
    found: list[Joint] = []
    for joint in joints:
        same = next((n for n, one in enumerate(found) if _family(one) == _family(joint) and one.kind == joint.kind
                     and abs(one.length - joint.length) < 0.05 and one.count == joint.count), None)
        if same is None:
            found.append(joint)
        else:
            found[same] = replace(found[same], times=found[same].times + joint.times)
    return found


def _family(joint: Joint) -> str:
    return joint.key.partition(":")[0]


def _tray(part: Part, mates) -> Iterator[Joint]:
    tray = part.shape
    for one, other in pairwise([*SIDES, SIDES[0]]):
        if one not in tray.walls or other not in tray.walls:
            continue
        length = min(tray.walls[side].leg.outside for side in (one, other))
        names = sorted((one, other), key=("front", "back", "left", "right").index)
        tab = tray.corners.tab if tray.corners.style == TAB else None
        if tab and tab.hole:
            yield Joint(f"corner:{one}", f"corner {'–'.join(names)}", length, RIVET, 1, tab.holes, tab.hole, True)
        else:
            yield Joint(f"corner:{one}", f"corner {'–'.join(names)}", length, SPOT if tab else WELD, closes=True)


def _sleeve(part: Part, mates) -> Iterator[Joint]:
    sleeve = part.shape
    long, holed = sleeve.long.outside, bool(sleeve.hole and sleeve.holes)
    kind = WELD if sleeve.seam == OPEN_SEAM else RIVET if holed else SPOT
    yield Joint("seam", "seam along the sleeve", long, kind, 1, sleeve.holes if holed else None, sleeve.hole, True)
    for end, (leg, _, bends) in (sleeve.flanges or {}).items():
        if len(bends) > 1:
            yield Joint(f"flange:{end}", f"flange corners at the {end}", leg.outside, WELD, 4 if len(bends) == 4 else 1)
    count = sum(n for role, n in mates.items() if role in ("cap", "plug"))
    if count:
        yield Joint("cap", "end cap round its rim", 2 * (sleeve.width + sleeve.height), SPOT, count)


def _guard(part: Part, mates) -> Iterator[Joint]:
    if mates.get("side"):
        yield Joint("side", "side plate along the wrapper", sum(leg.size for leg in part.shape.panels), SPOT,
                    mates["side"], closes=True)


def _rolled(part: Part, mates) -> Iterator[Joint]:
    length = max(math.dist(*edge) for edge in part.shape.seam_edges())
    yield Joint("seam", "seam", length, {BUTT: WELD, LAP: RIVET, LOCK: FOLD}[part.shape.seam.kind], closes=True)


def _chained(part: Part, mates) -> Iterator[Joint]:
    yield from _rolled(part, mates)
    if part.shape.number == 1:
        rows = part.shape.development(1.0)["pieces"]
        for n, row in enumerate(rows[:-1], 1):
            yield Joint(f"joint:{n}", f"joint of pieces {n} and {n + 1}", row["end_edge"], WELD)


def _facetted(part: Part, mates) -> Iterator[Joint]:
    shape = part.shape
    bent = {edge for one, other in pairwise(shape.chain) for edge in {*one.edges} & {*other.edges}}
    free = {number: math.dist(*panel.ends(at)) for panel in (shape.chain[0], shape.chain[-1])
            for at, (kind, number) in enumerate(panel.edges) if kind == SIDE and (kind, number) not in bent}
    for number, length in sorted(free.items()):
        if getattr(shape, "piece", 1) % 2:  # the seams of a second piece are those of its neighbours
            yield Joint(f"seam:{abs(number)}", f"seam {abs(number)}", length, WELD, closes=True)


def _rib(part: Part, mates) -> Iterator[Joint]:
    places = part.shape.rivet_places()
    if places:
        long = sum(edge.length for strip in part.shape.plan.strips for _, edge in strip.edges)
        yield Joint("rivets", "flange to what it carries", long, RIVET, 1, len(places),
                    part.shape.rivets.diameter)


RULES: dict[type, Callable[[Part, Mapping[str, int]], Iterator[Joint]]] = {
    Tray: _tray, Sleeve: _sleeve, Guard: _guard, Rib: _rib, Chained: _chained, Rolled: _rolled,
    Transition: _facetted, SquareToRound: _facetted}
"""By family what it has to be joined; the narrower first."""

"""The brake from the front, to scale: what stands where along a bend, as the operator has it before him.

Axes: x to the right from the middle of the machine, z up from where the sheet lies, mm. A press stands with its punch
on the die, a leaf with its clamp down and its leaf open, bars closed. What lies behind is not drawn, but for the stops.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..brakes.brake import Brake
from ..brakes.leaf import LeafBrake
from ..brakes.press import PressBrake, die_named, punch_named
from ..order.plan import Step
from ..order.states.facing import LEFT, along
from ..part import Part
from .setup import CLAMP, FromMiddle, Mounted, SetUp, beside, long_of, stretch

DEEP = 70.0
"""So much of beam, bed and ram is drawn, mm."""
FRAME = 60.0
"""So wide a side frame is drawn, mm."""
FINGER = 24.0
"""A stop's finger as wide as it is drawn, mm (*start*)."""
APART = 0.7
"""Two stops stand so much of the bend apart (*start*)."""


@dataclass(frozen=True)
class Block:
    """A block of the machine, from (``x0``, ``z0``) to (``x1``, ``z1``). ``kind`` is machine, frame, clamp or stop."""

    kind: str
    name: str
    x0: float
    z0: float
    x1: float
    z1: float


@dataclass(frozen=True)
class Piece:
    """A piece of a tool, number ``n`` of its ``group`` as it is listed, and where it stands."""

    group: str
    n: int
    at: FromMiddle
    z0: float
    z1: float


@dataclass(frozen=True)
class Front:
    """What is seen of one mounting, ``first`` used at that step; ``tools`` are its names. The ``bend`` and the
    ``blank`` are from where to where the line and the blank reach; ``length`` is the machine's."""

    first: int
    tools: str
    length: float
    blocks: tuple[Block, ...]
    pieces: tuple[Piece, ...]
    bend: tuple[float, float]
    blank: tuple[float, float]

    @property
    def datum(self) -> float | None:
        """From the left end of the machine to the first piece, mm; None where no pieces stand."""
        return min(piece.at.start for piece in self.pieces) + self.length / 2 if self.pieces else None


def fronts(part: Part, steps: Sequence[Step], sheet: SetUp, brakes: Sequence[Brake]) -> list[Front]:
    """Every mounting of a set-up sheet as it is seen, the longest bend made on it in the middle of the machine."""
    brake = next(one for one in brakes if one.name == sheet.brake)
    own, mounted = [stroke.step for stroke in sheet.strokes], sheet.mounted or (None,)
    firsts = [group.first if group else own[0] for group in mounted]
    found = []
    for group, first, after in zip(mounted, firsts, [*firsts[1:], own[-1] + 1], strict=True):
        served = [steps[n - 1] for n in own if first <= n < after]
        longest = max(served, key=lambda step: long_of(part, step.bends))
        found.append(_front(part, longest, first, group, brake))
    return found


def _front(part: Part, step: Step, first: int, mounted: Mounted | None, brake: Brake) -> Front:
    low, high = stretch(part, step.bends)
    before, after = beside(part, step.bends)
    if along(part.flat, step.bends[0], step.held) == LEFT:
        before, after = after, before
    half = (high - low) / 2
    blank = (-half - before, half + after)
    pieces = tuple(_pieces(mounted, step, brake)) if mounted else ()
    blocks = tuple(_BLOCKS[brake.kind](brake, step, (-half, half), blank))
    return Front(first, mounted.tools if mounted else "", brake.length, blocks, pieces, (-half, half), blank)


def _pieces(mounted: Mounted, step: Step, brake: Brake) -> Iterator[Piece]:
    for group, stands in mounted.pieces:
        low, high = _heights(group, step, brake)
        for n, at in enumerate(stands, 1):
            yield Piece(group, n, at, low, high)


def _heights(group: str, step: Step, brake: Brake) -> tuple[float, float]:
    if isinstance(brake, PressBrake):
        if group == "die":
            return -die_named(brake, step.tools.die).height, 0.0
        punch = punch_named(brake, step.tools.punch)
        return 0.0, punch.height if punch else DEEP
    return 0.0, brake.finger_height or DEEP


def _press(brake: PressBrake, step: Step, bend, blank) -> Iterator[Block]:
    die, punch = die_named(brake, step.tools.die), punch_named(brake, step.tools.punch)
    low, high, half = -die.height if die else -DEEP, punch.height if punch else DEEP, brake.length / 2
    yield Block("machine", "ram", -half, high, half, high + DEEP)
    yield Block("machine", "bed", -half, low - DEEP, half, low)
    inner = brake.between_frames / 2
    for name, x0, x1 in (("left frame", -inner - FRAME, -inner), ("right frame", inner, inner + FRAME)):
        yield Block("frame", name, x0, low - DEEP, x1, high + DEEP)
    if step.gauge.stop is not None:
        for x in (APART * end for end in bend):
            yield Block("stop", "stop", x - FINGER / 2, 0.0, x + FINGER / 2, brake.stops.contact_height)


def _leaf(brake: LeafBrake, step: Step, bend, blank) -> Iterator[Block]:
    half, leaf = brake.length / 2, [z for _, z in brake.leaf_section]
    low = brake.finger_height if step.tools.fingers else 0.0
    yield Block("machine", "clamp beam", -half, low, half, low + DEEP)
    yield Block("machine", "leaf", -half, min(leaf), half, max(leaf))


def _bench(brake, step: Step, bend, blank) -> Iterator[Block]:
    half = brake.length / 2
    bar, backing = [z for _, z in brake.bar_section], [z for _, z in brake.backing_section]
    yield Block("machine", "bar", -half, 0.0, half, max(bar))
    yield Block("machine", "backing", -half, min(backing), half, 0.0)
    for x0, x1 in ((-half, min(-half + CLAMP, blank[0])), (max(half - CLAMP, blank[1]), half)):
        if x1 - x0 >= CLAMP / 2:
            yield Block("clamp", "clamp", x0, min(backing) - DEEP / 4, x1, max(bar) + DEEP / 4)


_BLOCKS = {"press": _press, "leaf": _leaf, "bench": _bench}

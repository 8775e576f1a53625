"""The set-up sheet: what is mounted where, how far it strokes, where the sheet is stopped, and what to look to first.

By kind of brake, from a released order. Depths are the handbook's (*Springback and depth*), from where the punch
touches the sheet; places of tools are measured from the middle of the machine, where work is done. Points and pauses
marked *start* are a setter's to change. Dorvan says what the trade says; the machine's manual and local rules decide.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..bending.bend import punch_travel, tonnage
from ..brakes.brake import Brake
from ..brakes.pieces import Stands
from ..brakes.press import PressBrake, die_named
from ..order.plan import Step
from ..order.proof.gauge import LINE
from ..order.states.facing import along
from ..part import Part
from ..quality.depth import computed
from ..said import Mm, Said

SLOW_ABOVE = 5.0
"""The ram goes slowly from so far above the sheet, mm (*start*)."""
DWELL = ((3.0, 0.3), (float("inf"), 0.6))
"""Up to a thickness the ram waits at the bottom so long, s (*start*)."""

CHECKS = {
    "press": ("Guards and light curtain reset, and proved: break the beam, the ram must stop",
              "Reference run made", "Stop test: the ram stops within its mark", "Pedal moves freely and is guarded",
              "Tools clamped, of equal height; nothing lies on the table"),
    "leaf": ("Clamp and leaf move freely; nobody stands behind the leaf's swing",
             "Fingers seated and tight, their edges in line", "Counterweights and springs sound",
             "Clamp pressure alike at both ends"),
    "bench": ("Bars straight, their edges sound", "Clamps hold and stand clear of the blow",
              "Hammer heads tight, handles whole")}
"""What is looked to at the start of a shift, by kind of brake."""
CARE = {
    "press": "Lock the machine out while tools are changed. Never between punch and die.",
    "leaf": "Feet clear of the treadle's path, hands clear of clamp and leaf. Never pass the rating plate.",
    "bench": "Eye and ear protection while hammering. Clamp before striking; dressed edges, gloves for handling."}


@dataclass(frozen=True)
class Item:
    """One point of the sheet: what, and how it is set."""

    what: str
    how: str | Said


@dataclass(frozen=True)
class FromMiddle:
    """A piece of a tool: from where to where, mm from the middle of the machine, to the right positive."""

    length: float
    start: float
    end: float


@dataclass(frozen=True)
class Mounted:
    """What is mounted from ``first`` step on (from 1): by group its pieces, from the middle outwards."""

    first: int
    tools: str
    pieces: tuple[tuple[str, tuple[FromMiddle, ...]], ...]


@dataclass(frozen=True)
class StepSetting:
    """How one step is set: the ``stop`` from the bend line, None for a line; on a press the ``depth`` from touch and
    what one ``degree`` is worth in it, mm; ``dwell`` at the bottom and ``wait`` before it, as reckoned, s; ``muted``
    where walls made before stand up beside the bend; on a hand brake the ``sight`` line from the clamped tangent
    line."""

    step: int
    bends: tuple[str, ...]
    bend_to: float
    stop: float | None
    depth: float | None
    degree: float | None
    dwell: float | None
    wait: float
    muted: bool
    sight: float | None = None


@dataclass(frozen=True)
class SetUp:
    """The set-up sheet of one brake."""

    brake: str
    kind: str
    rows: tuple[Item, ...]
    mounted: tuple[Mounted, ...]
    strokes: tuple[StepSetting, ...]
    checks: tuple[str, ...]
    care: str


CLAMP = 60.0
"""What a clamp takes of a bar, mm (*start*)."""


def set_ups(part: Part, steps: Sequence[Step], brakes: Sequence[Brake]) -> list[SetUp]:
    """A sheet for each brake of a route, in the order it is come to."""
    by_name = {brake.name: brake for brake in brakes}
    names = dict.fromkeys(step.brake or brakes[0].name for step in steps)
    return [_set_up(part, steps, by_name[name], len(by_name) == 1) for name in names]


def _set_up(part, steps, brake, alone) -> SetUp:
    own = [(n, step) for n, step in enumerate(steps, 1) if alone or step.brake == brake.name]
    rows = _press_rows if brake.kind == "press" else _leaf_rows if brake.kind == "leaf" else _bench_rows
    return SetUp(brake.name, brake.kind, tuple(rows(part, own, brake)), tuple(_mounted(part, own)),
                 tuple(_stroke(part, steps, n, step, brake) for n, step in own), CHECKS[brake.kind], CARE[brake.kind])


# --- what is mounted ------------------------------------------------------------------------

def _mounted(part, own) -> list[Mounted]:
    found: list[Mounted] = []
    for n, step in own:
        if found and not step.change:
            continue  # what stands there serves this step too
        middle, way = sum(stretch(part, step.bends)) / 2, along(part.flat, step.bends[0], step.held)
        stands = tuple((group, _outwards(pieces, middle, way)) for group, pieces in step.tools.pieces)
        tools = f"{step.tools.punch or 'flattening bars'} on {step.tools.die}" if step.tools.die else ""
        stood = found and (tools, stands) == (found[-1].tools, found[-1].pieces)  # on coming back from another brake
        if (step.tools.die or step.tools.pieces) and not stood:
            found.append(Mounted(n, tools, stands))
    return found


def _outwards(pieces: Sequence[Stands], middle: float, way: int) -> tuple[FromMiddle, ...]:
    """Measured from the middle of the bend, which lies in the middle of the machine, its line running to the operator's
    right or left by the ``way``; the nearest first."""
    placed = [FromMiddle(piece.length, *sorted((way * (piece.start - middle), way * (piece.end - middle))))
              for piece in pieces]
    return tuple(sorted(placed, key=lambda p: min(abs(p.start), abs(p.end)) if p.start * p.end > 0 else 0.0))


# --- how it is set ----------------------------------------------------------------------------

def _stroke(part, steps, n, step, brake) -> StepSetting:
    figures, depth, degree = part.sheet.bend[step.bends[0]].figures, None, None
    die = die_named(brake, step.tools.die)
    if die is not None and die.kind == "v":
        over = (figures.inside_radius, figures.thickness, die.v, die.shoulder_radius)
        depth, degree = punch_travel(step.bend_to, *over), computed(figures, step.bend_to, die.v, die.shoulder_radius)
    dwell = next(s for t, s in DWELL if part.stock.thickness <= t) if die is not None else None
    stop = None if step.gauge.kind == LINE else step.gauge.stop
    wait, muted = max(step.cost - brake.costs.stroke, 0.0), die is not None and _is_box(part, steps, n)
    return StepSetting(n, step.bends, step.bend_to, stop, depth, degree, dwell, wait, muted, step.sight)


def _is_box(part, steps, n) -> bool:
    """Whether a wall that runs across this bend stands up already: a light curtain sees it."""
    lines = {line.bend.id: line.line for line in part.flat.bends}

    def along(name):
        (x0, y0), (x1, y1) = lines[name]
        return x1 - x0, y1 - y0

    ux, uy = along(steps[n - 1].bends[0])
    for before in steps[:n - 1]:
        vx, vy = along(before.bends[0])
        if abs(ux * vy - uy * vx) > 0.02 * math.hypot(ux, uy) * math.hypot(vx, vy):
            return True
    return False


def _press_rows(part: Part, own, brake: PressBrake):
    t, stock = part.stock.thickness, part.stock
    yield Item("Middle",
               "Work at the middle of the machine; the die centred under the punch and clamped, both ends alike.")
    used = {step.tools.die: die_named(brake, step.tools.die) for _, step in own}
    for die in [die for die in used.values() if die is not None and die.kind == "v"]:
        longest = max(long_of(part, step.bends) for _, step in own if step.tools.die == die.name)
        force = tonnage(stock.material.tensile_mpa, t, die.v, longest) if stock.material.tensile_mpa else None
        yield Item(die.name, Said("V is {ratio:.1f} times the thickness" + (
            "; {force:.0f} kN of the machine's {owned:.0f} at the longest bend" if force else ""),
            ratio=die.v / t, force=force or 0.0, owned=brake.tonnage_kn))
    yield Item("Fully open", Said("the ram at the top of its stroke, {stroke}: as the order was proved",
                                  stroke=Mm(brake.stroke)))
    yield Item("Slow", Said("from {above} above the sheet, by hand the first time (start)", above=Mm(SLOW_ABOVE)))
    yield Item("Bottom", "the depth of each step below, from where the punch touches the sheet")
    reach = [step.gauge.stop for _, step in own if step.gauge.stop is not None]
    if reach:
        yield Item("Stops", Said("from {low} to {high} behind the bend line; both alike, square to the die",
                                low=Mm(min(reach)), high=Mm(max(reach))))


def _leaf_rows(part: Part, own, brake):
    t = part.stock.thickness
    if any(step.tools.fingers for _, step in own):
        yield Item("Fingers", "threaded by hand first, then tightened; edges in line along a straight bar")
    yield Item("Clamp", Said("a strip of {t} pulled at both ends drags alike: pressure the same, one sheet's play",
                            t=Mm(t)))
    yield Item("Setback", Said("the nose stands {t} behind the leaf's edge, the same at both ends (start)", t=Mm(t)))
    yield Item("Nose", Said("R {r}; a shim over it adds its thickness, and setback and clamp are set again",
                           r=Mm(brake.nose_radius)))
    yield Item("Plate", Said("{rated} at full length, of metal of {tensile:.0f} MPa; this sheet is {t}",
                            rated=Mm(brake.rated.thickness), tensile=brake.rated.tensile, t=Mm(t)))
    yield Item("Weight and bar", "for the long bends: counterweight on, bar in the leaf, two people at one pace")


def _bench_rows(part: Part, own, brake):
    opens = max((step.bend_to - step.angle for _, step in own), default=0.0)
    yield Item("Bars", Said("edge R {r}, the bar ends at the notch; lines laid on the edge", r=Mm(brake.edge_radius)))
    yield Item("Springback", Said("lean the lower bar back by {opens:.1f}°, or chamfer it so, from one test bend",
                                  opens=opens))
    yield Item("Clamps", "where they do not meet the part, nor the blow")
    for n, step in own:
        low, high = stretch(part, step.bends)
        before, after = beside(part, step.bends)
        room = brake.length - before - after - (high - low)
        where = Said("the part reaches {before} and {after} past the ends of its line: clamp beyond that, {room} of "
                     "bar is left for it", before=Mm(before), after=Mm(after), room=Mm(room)) if room >= CLAMP else (
                Said("the part leaves {room} of the bar free: clamp on the face that lies still, a block between, "
                     "clear of what is made", room=Mm(max(room, 0.0))))
        yield Item(f"Clamps, step {n}", where)
    yield Item("Blows", "a block along the whole bend, a little at a time, from the ends to the middle")


def stretch(part: Part, bends: Sequence[str]) -> tuple[float, float]:
    """From where to where the lines of one stroke reach, along the first of them from its first point, mm."""
    found = [x for name in bends for x in _along(part, bends[0], part.flat.line[name])]
    return min(found), max(found)


def beside(part: Part, bends: Sequence[str]) -> tuple[float, float]:
    """How far the blank reaches along the line of a stroke before its first end and past its second, mm."""
    (low, high), found = stretch(part, bends), _along(part, bends[0], part.flat.outline)
    return max(0.0, low - min(found)), max(0.0, max(found) - high)


def _along(part, name, points) -> list[float]:
    (x0, y0), (x1, y1) = part.flat.line[name]
    long = math.hypot(x1 - x0, y1 - y0)
    return [((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / long for x, y in points]


def long_of(part: Part, bends: Sequence[str]) -> float:
    """How long the lines of these bends are together, mm."""
    return sum(math.dist(*part.flat.line[name]) for name in bends)

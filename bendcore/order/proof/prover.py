"""Can this move be made from this state, and with what mounted?

The two halves beside a bend move as rigid bodies that know nothing of each other; what each meets of a tool is asked of
:class:`..contact.halves.Halves`, and put together here: limits, what lies flat, ways in, the swing, ways out, and the
part against itself.
"""

import copy
from collections.abc import Collection, Iterable, Iterator
from functools import cached_property

from ...brakes.pieces import ENDS, least_stack, sets_for
from ...brakes.setting import FRAME, FREE, HELD, PIECES, Meeting, OnBrake, Reason, Stroke
from ...said import Mm, Said
from ..contact.flats import Flats
from ..contact.halves import Halves
from ..contact.section import Section
from ..contact.selfmet import Itself
from ..contact.spans import Span, blocks, joined
from ..states.body import Half
from ..states.moves import MADE, SIDES, Job, Levels, Move
from .bounds import StopMoves
from .gauge import LINE, Gauge, in_reach, natural_gauge, seen
from .needs import Blocks, Mountings, Need, asked
from .section_prover import Stand

NONE = 0


class Prover:
    """Proves moves of one :class:`Job`."""

    def __init__(self, job: Job):
        self.job = job
        self.halves = Halves(job)
        self.flats = Flats(self.halves)
        self.itself = Itself(job, self.halves)
        self.section = Section(job)
        self.mountings = Mountings(job.brakes)
        self.stop_moves = StopMoves(job)
        self._stands: dict[Move, Stand | None] = {}
        self._fits: dict[tuple, tuple[int, ...]] = {}
        self._moves: dict[tuple, int] = {}
        self._can: dict[tuple, bool] = {}
        self._pieces: dict[tuple, tuple] = {}
        self._reach: dict[tuple, bool] = {}
        self.kept: dict[tuple, tuple] = {}
        """What :mod:`..explain.examine` found of a half and a tool."""
        self._gauges: dict[tuple, Gauge | None] = {}
        self._clear: dict[tuple, int] = {}
        self._bears: dict[tuple, Gauge | None] = {}
        self.only: frozenset[int] | None = None

    def narrowed(self, mounts: Collection[int]) -> "Prover":
        """The same with only these mounts of the first brake; what was looked at already is shared, and mountings have
        the same numbers."""
        found = copy.copy(self)
        found.only = frozenset(mounts)
        found._fits, found._moves, found._can, found._clear, found._stands = {}, {}, {}, {}, {}
        return found

    # --- what the search asks -------------------------------------------------------

    def sides(self, levels: Levels, move: Move) -> tuple[tuple[Half, tuple[int, ...]], tuple[Half, tuple[int, ...]]]:
        """The held half and the free one, each with the levels of its bends."""
        halves = self.halves.half(move.bends, move.side), self.halves.half(move.bends, 1 - move.side)
        return tuple((half, tuple(levels[i] for i in half.bends)) for half in halves)

    def mounting(self, levels: Levels, move: Move) -> int:
        """What may be mounted for this move, as a number of :attr:`mountings`; 0 where nothing will do. The stop is
        left aside."""
        key = (levels, move)
        if key not in self._moves:
            self._moves[key] = self._mounting(levels, move)
        return self._moves[key]

    def _mounting(self, levels, move) -> int:
        needs = list(self._able(levels, move))
        return self.mountings.number(needs) if needs and not self._meets_itself(levels, move) else NONE

    def can(self, levels: Levels, move: Move) -> bool:
        """Whether a move can be made, whatever must be mounted for it: no more mounts are looked at than that takes."""
        key = (levels, move)
        if key in self._moves:
            return self._moves[key] != NONE
        if key not in self._can:
            self._can[key] = next(self._able(levels, move), None) is not None and not self._meets_itself(levels, move)
        return self._can[key]

    def _able(self, levels, move) -> Iterator[Need]:
        """What would do for a move, mount by mount."""
        on, stroke = self.job.brakes[move.on], self.job.stroke(move.bends, move.to)
        if stroke.closing and not on.stops and not self.holds_flap(move):
            return  # the fold goes under the clamp, its flap up
        stand = self.stand(move)
        if stand is not None:
            yield from stand.able(levels)
            return
        sides = self.sides(levels, move)
        if on.deepest is not None and self.flats.deepest(*sides[0]) + on.brake.nose_radius > on.deepest + 1e-6:
            return
        for mount in self.fits(move.on, move.bends, move.to):
            if self.lies(on, stroke, mount, sides):
                yield from self.needs(move, sides, mount)

    def stand(self, move: Move) -> Stand | None:
        """A move as it is proved in the part's section; None where the part is not the same all along its bends."""
        if move not in self._stands:
            arms = self.section.arms.sides(move.bends, move.side)
            self._stands[move] = Stand(self, move, arms) if arms else None
        return self._stands[move]

    def _meets_itself(self, levels, move) -> bool:
        return not self.job.is_closing(move.bends[0], move.to) and self.itself.meets(levels, move)

    def holds_flap(self, move: Move) -> bool:
        """Whether the side held is a hem's own flap."""
        return self.job.body.bends[move.bends[0]].child == self.job.body.face_at(move.bends[0], move.side)

    def fits(self, on: int, bends: tuple[int, ...], to: int) -> tuple[int, ...]:
        """The mounts whose limits allow this stroke in some state."""
        key = (on, bends, to)
        if key not in self._fits:
            brake, stroke = self.job.brakes[on], self.job.stroke(bends, to)
            self._fits[key] = tuple(m for m in brake.mounts_for(stroke) if (self.only is None or m in self.only)
                                    and not brake.reasons(stroke, m) and not self.short_pieces(brake, m, bends))
        return self._fits[key]

    def short_pieces(self, on: OnBrake, mount: int, bends: tuple[int, ...]) -> list[Reason]:
        """Tools too short for these bends however the part stands."""
        found, tools = [], on.mounts[mount]
        for group, owned in on.pieces(mount).items():
            asks = asked(blocks((), self.job.lines(bends)))
            if sets_for(owned, asks) is None:
                name = getattr(getattr(tools, group, None), "name", "the fingers")
                found.append(Reason("tool-length", Said(
                    "{tool}: {owned} owned, {needed} needed", tool=name, owned=Mm(sum(owned)),
                    needed=Mm(sum(need for need, _ in asks)))))
        return found

    def lies(self, on: OnBrake, stroke: Stroke, mount: int, sides: tuple) -> bool:
        """Whether enough lies flat on both sides."""
        return all(self.flats.reach(half, levels, on.need(stroke, mount, which) - 1e-9)
                   for which, (half, levels) in zip((HELD, FREE), sides, strict=True))

    def needs(self, move: Move, sides: tuple, mount: int) -> list[Need]:
        """What this mount must offer for the move: one need for each way in and out that asks for something else."""
        on, stroke = self.job.brakes[move.on], self.job.stroke(move.bends, move.to)
        swing = self.barred(on, move, sides, on.swing(stroke, mount))
        if swing is None:
            return []
        if not self.asks(on, mount, move, swing):
            return []
        found: dict[tuple, Need] = {}
        entries = self._ways(on, move, sides, on.ways_in(stroke, mount), mount, swing)
        for entered in entries:
            for left in self._ways(on, move, sides, on.ways_out(stroke, mount), mount, entered):
                groups = self.asks(on, mount, move, left)
                if groups is not None:
                    found[groups] = Need(mount, groups)
        return list(found.values())

    def _ways(self, on, move, sides, ways, mount, barred):
        """What is barred by each way that is free; the first that bars nothing more is enough."""
        found, any_way = [], False
        for way in ways:
            any_way = True
            more = self._by(on, move, sides, way, mount)
            if more is None:
                continue
            joint = barred | {group: joined((*barred.get(group, ()), *spans)) for group, spans in more.items()}
            if "" in more and not self._hangs(move, joint[""]):
                continue  # it would have to hang past both ends
            if joint == barred:
                return [barred]
            if joint not in found:
                found.append(joint)
            if len(found) > 3:
                break
        return found if any_way else [barred]

    def _by(self, on, move, sides, way, mount) -> dict[str, tuple[Span, ...]] | None:
        """What a way bars; None where it is not free. Off an end nothing may be met, and what swung freely with
        nothing beyond the ends of the bend slides freely."""
        if not way.along:
            return self.barred(on, move, sides, way.meetings)
        clip = self.passing(on, move, sides, way.along, mount)
        if clip is None:
            return None
        return {} if self._inside(move, sides) or self.barred(on, move, sides, way.meetings, clip) == {} else None

    def barred_for(self, levels: Levels, move: Move, mount: int) -> dict[str, tuple[Span, ...]]:
        """By group of pieces, where none may stand for a move that can be made, going in and out by the first ways
        that are free."""
        on, stroke = self.job.brakes[move.on], self.job.stroke(move.bends, move.to)
        sides = self.sides(levels, move)
        barred = self.barred(on, move, sides, on.swing(stroke, mount)) or {}
        for ways in (on.ways_in(stroke, mount), on.ways_out(stroke, mount)):
            barred = next(iter(self._ways(on, move, sides, ways, mount, barred)), barred)
        return barred

    def leaves_by(self, levels: Levels, move: Move, mount: int) -> str:
        """The first way out that is free: its name, ``drawn`` where it is drawn forward first; empty for none."""
        on, stroke = self.job.brakes[move.on], self.job.stroke(move.bends, move.to)
        sides = self.sides(levels, move)
        up = [way for way in on.ways_out(stroke, mount) if not way.along] if on.stops else []
        for way in (*up, *on.ways_out(stroke, mount)):
            more = self._by(on, move, sides, way, mount)
            if more is not None and self.asks(on, mount, move, more):
                return way.name
        return ""

    def passing(self, on: OnBrake, move: Move, sides: tuple, along: int, mount: int) -> Span | None:
        """What passes the tools when the part leaves off an end; None where there is no room for that."""
        low, high = self.job.reach(move.bends)
        if not self.has_room(on, move, mount, self._along(sides)):
            return None
        return (-1e6, high) if along > 0 else (low, 1e6)

    @cached_property
    def long(self) -> float:
        """How far a part that is the same all along its bends reaches along them, mm."""
        return self._along(self.sides(self.job.flat, Move(0, (0,), MADE, SIDES[0])))

    def _along(self, sides) -> float:
        """How far both halves of a bend reach along it, mm."""
        spans = [self.halves.span(*side) for side in sides]
        return max(end for _, end in spans) - min(start for start, _ in spans)

    def has_room(self, on: OnBrake, move: Move, mount: int, long: float) -> bool:
        """Whether a part so long along the bend, mm, can leave off an end, between the side frames."""
        if not on.stops:
            return True
        low, high = self.job.reach(move.bends)
        stack = max(least_stack(owned, high - low) for owned in on.pieces(mount).values())
        return stack + long <= on.brake.between_frames + 1e-9

    def _inside(self, move, sides) -> bool:
        """Whether nothing stands beyond the ends of the bend, so that what swung freely slides freely."""
        low, high = self.job.reach(move.bends)
        return self.job.brakes[move.on].stops and all(
            start >= low - 1e-3 and end <= high + 1e-3 for start, end in (self.halves.span(*side) for side in sides))

    def barred(self, on: OnBrake, move: Move, sides: tuple, meetings: Iterable[Meeting],
               clip: Span | None = None, whole: bool = False) -> dict[str, tuple[Span, ...]] | None:
        """By group of pieces, where along the bend none may stand, and under "" what the tools as long as the brake
        meet; None where that cannot be. ``whole`` also where pieces are barred so that the bend cannot be reached."""
        found: dict[str, tuple[Span, ...]] = {}
        for meeting in meetings:
            spans = self._spans(move, sides, meeting, clip)
            if not spans:
                continue
            if meeting.reach == PIECES:
                found[meeting.group] = joined((*found.get(meeting.group, ()), *spans))
                if not whole and not self._reached(move.bends, found[meeting.group]):
                    return None
            elif meeting.reach == FRAME:
                if self.beyond_frames(on, *sides):
                    return None
            elif not on.hangs:
                return None
            else:
                found[""] = joined((*found.get("", ()), *spans))
                if not self._hangs(move, found[""]):
                    return None
        return found

    def _reached(self, bends, spans) -> bool:
        """Whether pieces could stand along these bends with nothing in ``spans``."""
        key = (bends, spans)
        if key not in self._reach:
            self._reach[key] = blocks(spans, self.job.lines(bends)) is not None
        return self._reach[key]

    def _spans(self, move, sides, meeting: Meeting, clip):
        half, levels = sides[0] if meeting.half == HELD else sides[1]
        return self.halves.met(half, levels, move.to, meeting, clip)

    def beyond_frames(self, on: OnBrake, *sides: tuple[Half, tuple[int, ...]]) -> bool:
        """Whether these halves reach further along the bend than the space between the side frames."""
        spans = [self.halves.span(*side) for side in sides]
        return max(end for _, end in spans) - min(start for start, _ in spans) > on.brake.between_frames

    def _hangs(self, move, spans) -> bool:
        """Whether what the whole tools would meet can hang past one of their ends."""
        low, high = self.job.reach(move.bends)
        return all(end <= low + ENDS for _, end in spans) or all(start >= high - ENDS for start, _ in spans)

    def asks(self, on: OnBrake, mount: int, move: Move, barred: dict) -> tuple[tuple[str, Blocks], ...] | None:
        """By group, the blocks asked for, from the operator's left to his right; None where the pieces owned do not
        do."""
        key = (move.on, mount, move.bends, self.job.way(move), tuple(sorted(barred.items())))
        if key not in self._pieces:
            self._pieces[key] = self._asked(on, mount, move, barred)
        return self._pieces[key]

    def _asked(self, on, mount, move, barred):
        groups = []
        for group, owned in on.pieces(mount).items():
            found = blocks(barred.get(group, ()), self.job.lines(move.bends))
            if found is None or sets_for(owned, asked(found)) is None:
                return None
            groups.append((group, asked(found[::self.job.way(move)])))
        return tuple(groups) or (("", ()),)

    # --- the stop ------------------------------------------------------------------------

    def gauge(self, levels: Levels, move: Move) -> tuple[Gauge, int]:
        """Where the stop would stand, and for which mounts the part swings clear of it, one bit each; a scribed line
        where there is nothing for it, or it does not reach."""
        gauge, (half, own) = self.located(levels, move), self.sides(levels, move)[0]
        if gauge.kind == LINE:
            return gauge, 0
        key = (move.on, half.made, half.side, own, move.to)
        if key not in self._clear:
            stand = self.stand(move)
            self._clear[key] = (self._clear_of(gauge, move, half, own) if stand is None else
                                stand.clear_of_stop(levels, gauge))
        return gauge, self._clear[key]

    def located(self, levels: Levels, move: Move) -> Gauge:
        """Where the stop would stand, whether or not the part then swings clear of it."""
        on = self.job.brakes[move.on]
        if not on.stops:
            return self.line(move)
        half = self.halves.half(move.bends, move.side)
        own = tuple(levels[i] for i in half.bends)
        key = (move.on, half.made, half.side, own)
        if key not in self._gauges:
            self._gauges[key] = self._located(move, half, own)
        return self._gauges[key] or self.line(move)

    def line(self, move: Move) -> Gauge:
        """Located by a line scribed on the sheet."""
        return Gauge(LINE, self.job.body.bends[move.bends[0]].id)

    def _located(self, move, half, levels) -> Gauge | None:
        on = self.job.brakes[move.on]
        key = (move.on, half.made, half.side, seen(half, levels))
        if key not in self._bears:
            self._bears[key] = in_reach(on, natural_gauge(self.job, half, levels, on.brake.stops.contact_height))
        return self._bears[key]

    def _clear_of(self, gauge, move, half, levels) -> int:
        on, stroke, free = self.job.brakes[move.on], self.job.stroke(move.bends, move.to), 0
        for mount in self.fits(move.on, move.bends, move.to):
            # what hangs beyond a face at the stop may swing against it; a plain edge only rises along its face
            stop = on.stop(stroke, mount, gauge.stop) if gauge.over is not None else None
            if not (stop and self.halves.met(half, levels, move.to, stop, beyond=gauge.over)):
                free |= 1 << mount
        return free

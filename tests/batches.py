"""Simulated batches, judged by what is hidden: how soon angles and legs are right, with a ledger and without.

A shop's secrets are drawn anew for each; the setter sees readings only. ``make bench`` calls it, and in small a
test.
"""

import copy
import random
from dataclasses import replace
from functools import lru_cache

import numpy as np

from bendcore.floor.corrections import Estimate, as_set, estimate, k_for_blank, next_settings
from bendcore.floor.diagnosis import BLANK, BOW, END, MIDDLE, MISREAD, OTHER, SKEW, Diagnosis, Readings
from bendcore.floor.reach import nonsense_k
from bendcore.floor.slips import doubts
from bendcore.floor.ties import OWN_ANGLE, OWN_LINE, Settings, Ties
from bendcore.order.planning import plan_order
from bendcore.part import read_part
from bendcore.quality.spreads import SPRINGBACK, STOP_OFFSET, K
from dorvan.simulated.brakes import Hidden, Simulated, drawn
from dorvan.simulated.setter import Setter
from tests.core.samples import brake, part_file, press, tray_file

LEDGER = {SPRINGBACK: 0.25, K: 0.006}
"""How well a ledger knows a lot: degrees per 90°, and K."""
K_STEP = 0.005
RIGHT = Hidden()
"""A shop in which nothing is wrong."""


class Work:
    """A part on a brake: its order, found once, and a strip of the same stock for trials."""

    def __init__(self, data, machine):
        self.data, self.machine = data, machine
        self.part = read_part(data)
        self.plan = plan_order(self.part, machine)
        self.angles = tuple(sorted({bend.angle for bend in self.part.sheet.bends}))
        self.names = [name for step in self.plan.steps for name in step.bends]

    def ties(self):
        return Ties(self.part, self.plan.steps, [self.machine])

    def at(self, hidden, rng):
        return Simulated(self.part, self.plan.steps, self.machine, hidden, rng)

    @lru_cache(maxsize=1000)  # noqa: B019 - a few works, for as long as the program runs
    def with_k(self, more):
        data = copy.deepcopy(self.data)
        data["allowance"]["k"] += more
        found = copy.copy(self)
        found.part = read_part(data)
        found.plan = plan_order(found.part, self.machine, self.names)
        return found

    def new_blank(self, known):
        """The same reckoned with the K that is known by now, and by how much it differs."""
        ties = self.ties()
        more = round(k_for_blank(ties, known.over(ties.lasting)) / K_STEP) * K_STEP
        return self.with_k(more), more


@lru_cache
def trial(angles, machine):
    """A strip of the same stock with a bend of every angle, two at least."""
    angles = angles if len(angles) > 1 else angles * 2
    return Work(part_file([40] * len(angles) + [60], [(angle, "up") for angle in angles], width=60), machine)


def strips(count):
    rng, machine, found = random.Random(4), press(["Swan neck 85"], ["V 8"]), []
    while len(found) < count:
        n = rng.randint(2, 4)
        bends = [(rng.choice([90, 90, 90, 60, 45]), rng.choice(["up", "up", "down"])) for _ in range(n)]
        work = Work(part_file([rng.randint(18, 60) for _ in range(n + 1)], bends), machine)
        found += [work] if work.plan.feasible else []
    return found


def trays(count):
    rng, machine, found = random.Random(4), brake("finger-1270"), []
    while len(found) < count:
        walls = {side: {"height": rng.choice([25, 30, 40])} for side in ("left", "right", "front", "back")}
        work = Work(tray_file(rng.choice([150, 200, 260]), rng.choice([120, 140, 180]), walls), machine)
        found += [work] if work.plan.feasible else []
    return found


def corrected(works, batches, legs, closing, seed=1):
    """Shares: angles within 0.5° at the second piece; its gauged legs, all of them, within ``legs`` mm; legs that close
    within ``closing`` mm after a new blank."""
    angles, gauged, closed = [], [], []
    for n in range(batches):
        work, rng = works[n % len(works)], np.random.default_rng(seed * 10_000 + n)
        ties, hidden = work.ties(), drawn(rng)
        setter = Setter(work.at(hidden, rng), ties)
        setter.measure(*setter.make())
        second, settings = setter.make()
        true = setter.dimensions(second)
        angles += [abs(true[ties.angle_of(bend)]) <= 0.5 for bend in ties.bent]
        gauged.append(all(abs(true[leg]) <= legs for leg in ties.gauged.values()))
        setter.measure(second, settings)
        anew, more = work.new_blank(setter.known)
        setter = setter.on(anew.at(replace(hidden, k=hidden.k - more), rng), anew.ties())
        setter.known = setter.known.moved((K, None), more)
        true = setter.dimensions(setter.make()[0])
        closed += [abs(true[leg]) <= closing for leg in setter.ties.closes_on]
    return tuple(float(np.mean(some)) for some in (angles, gauged, closed))


def first_pieces(works, batches, legs, closing, ledger, seed=2):
    """Shares of first pieces with all angles within 0.5° and all gauged legs within ``legs``, and of closing legs
    within ``closing``: after one trial strip, knowing the lot from a ``ledger`` or not."""
    good, closed = [], []
    for n in range(batches):
        work, rng = works[n % len(works)], np.random.default_rng(seed * 10_000 + n)
        hidden = drawn(rng)
        strip = trial(work.angles, work.machine)
        setter = Setter(strip.at(hidden, rng), strip.ties())
        if ledger:
            for kind, true in ((SPRINGBACK, -hidden.springback), (K, hidden.k)):
                setter.known = setter.known.told((kind, None), true + rng.normal(0, LEDGER[kind]), LEDGER[kind])
        setter.measure(*setter.make(Settings()))
        anew, more = work.new_blank(setter.known)
        setter = setter.on(anew.at(replace(hidden, k=hidden.k - more), rng), anew.ties())
        setter.known = setter.known.moved((K, None), more)
        true, ties = setter.dimensions(setter.make()[0]), setter.ties
        good.append(all(abs(true[ties.angle_of(bend)]) <= 0.5 for bend in ties.bent)
                    and all(abs(true[leg]) <= legs for leg in ties.gauged.values()))
        closed += [abs(true[leg]) <= closing for leg in ties.closes_on]
    return float(np.mean(good)), float(np.mean(closed))


def injected(work, key, size, hidden):
    """The secrets of a shop in which nothing but one cause is wrong, by so much; and what is set wrong at one bend."""
    kind, which = key
    if kind == SPRINGBACK:
        return replace(hidden, springback=-size), {}
    if kind in (OWN_ANGLE, OWN_LINE):
        n = which if kind == OWN_LINE else next(n for n, step in enumerate(work.plan.steps) if which in step.bends)
        return hidden, {n: (size, kind)}
    if kind == BLANK:
        return replace(hidden, longer={which: size}), {}
    name = {STOP_OFFSET: "offset", K: "k", SKEW: "skew", BOW: "bow"}[kind]
    return replace(hidden, **{name: size}), {}


def a_piece(work, ties, settings, key, size, rng):
    """A piece with one cause, bent and read in every place."""
    hidden, wrong = injected(work, key, size, RIGHT) if key else (RIGHT, {})
    back = {n: by for n, (by, kind) in wrong.items() if kind == OWN_LINE}
    bends = {name: by for n, (by, kind) in wrong.items() if kind == OWN_ANGLE for name in work.plan.steps[n].bends}
    settings = Settings({name: by + bends.get(name, 0) for name, by in settings.further.items()},
                        {n: by + back.get(n, 0) for n, by in settings.back.items()})
    setter = Setter(work.at(hidden, rng), ties)
    return read_off(setter, setter.brake.piece(setter.told(settings)))


def read_off(setter, made, everywhere=True):
    """A piece as it is read: every place, or of each dimension one."""
    work, ties, off = setter.brake, setter.ties, {}
    legs = {leg.id: leg.outside for leg in work.part.shape.legs}
    for name, sizes in made.legs.items():
        for place, size in zip((END, OTHER) if everywhere else (END,), sizes, strict=False):
            if name in legs:
                off[name, place] = setter.caliper.read(size) - legs[name]
    for bend, sizes in made.angles.items():
        nominal = work.part.sheet.bend[bend].figures.angle
        for place, size in zip((END, MIDDLE, OTHER), sizes, strict=True):
            if everywhere or place == MIDDLE:
                off[ties.angle_of(bend), place] = setter.protractor.read(size) - nominal
    return Readings(off, {name: setter.caliper.read(by) for name, by in made.blank.items()})


def slipped(readings, ties, rng):
    """One leg of a piece misread by 1 to 10 mm: (the readings, which)."""
    legs = [place for place in readings.off if ties.dimensions[place[0]].unit == "mm"]
    which = legs[rng.integers(len(legs))]
    by = rng.choice([-1, 1]) * rng.uniform(1, 10)
    return replace(readings, off=readings.off | {which: readings.off[which] + by}), which


def _run_in(works, seed):
    """Each work after 40 pieces, when its settings are known: with them, its diagnosis and the spread of each cause."""
    for work in works:
        ties = work.ties()
        setter = Setter(work.at(RIGHT, np.random.default_rng(seed)), ties)
        for _ in range(40):
            setter.measure(*setter.make())
        diagnosis = Diagnosis(ties)
        yield work, ties, next_settings(ties, setter.known), diagnosis, diagnosis.spreads()


def judged(works, parts, seed=3):
    """Of pieces of which seven in ten have one cause and one in ten a leg misread: shares (causes named, misreadings
    named, pieces with neither accused), and by tenth of stated certainty how often it was right, how often and what it
    stated."""
    known, bins = list(_run_in(works, seed)), {}
    causes, slips, nothing = [], [], []
    for n in range(parts):
        work, ties, settings, diagnosis, spreads = known[n % len(known)]
        rng = np.random.default_rng(seed * 10_000 + n)
        key = list(spreads)[rng.integers(len(spreads))] if rng.random() < 0.7 else None
        size = rng.choice([-1, 1]) * rng.uniform(4, 10) * spreads[key] if key else 0
        readings, wrong = a_piece(work, ties, settings, key, size, rng), None
        if rng.random() < 0.1:
            readings, which = slipped(readings, ties, rng)
            wrong = MISREAD, which
        verdict = diagnosis.of(readings)
        named = {cause.key for cause in verdict.causes}
        all_named = named | ({verdict.besides.key} if verdict.besides else set())
        causes += [key in all_named] if key else []
        slips += [wrong in all_named] if wrong else []
        nothing += [bool(named)] if not key and not wrong else []
        if named:
            bins.setdefault(int(verdict.certainty * 10), []).append((verdict.certainty, bool(named & {key, wrong})))
    told = {tenth: (float(np.mean([ok for _, ok in rows])), len(rows), float(np.mean([stated for stated, _ in rows])))
            for tenth, rows in sorted(bins.items())}
    return float(np.mean(causes)), float(np.mean(slips)), float(np.mean(nothing)), told


def left_alone(works, parts, seed=5):
    """Shares of first pieces after which the next set, and the next blank, are worse than if nothing had been changed:
    shops with secrets, blanks cut wrong, one leg in ten misread, one in fifty in inches; what is asked about at its
    field is taken again, by somebody who leaves it out."""
    sets, blanks = [], []
    for n in range(parts):
        work, rng = works[n % len(works)], np.random.default_rng(seed * 10_000 + n)
        ties, hidden = work.ties(), drawn(rng)
        if rng.random() < 0.3:
            hidden = replace(hidden, longer={row.legs[0]: rng.normal(0, 1) for row in ties.rows})
        setter = Setter(work.at(hidden, rng), ties)
        readings = read_off(setter, setter.brake.piece(setter.told(Settings())), rng.random() < 0.5)
        if rng.random() < 0.3:
            readings = replace(readings, blank={})
        luck = rng.random()
        if luck < 0.1:
            readings, _ = slipped(readings, ties, rng)
        elif luck < 0.12:
            place = next(place for place in readings.off if ties.dimensions[place[0]].unit == "mm")
            nominal = ties.dimensions[place[0]].nominal
            readings = replace(readings, off=readings.off | {place: (readings.off[place] + nominal) / 25.4 - nominal})
        asked = {place for place, off in readings.off.items()
                 if doubts(ties, Estimate(), Settings(), {place[0]: off + ties.dimensions[place[0]].nominal})}
        bent = Diagnosis(ties).learnt(Settings(), replace(readings, off={
            place: off for place, off in readings.off.items() if place not in asked}))
        known = estimate(ties, [bent])
        settings = as_set(next_settings(ties, known))
        still = replace(hidden, slip=0.0, repeat=0.0, scribing=0.0, longer={})
        sets.append(_worst(work, still, settings) > _worst(work, still, Settings()) + 0.15)
        more = k_for_blank(ties, known)
        if abs(more) >= 0.003 and set(ties.closes_on) & set(bent.measured) and not nonsense_k(work.part, more):
            anew = work.with_k(round(more, 3))
            blanks.append(_worst(anew, replace(still, k=still.k - more), settings, True)
                          > _worst(work, still, settings, True) + 0.1)
    return float(np.mean(sets)), float(np.mean(blanks))


def _worst(work, hidden, settings, closing=False):
    """How far the worst dimension of a piece is really off: angles by degrees, gauged legs by 0.3 mm; or those that
    close, by mm."""
    ties = work.ties()
    setter = Setter(work.at(hidden, np.random.default_rng(1)), ties)
    true = setter.dimensions(setter.brake.piece(setter.told(settings)))
    if closing:
        return max(abs(true[leg]) for leg in ties.closes_on)
    return max([abs(true[ties.angle_of(bend)]) for bend in ties.bent]
               + [abs(true[leg]) / 0.3 for leg in ties.gauged.values()])


def diagnosed(works, parts=500, seed=3):
    """Shares: the injected cause named first or among those it cannot be told from; parts with nothing wrong accused;
    how sure the verdicts were, and how often right."""
    known, named, sure, right, accused = list(_run_in(works, seed)), 0, [], [], 0
    for n in range(parts):
        work, ties, settings, diagnosis, spreads = known[n % len(known)]
        rng = np.random.default_rng(seed * 10_000 + n)
        key = list(spreads)[rng.integers(len(spreads))]
        size = rng.choice([-1, 1]) * rng.uniform(4, 10) * spreads[key]
        verdict = diagnosis.of(a_piece(work, ties, settings, key, size, rng))
        found = key in {cause.key for cause in verdict.causes}
        named += found
        if verdict.causes:
            sure.append(verdict.certainty)
            right.append(found)
        accused += bool(diagnosis.of(a_piece(work, ties, settings, None, 0, rng)).causes)
    return named / parts, accused / parts, float(np.mean(sure)), float(np.mean(right))


def told(batches=150):
    """All of it, printed."""
    for words, works, second, new, first, apart in (
            ("strips on the press", strips(12), 0.2, 0.3, 0.3, 0.5),
            ("trays on fingers", trays(6), 0.4, 0.4, 0.4, 0.5)):
        angles, gauged, closed = corrected(works, batches, second, new)
        print(f"  {words:20} second piece: angles ± 0.5° {angles:6.1%}, all gauged legs ± {second} {gauged:6.1%}; "
              f"after a new blank the closing leg ± {new} {closed:6.1%}")
        for ledger in (True, False):
            good, closed = first_pieces(works, batches, first, apart, ledger)
            print(f"  {'':20} first piece after a trial strip, {'with' if ledger else 'without'} a ledger: all angles "
                  f"and gauged legs ± {first} {good:6.1%}, closing leg ± {apart} {closed:6.1%}")
    named, accused, sure, right = diagnosed(strips(8) + trays(4))
    print(f"  500 pieces with one cause: named {named:6.1%}; with none: accused {accused:6.1%}; certainty stated "
          f"{sure:6.1%}, found {right:6.1%}")
    works = strips(8) + trays(4)
    named, misread, accused, bins = judged(works, 2000)
    print(f"  2,000 pieces, a leg in ten misread: cause named {named:6.1%}, misreading named {misread:6.1%}, nothing "
          f"wrong accused {accused:6.1%}")
    print("  certainty stated, right, of how many: " + "; ".join(
        f"{stated:.1%} {right:.1%} {count}" for right, count, stated in bins.values()))
    sets, blanks = left_alone(works, 2000)
    print(f"  next set worse than left alone {sets:6.2%}, next blank {blanks:6.2%}")


if __name__ == "__main__":
    told()

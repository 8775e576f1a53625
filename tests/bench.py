"""``make bench``: how well the fit of K does, what an edit and what the order search cost.

Each figure stands beside another from the same run: an edit beside fetching an
empty page, the search beside brute force over the same strips. A third of it is measured, in a few minutes;
``make bench LONG=1`` measures all.
"""

import argparse
import json
import math
import random
import resource
import sqlite3
import statistics
import tempfile
import time
from contextlib import closing

import numpy as np

from bendcore.cutting.guillotine import shear_plan
from bendcore.cutting.pieces import Piece
from bendcore.day.greedy import greedy
from bendcore.day.solve import solve
from bendcore.day.work import cost, faults
from bendcore.formats.dxf_in import read_dxf
from bendcore.formats.export import export
from bendcore.order.proof.prover import Prover
from bendcore.order.search.finding import find
from bendcore.order.search.walk import furthest
from bendcore.order.states.moves import SIDES, Job, Move
from bendcore.part import read_part
from bendcore.patience import ENDLESS, Patience
from tests import batches
from tests.core.days import random_work
from tests.core.guards import guard_file
from tests.core.judges import brute_force
from tests.core.panels import panels_file
from tests.core.plates import plate_file
from tests.core.ribs import rib_file
from tests.core.rolled import rolled_file
from tests.core.samples import ROOT, brake, part_file, press, random_part, random_tray, tray_file
from tests.core.simulated_shops import simulated_u_k, strip_of, verdict
from tests.core.test_any_sheet import prism, solid
from tests.core.test_cutting import WHOLE, first_fit_decreasing
from tests.core.transitions import square_to_round_file, transition_file
from tests.often import IS_THOROUGH, often
from tests.served import shop, signed_in

EDIT = """
const [css, value, done] = arguments;
const input = document.querySelector(css);
const begun = performance.now();
document.addEventListener("htmx:afterSettle", function drawn(event) {
  if (event.target.id !== "bench") return;
  document.removeEventListener("htmx:afterSettle", drawn);
  requestAnimationFrame(() => setTimeout(() => done(performance.now() - begun)));
});
input.value = value;
input.dispatchEvent(new Event("change", {bubbles: true}));
"""
EMPTY = """
const done = arguments[0], begun = performance.now();
fetch("/people/sign-in/", {redirect: "manual"}).then(
  () => requestAnimationFrame(() => done(performance.now() - begun)));
"""
PAGE = """
const [page, done] = arguments, begun = performance.now();
fetch(page, {redirect: "manual"}).then(r => r.text()).then(() => done(performance.now() - begun));
"""
LAYOUT = """
const done = arguments[0], begun = performance.now();
Promise.all([fetch(location.pathname + "layout/", {headers: {"HX-Request": "true"}}).then(r => r.text()),
             fetch(location.pathname + "folded/").then(r => r.json())]).then(() => done(performance.now() - begun));
"""


SEVEN = [[0, 0], [120, 0], [200, 90], [210, 220], [120, 310], [0, 320], [-60, 160]]
"""A side of seven edges."""


def guard_of_60() -> dict:
    """A wrapper round twenty edges, each with two turned edges."""
    outline = [[600 * math.cos(math.pi * n / 10), 600 * math.sin(math.pi * n / 10)] for n in range(20)]
    data = guard_file(outline=outline, width=120)
    del data["shape"]["wrapped"]
    return data


def flat_of_60() -> dict:
    """The same, as it comes back from its drawing."""
    data = guard_of_60()
    return data | {"shape": read_dxf(export(read_part(data), "dxf").encode()).shape}


def plate_of_60() -> dict:
    """A plate of thirty edges, a flange on each and a return on all but one."""
    outline = [[600 * math.cos(math.pi * n / 15), 600 * math.sin(math.pi * n / 15)] for n in range(30)]
    back = {"return": {"length": 15, "direction": "up"}}
    return plate_file(outline=outline, flanges=[{"edge": n + 1, "length": 30, "direction": "up"} | (back if n else {})
                                                for n in range(30)])


def strip_of_31() -> dict:
    return part_file([30] * 31, [(90, ("up", "down", "down", "up")[n % 4]) for n in range(30)])


def turned() -> dict:
    out = {"width": 18, "direction": "out"}
    return transition_file(top={"length": 100, "width": 80, "offset": [20, 10], "turn": 20}, bottom_flange=out,
                           top_flange=out)


def chain_of_16() -> dict:
    inner = [{"length": 90, "diameter": 118 - 4 * n, "turn": 8, "plane": 20 * n} for n in range(15)]
    return rolled_file(kind="chain", stations=[{"diameter": 120}, *inner, {"length": 90, "diameter": 58}])


def panels_of(faces: int) -> dict:
    """A base of many edges, a panel on each and another on all but one."""
    edges = faces // 2
    reach = 20 * edges / math.pi
    ring = [[reach * math.cos(2 * math.pi * n / edges), reach * math.sin(2 * math.pi * n / edges)]
            for n in range(edges)]
    walls = [{"edge": n + 1, "length": 20, "direction": "up", "start": 3, "end": 3} for n in range(edges)]
    rims = [{"on": n + 1, "edge": 2, "length": 10, "direction": "up"} for n in range(faces - edges - 1)]
    return panels_file([*walls, *rims], ring)


EDITED = (("a strip of 5 legs (section, flat, figures)", 144, "[aria-label^='Leg L2']", 40),
          ("a strip of 31 legs", 903, "[data-field='shape.legs[3]']", 28),
          ("a tray of 13 faces", 150, "[aria-label^='Height of the left']", 60),
          ("a guard of 60 faces", 900, "[aria-label^='Leg L2']", 188),
          ("a drawn flat of 60 faces", 901, "[data-field='shape.bends[3].angle']", 18),
          ("a plate of 60 faces", 902, "[data-field='shape.flanges[3].length']", 28),
          ("a transition, turned, with both flanges", 904, "[data-field='shape.height']", 120),
          ("a square to round of 20 bends", 905, "[data-field='shape.height']", 140),
          ("a chain of 16 cones", 906, "[data-field='shape.stations[3].length']", 90),
          ("panels of 60 faces", 908, "[data-field='shape.panels[3].length']", 18),
          ("panels of 200 faces", 909, "[data-field='shape.panels[3].length']", 18),
          ("a rib with two curves, fluted", 907, "[data-field='shape.flange.width']", 15))


def edits():
    """From the change of a field to the frame that shows it; a person's pause lies between two edits."""
    rows = {}
    with shop({900: guard_of_60(), 901: flat_of_60(), 902: plate_of_60(), 903: strip_of_31(), 904: turned(),
               905: square_to_round_file(), 906: chain_of_16(), 907: rib_file(), 908: panels_of(60),
               909: panels_of(200)}) as address:
        browser = signed_in(address)
        try:
            for words, number, css, size in EDITED:
                browser.get(f"{address}/t/{number}/")
                time.sleep(1)
                for n in range(often(25)):
                    rows.setdefault(f"an edit of {words}", []).append(
                        browser.execute_async_script(EDIT, css, f"{size + n / 8:.3f}"))
                    time.sleep(0.3)
                    rows.setdefault("an answer with nothing in it", []).append(browser.execute_async_script(EMPTY))
                    if number == 144:
                        rows.setdefault("the layout and the folded mesh after it", []).append(
                            browser.execute_async_script(LAYOUT))
        finally:
            browser.quit()
    for words, times in rows.items():
        times.sort()
        print(f"  {words:60} median {statistics.median(times):6.1f} ms   worst of {len(times)} {times[-1]:6.1f} ms")


def timed(call):
    begun = time.perf_counter()
    result = call()
    return time.perf_counter() - begun, result


def searches():
    for bends, pairs, words in ((6 if IS_THOROUGH else 5, (["Straight 85"], ["V 8"]), "one pair of tools"),
                                (8, (["Straight 85"], ["V 8"]), "one pair of tools"),
                                (8, (["Swan neck 85"], ["V 8"]), "an asymmetric punch, both ways round"),
                                (8, (None, None), "the whole rack, 26 mounts")):
        rng, brake = random.Random(3), press(*pairs)
        parts = [random_part(rng, bends, bends) for _ in range(often(24))]
        runs = [timed(lambda p=p, b=brake: find(Prover(Job.of(p, b)))) for p in parts]
        seconds = sorted(s for s, _ in runs)
        line = (f"  {bends} bends, {words:38} median {statistics.median(seconds):5.2f} s   worst {seconds[-1]:5.2f} s"
                f"   {sum(r.complete for _, r in runs)} of {len(runs)} can be made")
        if bends < 8:
            brute = sorted(timed(lambda p=p, b=brake: brute_force(Job.of(p, b)))[0] for p in parts)
            line += f"   brute force: median {statistics.median(brute):5.2f} s, worst {brute[-1]:5.2f} s"
        print(line)


def sheets():
    """Parts of the demo's kind on the brake a shop would use: until the first order, until it is proven."""
    rows = {row["number"]: row for row in json.loads((ROOT / "demo" / "tickets.json").read_text("utf-8"))}
    walls = {side: {"height": 30} for side in ("left", "right", "front", "back")}
    lipped = {side: wall | {"lip": {"width": 10, "direction": "out"}} for side, wall in walls.items()}
    asked = [("a tray of 4 bends", tray_file(), "finger-1270"),
             ("a tray with lips out, 8 bends", tray_file(walls=lipped), "finger-1270"),
             ("a cap with hems, 8 bends, 12 strokes", rows[151]["part"], "finger-1270"),
             ("a tabbed tray with hems, 12 bends, 16 strokes", rows[150]["part"], "finger-1270"),
             ("a guard with turned edges, 14 bends", rows[154]["part"], "finger-1270"),
             ("a guard of six legs, 17 bends", guard_file(outline=SEVEN, wrapped=[1, 6]), "finger-1270")]
    for words, part, name in asked:
        prover = Prover(Job.of(read_part(part), brake(name)))
        first, (goal, _) = timed(lambda p=prover: furthest(p))
        prover = Prover(prover.job)
        seconds, found = timed(lambda p=prover: find(p, patience=Patience(60)))
        end = "" if goal == prover.job.made else ", none to the end"
        print(f"  {words:48} first order {first:5.2f} s   {'proven' if found.proven else 'best so far'} "
              f"{seconds:6.2f} s   {len(found.steps)} strokes{end}")
    print(f"  memory at most {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")


def growth():
    """How much longer it takes to prove an order with every bend more: guards of two legs to five."""
    rows = []
    for legs in range(2, 6):
        part = read_part(guard_file(outline=SEVEN, wrapped=[1, legs]))
        prover = Prover(Job.of(part, brake("finger-1270")))
        seconds, found = timed(lambda p=prover: find(p, patience=Patience(60)))
        rows.append((prover.job.count, seconds, found.proven))
    told = ", ".join(f"{bends} bends {seconds:.2f} s{'' if proven else ' (not proven)'}"
                     for bends, seconds, proven in rows)
    (first, low, _), (last, high, _) = rows[0], rows[-1]
    print(f"  {told}: times {(high / low) ** (1 / (last - first)):.2f} a bend")


def meshes(parts=3, states=300, through=25):
    """Random states of a part, a bend swung past the tools in each, beside the same through solids at every second
    degree: of those every so manieth."""
    rng, mine, theirs, looked = random.Random(5), 0.0, 0.0, 0
    for _ in range(parts):
        job = Job.of(random_tray(rng, 6), brake("finger-1270"))
        prover, on, asked = Prover(job), job.brakes[0], []
        for _ in range(states):
            levels = tuple(rng.choice([0, job.stages(i)[-1]]) for i in range(job.count))
            i = rng.randrange(job.count)
            levels, move = (*levels[:i], 0, *levels[i + 1:]), Move(0, (i,), job.stages(i)[-1], rng.choice(SIDES))
            asked.append((move, job.stroke(move.bends, move.to), prover.sides(levels, move)))
        mine += timed(lambda p=prover, o=on, a=asked: [p.barred(o, m, s, o.swing(k, 0), whole=True)
                                                       for m, k, s in a])[0]
        some = asked[::through]
        theirs += timed(lambda j=job, o=on, a=some: [swung_through(j, o, k, s) for _, k, s in a])[0]
        looked += len(some)
    mine, theirs = mine / parts / states, theirs / looked
    print(f"  a state's swing past the tools {1000 * mine:.2f} ms, through solids {1000 * theirs:.0f} ms: "
          f"{theirs / mine:.0f} times as fast")


def swung_through(job, on, stroke, sides) -> float:
    """How much of two halves and their tools lies in each other, all angles together, mm³."""
    found = 0.0
    solids = [solid(job, *side) for side in sides]
    for tool in on.tools(stroke, 0):
        shape = prism(tool.shape, -500, 1500)
        for half, path, side in zip(solids, (tool.held, tool.free), (1, -1), strict=True):
            for angle in range(0, math.ceil(stroke.bend_to), 2):
                y, z, h = (float(v) for v in path(np.array(float(angle))))
                c, d = math.cos(h), math.sin(h)
                placed = half.transform([[side * c, -side * d, 0, side * y], [d, c, 0, z], [0, 0, 1, 0]])
                found += abs((placed ^ shape).volume())
    return found


def while_searching():
    """Other pages while an order is looked for in the server's own processes, beside the same with nothing going on."""
    outline = [[400 * math.cos(math.pi * n / 4), 400 * math.sin(math.pi * n / 4)] for n in range(8)]
    hard = guard_file(outline=outline, width=140)
    code = ("import json, sys; from dorvan.tickets.models import Ticket; from dorvan.brakes.models import Brake; "
            "from dorvan.people.models import User; part = json.loads(sys.stdin.read()); "
            "Ticket.objects.create(number=900, part=part, brake=Brake.objects.get(name__contains='finger'), "
            "made_by=User.objects.first())")
    del hard["shape"]["wrapped"]
    with shop(code=code, given=hard) as address:
        browser = signed_in(address)
        browser.set_script_timeout(60)
        try:
            for words, begin in (("with nothing going on", ""), ("while an order is looked for", "/t/900/order/")):
                if begin:
                    browser.execute_async_script(PAGE, begin)
                until, times = time.monotonic() + often(24), []
                while time.monotonic() < until:
                    times += [browser.execute_async_script(PAGE, page)
                              for page in ("/", "/t/144/", "/t/150/layout/", "/stockroom/", "/t/144/stock/")]
                times.sort()
                print(f"  pages {words:42} median {statistics.median(times):6.1f} ms   95 % under "
                      f"{times[int(0.95 * len(times))]:6.1f} ms   ({len(times)} pages)")
        finally:
            browser.quit()


def judged():
    """The search beside brute force over every order, holding and set of tools, on all kinds of brake."""
    parts, fewer = (200, 0) if IS_THOROUGH else (50, 1)
    rng, few = random.Random(31), [{"width": w, "count": n} for w, n in ((100, 2), (50, 1), (32, 1), (25, 2))]
    hands = [brake("finger-1270", fingers=few), brake("leaf-2000"), brake("bench-bars")]
    presses = [press(["Straight 85"], ["V 8"]), press(["Swan neck 85"], ["V 8"]), press(["Straight 85", "Swan neck 85"],
                                                                                        ["V 6", "V 8"])]
    same = made = 0
    spent = [0.0, 0.0]
    for n in range(parts):
        on = (presses if n % 2 else hands)[n // 2 % 3]
        most = (4 if on is presses[2] else 6) - fewer  # with many pairs of tools trying all takes hours
        part = random_part(rng, most, 2) if n % 2 or n % 5 == 0 else random_tray(rng, rng.randint(2, most))
        job = Job.of(part, on)
        (mine, found), (trying, got) = timed(lambda j=job: find(Prover(j))), timed(lambda j=job: brute_force(j))
        spent = [spent[0] + mine, spent[1] + trying]
        same += found.complete == (got is not None) and (got is None or abs(found.cost - got) < 1e-6)
        made += found.complete
    print(f"  {parts} random parts of up to {6 - fewer} bends: {same} alike in feasibility and cost, "
          f"{parts - made} without an order; {spent[0]:.0f} s, by trying all {spent[1]:.0f} s")


def rack():
    """The rack of 400 tickets on the server, beside a page with nothing in it, in turns."""
    code = ("import json, sys; from dorvan.tickets.models import Ticket; "
            "from dorvan.tickets.pages.cards import keep_card; from dorvan.people.models import User; "
            "me = User.objects.first(); data = json.loads(sys.stdin.read()); "
            "[keep_card(Ticket.objects.create(number=1000 + n, part=data, made_by=me)) for n in range(400)]")
    with shop(code=code, given=part_file()) as address:
        browser = signed_in(address)
        try:
            for words, page in (("the rack with 417 tickets", "/"), ("its last page", "/?page=18"),
                                ("the sign-in page", "/people/sign-in/")):
                times = sorted(browser.execute_async_script(PAGE, page) for _ in range(30))
                print(f"  {words:60} median {statistics.median(times):6.1f} ms   worst of 30 {times[-1]:6.1f} ms")
        finally:
            browser.quit()


def commits():
    """What it costs that a commit is on the disk before it is answered."""
    with tempfile.TemporaryDirectory() as folder:
        for way in ("NORMAL", "FULL"):
            with closing(sqlite3.connect(f"{folder}/{way}.sqlite3", isolation_level=None)) as base:
                base.executescript(f"PRAGMA journal_mode=WAL; PRAGMA synchronous={way}; CREATE TABLE t (x TEXT);")
                times = sorted(timed(lambda b=base: b.execute("INSERT INTO t VALUES (?)", ("x" * 3000,)))[0]
                               for _ in range(400))
            print(f"  a commit, synchronous = {way:34} median {1000 * statistics.median(times):6.2f} ms   "
                  f"worst of 400 {1000 * times[-1]:6.2f} ms")


def fits():
    seconds, found = timed(lambda: verdict(4000))
    proof = strip_of(0.42, 90, 1.5, 1.0)
    print(f"  4,000 shops of 8 proof bends, {seconds / 8:.1f} s for 1,000 fits of K and springback")
    print(f"  fitted K, root mean square error over the ideal's {found.ratio:6.3f}   (at most 1.15)")
    print(f"  95 % range covers the secret K                {found.covered:6.1%}   (93 to 97 %)")
    print(f"  wrong proofs proposed as outliers             {found.found:6.1%}   (at least 90 %)")
    print(f"  right proofs proposed as outliers             {found.blamed:6.2%}   (at most 2 %)")
    print(f"  95 % range covers the secret springback       {found.springback_covered:6.1%}")
    spread = simulated_u_k(proof, 50_000)
    print(f"  stated u_K {proof.u_k:.5f}, spread of 50,000 misreadings {spread:.5f}   (within 10 %)")


def cutting():
    """Random lists on one size of sheet: sheets needed, beside the bound and first-fit decreasing."""
    for count in (20, 40, 80):
        rng, rows = random.Random(count), []
        for _ in range(often(9)):
            pieces = [Piece(f"p{n}", "p", rng.uniform(60, 900), rng.uniform(60, 500), (), rng.choice(["", "along"]))
                      for n in range(count)]
            seconds, plan = timed(lambda own=pieces: shear_plan(own, [WHOLE], 0, 5))
            rows.append((seconds, len(plan.sheets) - plan.least.stock,
                         first_fit_decreasing(pieces, WHOLE, 0, 5) - len(plan.sheets), plan.utilisation))
        seconds, over, fewer, used = zip(*rows, strict=True)
        print(f"  {count} pieces: worst {max(seconds):4.1f} s   over the bound at most {max(over)}   "
              f"{sum(fewer)} sheets fewer than first-fit decreasing in {len(rows)} lists   "
              f"{statistics.mean(used):4.0%} used")


def days():
    """40 jobs on 4 brakes and 5 people in half a minute: the cost beside its bound, the most urgent first, and, where
    it is asked for at length, the best of ten minutes."""
    for seed in range(1, often(3) + 1):
        work = random_work(random.Random(seed), 40, 4, 5)
        seconds, found = timed(lambda own=work: solve(own, ENDLESS, 30))
        line = f"  day {seed}: {seconds:4.1f} s   cost {found.cost}, none under {found.bound} "
        line += f"({found.cost / found.bound - 1:+.1%})"
        line += f"   most urgent first {cost(greedy(work))}   faults {len(faults(work, found.placed))}"
        if IS_THOROUGH:
            best = solve(work, ENDLESS, 600).cost
            line += f"   best of ten minutes {best} ({found.cost / best - 1:+.1%})"
        print(line, flush=True)


SECTIONS = {
    "orders": ("Order search", (searches, sheets, growth)),
    "judges": ("Orders beside solids and brute force", (meshes, judged)),
    "pages": ("Pages while orders are looked for, and the rack", (while_searching, rack)),
    "k": ("Fitting K", (fits,)),
    "batches": ("At the brake, in simulated metal", (batches.told,)),
    "cutting": ("Cutting", (cutting,)),
    "day": ("The day", (days,)),
    "disk": ("On the disk", (commits,)),
    "edits": ("At the browser", (edits,))}
"""By the name that ``make bench ONLY=`` asks for: what it is, and what it measures."""


def main():
    """Everything, or the sections asked for, each with what it took."""
    wanted = argparse.ArgumentParser(prog="tests.bench")
    wanted.add_argument("--only", default=",".join(SECTIONS), help="names, with commas between")
    for name in wanted.parse_args().only.split(","):
        title, measures = SECTIONS[name]
        print(title, flush=True)
        begun = time.perf_counter()
        for measure in measures:
            measure()
        print(f"  [{name}: {time.perf_counter() - begun:.0f} s]", flush=True)


if __name__ == "__main__":
    main()

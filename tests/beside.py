"""``python -m tests.beside [--only orders,edits] [--against REV]``: what things cost here, beside a reference commit.

The commit is the one written in ``tests/reference-commit``. Both trees are measured by the same worker, in turns, a
round each at a time, since machines are noisy; what counts is the ratio, round by round. What takes more than a tenth
longer than there is printed in red at the end, and the exit status is 1.
"""

import argparse
import json
import os
import statistics
import subprocess
import sys
import tempfile
from contextlib import contextmanager
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
REFERENCE = (ROOT / "tests" / "reference-commit").read_text("utf-8").split()[0]
SLOWER = 1.1
ENGINE = r"""
import sys
sys.path.insert(0, ".")
try:
    from bendcore.order.proof.prover import Prover
    from bendcore.order.search.finding import find
    from bendcore.order.states.moves import Job
except ImportError:  # as the tree was before the order's rooms
    from bendcore.order.moves import Job
    from bendcore.order.proof import Prover
    try:
        from bendcore.order.finding import find
    except ImportError:
        from bendcore.order.search import find
try:
    from bendcore.patience import Patience
except ImportError:  # before it was other rooms' too
    from bendcore.order.patience import Patience
"""
"""The engine of orders wherever a tree keeps it: what is run in both trees begins so."""
WORKER = ENGINE + r"""
import json, random, time
from bendcore.part import read_part
from tests.core.samples import brake, part_file, press, random_part


def orders(parts, on):
    begun = time.perf_counter()
    for part in parts:
        find(Prover(Job.of(part, on)))
    return time.perf_counter() - begun


def strips(bends, pairs, count):
    rng = random.Random(3)
    return [random_part(rng, bends, bends) for _ in range(count)], press(*pairs)


jobs = {}
for name, (kind, *rest) in json.loads(sys.stdin.readline()).items():
    try:
        if kind == "strips":
            parts, on = strips(*rest)
            jobs[name] = lambda parts=parts, on=on: orders(parts, on)
        elif kind == "order":
            part, on = read_part(rest[0]), brake(rest[1], costs={}) if rest[1] else press(["Straight 85"], ["V 8"])
            jobs[name] = lambda part=part, on=on: orders([part], on)
        elif kind == "layout":
            def laid(data=rest[0]):
                begun = time.perf_counter()
                for _ in range(rest[1]):
                    part = read_part(data)
                    part.flat, part.folded
                return time.perf_counter() - begun
            jobs[name] = laid
    except Exception:
        pass  # a kind of part that this tree does not know
for line in sys.stdin:
    name = line.strip()
    try:
        print(json.dumps(jobs[name]() if name in jobs else None), flush=True)
    except Exception:
        print("null", flush=True)
"""


def sections() -> dict[str, dict[str, list]]:
    """By section and words: what is measured."""
    from tests.bench import SEVEN, plate_of_60, strip_of_31
    from tests.core.guards import guard_file
    from tests.core.samples import part_file
    from tests.core.trays import tray_file

    rows = {row["number"]: row for row in json.loads((ROOT / "demo" / "tickets.json").read_text("utf-8"))}
    walls = {side: {"height": 30, "lip": {"width": 10, "direction": "out"}} for side in ("left", "right", "front",
                                                                                         "back")}
    wave = part_file([30] * 9, [(30, ("up", "down")[n % 2]) for n in range(8)])
    return {
        "strips": {"strips of 8 bends, one pair of tools": ["strips", 8, [["Straight 85"], ["V 8"]], 12],
                   "strips of 8 bends, an asymmetric punch": ["strips", 8, [["Swan neck 85"], ["V 8"]], 12],
                   "strips of 8 bends, the whole rack": ["strips", 8, [None, None], 6],
                   "strips of 4 bends, one pair of tools": ["strips", 4, [["Straight 85"], ["V 8"]], 12],
                   "8 equal bends": ["order", wave, ""]},
        "sheets": {"a tray of 4 bends": ["order", tray_file(), "finger-1270"],
                   "a tray with lips out, 8 bends": ["order", tray_file(walls=walls), "finger-1270"],
                   "a cap with hems, 8 bends, 12 strokes": ["order", rows[151]["part"], "finger-1270"],
                   "a tabbed tray, 12 bends, 16 strokes": ["order", rows[150]["part"], "finger-1270"],
                   "a guard of 14 bends": ["order", rows[154]["part"], "finger-1270"],
                   "a guard of 17 bends": ["order", guard_file(outline=SEVEN, wrapped=[1, 6]), "finger-1270"]},
        "layout": {"a strip of 31 legs laid out and folded": ["layout", strip_of_31(), 20],
                   "a tray": ["layout", tray_file(), 20], "a plate of 60 faces": ["layout", plate_of_60(), 5]}}


@contextmanager
def tree(revision: str):
    """A checkout of a commit, gone afterwards."""
    with tempfile.TemporaryDirectory() as folder:
        other = Path(folder) / "other"
        subprocess.run(["git", "worktree", "add", "-q", "--detach", str(other), revision], cwd=ROOT, check=True)
        try:
            yield other
        finally:
            subprocess.run(["git", "worktree", "remove", "--force", str(other)], cwd=ROOT, check=True)


def commands(here: Path, command: list[str]) -> float:
    """A whole process, s."""
    timed = ("import subprocess, sys, time; begun = time.perf_counter(); "
             "subprocess.run([sys.executable, *sys.argv[1:]], stdout=subprocess.DEVNULL, check=True); "
             "print(time.perf_counter() - begun)")
    return float(subprocess.run([sys.executable, "-c", timed, *command], cwd=here, check=True, text=True,
                                stdout=subprocess.PIPE).stdout)


def told(words: str, here: list[float], there: list[float], slower: list[str]) -> None:
    """One line, and whether it is to be told again in red."""
    if not there:
        print(f"  {words:44} {1000 * statistics.median(here):9.1f} ms   not there", flush=True)
        return
    ratio = statistics.median(one / other for one, other in zip(here, there, strict=True))
    print(f"  {words:44} {1000 * statistics.median(here):9.1f} ms   there {1000 * statistics.median(there):9.1f} ms   "
          f"{ratio:5.2f} of it", flush=True)
    if ratio > SLOWER:
        slower.append(f"{words}: {ratio:.2f} of what it was")


def main() -> int:
    """Everything, or the sections asked for."""
    wanted = argparse.ArgumentParser(prog="tests.beside")
    wanted.add_argument("--only", default="strips,sheets,layout,commands")
    wanted.add_argument("--against", default=REFERENCE)
    wanted.add_argument("--rounds", type=int, default=3)
    args = wanted.parse_args()
    slower, only = [], args.only.split(",")
    asked = {section: rows for section, rows in sections().items() if section in only}
    with tree(args.against) as other, tempfile.TemporaryDirectory() as folder:
        env = os.environ | {"DORVAN_DATA": folder, "DORVAN_WORKERS": "0"}
        hands = [subprocess.Popen([sys.executable, "-W", "ignore", "-c", WORKER], cwd=here, env=env, text=True,
                                  stdin=subprocess.PIPE, stdout=subprocess.PIPE) for here in (ROOT, other)]
        for hand in hands:
            hand.stdin.write(json.dumps({words: row for rows in asked.values() for words, row in rows.items()}) + "\n")
        for section, rows in asked.items():
            print(section, flush=True)
            for words in rows:
                times: tuple[list, list] = ([], [])
                for n in range(args.rounds):
                    for k in (0, 1) if n % 2 else (1, 0):
                        hands[k].stdin.write(words + "\n")
                        hands[k].stdin.flush()
                        found = json.loads(hands[k].stdout.readline())
                        times[k].extend([] if found is None else [found])
                told(words, *times, slower)
        for hand in hands:
            hand.stdin.close()
            hand.wait()
        if "commands" in only:
            print("commands", flush=True)
            for words, command in on_the_line(Path(folder)):
                both = [[commands(here, command) for _ in range(args.rounds)] for here in (ROOT, other)]
                told(words, *both, slower)
    for line in slower:
        print(f"\033[31m{line}\033[0m")
    return bool(slower)


def on_the_line(folder: Path) -> list[tuple[str, list[str]]]:
    """Commands, with their files written."""
    from tests.core.samples import part_file
    from tests.core.trays import tray_file

    for name, data in (("part", part_file()), ("tray", tray_file())):
        (folder / f"{name}.json").write_text(json.dumps(data), "utf-8")
    leaf = str(ROOT / "demo" / "finger-1270.json")
    return [("nothing but Python", ["-c", "pass"]), ("numpy and shapely", ["-c", "import numpy, shapely"]),
            ("flat part.json", ["-m", "bendcore", "flat", str(folder / "part.json")]),
            ("order tray.json", ["-m", "bendcore", "order", str(folder / "tray.json"), "--brake", leaf])]


if __name__ == "__main__":
    sys.exit(main())

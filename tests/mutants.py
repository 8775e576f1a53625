"""``make mutants``: each of these changes must be seen by the test beside it.

Every mutant is put into a copy of the tree and the test run there; a test that passes has
let it live. Add one to ``tests/mutations/`` whenever a fault was found that no test had seen.
"""

import os
import shutil
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from tests.mutations import MUTANTS, Mutant

ROOT = Path(__file__).resolve().parents[1]
LONGEST = 180
"""A test that takes so many seconds is ended."""


def lives(mutant: Mutant) -> str:
    """Why a mutant lives, or nothing when its test failed as it must."""
    with tempfile.TemporaryDirectory() as folder:
        tree = Path(folder) / "tree"
        shutil.copytree(ROOT, tree, ignore=shutil.ignore_patterns(
            ".git", ".venv", "var", "node_modules", "screenshots"))
        path = tree / mutant.file
        text = path.read_text("utf-8")
        if text.count(mutant.old) != 1:
            return f"stands {text.count(mutant.old)} times in the file"
        path.write_text(text.replace(mutant.old, mutant.new), "utf-8")
        try:
            done = subprocess.run([sys.executable, "manage.py", "test", mutant.test, "--testrunner",
                                   "tests.runner.Runner"], cwd=tree, capture_output=True, text=True, timeout=LONGEST,
                                  env=os.environ | {"DORVAN_DATA": folder, "DORVAN_WORKERS": "0"})
        except subprocess.TimeoutExpired:  # it goes round for ever: nobody would miss that
            return ""
        if "Ran 1 test" not in done.stderr:
            return f"its test did not run: {done.stderr[-300:]}"
        return "" if done.returncode else "its test passed"


def main() -> int:
    wanted = [m for m in MUTANTS if not sys.argv[1:] or any(word in m.file + m.new for word in sys.argv[1:])]
    with ThreadPoolExecutor(2) as hands:
        found = list(zip(wanted, hands.map(lives, wanted), strict=True))
    for mutant, why in found:
        put_in = (mutant.new.strip() or "(taken out)").splitlines()[0][:60]
        print(f"  {'LIVES ' if why else 'killed'} {mutant.file:34} {put_in:60} {why}")
    alive = sum(bool(why) for _, why in found)
    print(f"{len(found) - alive} of {len(found)} mutants killed")
    return bool(alive)


if __name__ == "__main__":
    sys.exit(main())

"""The process in which the kernel works: one thing asked on standard input, its answer on standard output."""

import json
import pickle
import sys

from ..errors import Refusal
from .guarded import FILE, REFUSED, SOLIDS, written
from .kernel import read_step
from .step_out import to_step

MEMORY = 3_000_000_000
"""Address space beyond what it begins with, bytes."""


def bounded() -> None:
    """No more memory than so much, where the system can say so."""
    try:
        import resource
    except ImportError:
        return
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    soft, hard = resource.getrlimit(resource.RLIMIT_AS)
    if soft == resource.RLIM_INFINITY or soft > MEMORY:
        resource.setrlimit(resource.RLIMIT_AS, (MEMORY, hard))


def main() -> None:
    """Answer."""
    bounded()
    what, subject, name = pickle.load(sys.stdin.buffer)
    try:
        answer = SOLIDS + written(read_step(subject, name)) if what == "read" else FILE + to_step(subject, name)
    except Refusal as refusal:
        answer = REFUSED + json.dumps([refusal.path, str(refusal.message)]).encode()
    sys.stdout.buffer.write(answer)


if __name__ == "__main__":
    main()

"""How far a search in another process is, and how it is told to stop.

A search writes what it knows into a file of its own, now and then, and looks whether it may go on; the pages read the
one and make the other. Files are named by what is searched for, and lie in a folder of the shop's data.
"""

import hashlib
import json
import os
import tempfile
import time
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path

from bendcore.patience import Patience

EVERY = 0.3
"""So often at most a search writes, and looks, s."""
DAY = 86400


def folder() -> Path:
    """Where searches and pages meet; DORVAN_SEARCHES says where."""
    found = Path(os.environ.get("DORVAN_SEARCHES") or Path(tempfile.gettempdir()) / f"dorvan-{os.getuid()}")
    found.mkdir(parents=True, exist_ok=True)
    return found


def name_of(*asked) -> str:
    """A short name for what is searched for."""
    return hashlib.sha256(json.dumps(asked, sort_keys=True).encode()).hexdigest()


@dataclass
class Watch(Patience):
    """A patience that is over as well when somebody says stop."""

    name: str = ""
    known: dict = field(default_factory=dict)
    last: float = 0.0

    def __call__(self) -> bool:
        """Whether it is over."""
        return super().__call__() or self.is_stopped

    def again(self, share: float = 1.0) -> "Watch":
        """So many seconds more; over at once where somebody said stop."""
        return Watch(self.seconds * share, name=self.name, known=self.known)

    @property
    def is_stopped(self) -> bool:
        """Whether somebody said stop; looked at now and then."""
        if time.monotonic() - self.last > EVERY and not self.known.get("stopped"):
            self.last = time.monotonic()
            self.known["stopped"] = is_stopped(self.name)
            self._write()
        return bool(self.known.get("stopped"))

    def note(self, **how_far: float | str) -> None:
        """What a search knows by now: ``strokes`` of how many, its ``best`` and ``bound`` in seconds."""
        self.known.update(how_far)

    def _write(self) -> None:
        path = folder() / f"{self.name}.json"
        fresh = path.with_suffix(f".{os.getpid()}")
        with suppress(OSError):  # how far it is may go untold
            fresh.write_text(json.dumps(self.known), "utf-8")
            fresh.replace(path)


def _stop(name: str) -> Path:
    return folder() / f"{name}.stop"


def progress(name: str) -> dict:
    """What a search wrote last; nothing where it has not."""
    with suppress(OSError, ValueError):
        return json.loads((folder() / f"{name}.json").read_text("utf-8"))
    return {}


def stop(name: str) -> None:
    """Let a search end with what it has."""
    _stop(name).touch()


def is_stopped(name: str) -> bool:
    """Whether somebody said so."""
    return _stop(name).exists()


def sweep() -> None:
    """Take away what was left of searches that nobody asked for in the last day."""
    for path in folder().iterdir():
        with suppress(OSError):  # it may be going already
            if time.time() - path.stat().st_mtime > DAY:
                path.unlink()


def forget(name: str) -> None:
    """Nothing stands in the way of searching anew."""
    for path in (_stop(name), folder() / f"{name}.json"):
        path.unlink(missing_ok=True)

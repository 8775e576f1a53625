"""Whether a server has the shop open: each holds the file ``open`` for as long as it runs."""

import os
from contextlib import suppress
from pathlib import Path
from typing import IO

try:
    import fcntl
except ImportError:  # a system without such locks: nobody is kept from anything
    fcntl = None


def hold(folder: Path) -> IO:
    """Hold the shop open, with others if there are; let go with the process."""
    held = (folder / "open").open("a")
    if fcntl:
        fcntl.flock(held, fcntl.LOCK_SH)
    return held


def is_open(folder: Path) -> bool:
    """Whether a server holds it."""
    if fcntl is None:
        return False
    with (folder / "open").open("a") as held:
        try:
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            return True
    return False


def owners_only(folder: Path, name: str) -> None:
    """The shop's data can be read by nobody but whoever runs it, whatever a file was made with."""
    os.umask(0o077)
    for path in (folder / name, folder / f"{name}-wal", folder / f"{name}-shm"):
        with suppress(OSError):
            path.chmod(0o600)

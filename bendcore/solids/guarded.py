"""The kernel in a process of its own: a damaged file can take it down, or keep it busy, and nothing else.

What is asked goes there pickled; what comes back is plain data, since a file from anywhere has been through it.
"""

import json
import os
import pickle
import subprocess
import sys
from pathlib import Path

import numpy as np

from ..errors import Refusal
from ..sheet.model import Sheet
from .brep import Side, Solid, Surface
from .kernel import INSTALL, is_there

SECONDS = 80
"""What a file may take."""
REFUSED, SOLIDS, FILE = b"R", b"S", b"F"
"""What an answer begins with."""


def read_step(data: bytes, name: str) -> list[Solid]:
    """The bodies of a STEP file, mm; refuses what is none, holds none, or breaks the kernel."""
    if not is_there():
        raise Refusal(name, f"cannot be read here: {INSTALL}")
    answer = _ask(("read", data, name), name, "is damaged, or too much to read: write it anew, as AP214")
    return [_solid(row) for row in json.loads(answer)]


def to_step(sheet: Sheet, name: str) -> bytes:
    """The folded sheet as a STEP file; refuses what cannot be one solid."""
    if not is_there():
        raise Refusal("to", f"cannot end in .step here: {INSTALL}")
    return _ask(("write", sheet, name), "shape", "is too much to be written as a solid")


def _ask(what: tuple, path: str, broken: str) -> bytes:
    """The answer of the process without its first byte; a refusal of there is one of here."""
    try:
        done = subprocess.run([sys.executable, "-m", "bendcore.solids.child"], input=pickle.dumps(what),
                              capture_output=True, timeout=SECONDS, check=False, env=_surroundings())
    except subprocess.TimeoutExpired:
        raise Refusal(path, broken) from None
    kind, answer = done.stdout[:1], done.stdout[1:]
    if done.returncode or kind not in (REFUSED, SOLIDS, FILE):
        raise Refusal(path, broken)
    if kind == REFUSED:
        raise Refusal(*json.loads(answer))
    return answer


def _surroundings() -> dict[str, str]:
    """This package is found there too, wherever it was begun."""
    ways = [str(Path(__file__).parents[2]), os.environ.get("PYTHONPATH", "")]
    return os.environ | {"PYTHONPATH": os.pathsep.join(filter(None, ways))}


def written(solids: list[Solid]) -> bytes:
    """Bodies as plain data."""
    return json.dumps([{
        "name": solid.name, "volume": solid.volume, "same_as": solid.same_as, "surfaces": [{
            "number": s.number, "kind": s.kind, "origin": s.origin.tolist(), "axis": s.axis.tolist(), "area": s.area,
            "radius": s.radius, "is_convex": s.is_convex, "loops": [[{
                "edge": side.edge, "kind": side.kind, "points": side.points.tolist(), "centre": side.centre.tolist(),
                "radius": side.radius} for side in loop] for loop in s.loops]} for s in solid.surfaces]}
        for solid in solids]).encode()


def _solid(row: dict) -> Solid:
    surfaces = tuple(Surface(**s | {"origin": np.array(s["origin"]), "axis": np.array(s["axis"]), "loops": tuple(
        tuple(Side(**side | {"points": np.array(side["points"]), "centre": np.array(side["centre"])}) for side in loop)
        for loop in s["loops"])}) for s in row["surfaces"])
    return Solid(**row | {"surfaces": surfaces})

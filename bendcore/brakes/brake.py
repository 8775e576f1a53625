"""Any brake, from its file."""

from ..errors import Refusal
from .bench import BenchBrake, read_bench
from .leaf import LeafBrake, read_leaf
from .press import PressBrake, read_press

Brake = PressBrake | LeafBrake | BenchBrake
KINDS = {"press": read_press, "leaf": read_leaf, "bench": read_bench}


def read_brake(data: dict) -> Brake:
    """A brake of whichever kind its file says; refusals name the field."""
    kind = data.get("kind")
    if not isinstance(kind, str) or kind not in KINDS:
        raise Refusal("kind", "must be one of " + ", ".join(KINDS))
    return KINDS[kind](data)

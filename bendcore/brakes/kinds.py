"""Which answers belong to which kind of brake."""

from functools import lru_cache

from .brake import Brake
from .on_leaf import OnLeaf
from .on_press import OnPress
from .press import PressBrake
from .setting import OnBrake


@lru_cache(maxsize=32)
def on_brake(brake: Brake) -> OnBrake:
    """What an order asks of this brake; made once, with all that it works out on the way."""
    return OnPress(brake) if isinstance(brake, PressBrake) else OnLeaf(brake)

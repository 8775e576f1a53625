"""What a run leaves for the next one on the same brake."""

from ..quality.spreads import SPRINGBACK, STOP_OFFSET, THICKNESS, K
from .corrections import Estimate
from .ties import DEPTH, SCALE

OF_THE_BRAKE = {STOP_OFFSET: 0.1, SCALE: 0.15, DEPTH: 0.015}
OF_THE_STOCK = {K: 0.01}
OF_THE_LOT = {SPRINGBACK: 0.2, THICKNESS: 0.005}
"""What holds, and how much looser: of the same brake, of the same metal and thickness, of the same lot. *Start*."""


def carried(known: Estimate, same_stock: bool, same_lot: bool) -> Estimate:
    """What holds of what was known at the end of a run."""
    holds = OF_THE_BRAKE | (OF_THE_STOCK if same_stock else {}) | (OF_THE_LOT if same_lot else {})
    return known.only({source: holds[source[0]] for source in known.sources if source[0] in holds})

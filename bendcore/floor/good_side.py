"""The side of the sheet that is to be spared at a step of an order: which way it lies, what touches it, what to mind.

At every bend the upper side of the sheet comes to lie inside; what bears on it is the punch, the clamp or the bar, and
what the lower side is drawn over is the die, the leaf or the hammer's block (handbook, *The blank*).
"""

from collections.abc import Sequence
from dataclasses import dataclass

from ..brakes.brake import Brake
from ..order.plan import Step
from ..part import Part
from ..said import Said
from ..sheet.model import UP

BOTTOM = "bottom"
ABOVE = {"press": "The punch comes down on the {side}: wipe its tip, and leave any film on.",
         "leaf": "The clamp presses on the {side}: wipe nose and fingers, card or film between.",
         "bench": "The bar is clamped on the {side}: wipe it, card between."}
BELOW = {"press": "The {side} is drawn over the die's shoulders: wipe them, leave any film on, or lay film or a "
                  "urethane sheet over the die and try the angle again with it.",
         "leaf": "The {side} lies on the bed, and the leaf slides on it: wipe both, leave any film on.",
         "bench": "The {side} takes the blows: a block of hardwood or plastic on it, never the hammer itself."}
CLOSED = "The {side} is pressed between the flattening bars: wipe both."
"""What to mind, by the kind of brake (*start*)."""


@dataclass(frozen=True)
class GoodSide:
    """``called`` what, whether it lies ``up`` as the sheet is laid in, and ``mind``, what touches it."""

    called: str
    up: bool
    mind: Said

    @property
    def way(self) -> str:
        """Which way it lies, in words."""
        return f"{self.called} {'up' if self.up else 'down'}"

    @property
    def lies(self) -> str:
        """The same with a mark: told by shape as well."""
        return f"{self.way} {'○' if self.up else '●'}"


def good_side(part: Part, step: Step, brakes: Sequence[Brake]) -> GoodSide | None:
    """The side to be spared at a step on one of ``brakes``; None of a sheet that has none.

    A step says which side of the flat lies up (``face_up``); the good one is the flat's upper or lower side.
    """
    good = part.stock.good
    if not good:
        return None
    kind = step.on(brakes).kind
    up = (step.face_up == BOTTOM) != (good == UP)
    closes = kind == "press" and not step.tools.punch
    words = CLOSED if closes else (ABOVE if up else BELOW)[kind]
    return GoodSide(part.stock.good_called, up, Said(words, side=part.stock.good_called))

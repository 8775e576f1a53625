"""What a step costs in seconds, on any kind of brake; the shop may set its own."""

from dataclasses import dataclass

CHANGED = {"tools": "tool_change", "fingers": "finger_change", "move": "move"}
"""What is done before a step, and the cost it is charged at."""


@dataclass(frozen=True)
class Costs:
    """Seconds. ``stroke`` for each stroke; ``turn`` and ``flip`` when the sheet is turned round or over, times
    ``two_person_factor`` when it is heavy or long; the rest when the stop, the tools, the fingers or a line to scribe
    call for it, and ``move`` when the part goes to another brake. ``swing`` for each metre that what is not clamped
    reaches from the bend, on hand brakes, times ``two_person_factor`` too: nothing where a file does not say."""

    stroke: float = 12
    turn: float = 4
    flip: float = 6
    two_person_factor: float = 2
    stop_move: float = 3
    tool_change: float = 180
    scribed_line: float = 30
    finger_change: float = 60
    move: float = 240
    swing: float = 0

    def changing(self, what: str) -> float:
        """Seconds for other ``tools`` or ``fingers``, or for the ``move`` to this brake; nothing for no change.

        >>> Costs().changing("fingers"), Costs().changing("")
        (60, 0.0)
        """
        return getattr(self, CHANGED.get(what, CHANGED["tools"])) if what else 0.0

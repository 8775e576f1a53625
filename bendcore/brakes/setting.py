"""What an order asks of a brake, whatever its kind.

A brake of any kind says what may be *mounted*, which sections the two halves of a part meet while a bend is made, how
the part comes in and goes out, what must lie flat, and what keeps a bend off it altogether. It knows nothing of parts
but the one bend; where the faces of a part stand beside it, and whether they meet, is worked out in
:mod:`bendcore.order`. Machine axes: y to the back, z up; a half's axes as :mod:`bendcore.order.states.body` has them.
"""

from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from functools import cached_property, wraps
from typing import Protocol

import numpy as np
from shapely import Point, Polygon
from shapely.geometry.base import BaseGeometry

from ..bending.bend import BendFigures
from ..said import Said
from .costs import Costs

HELD, FREE = "held", "free"
"""The half towards the stop or under the clamp, and the other."""
PIECES, WHOLE, FRAME = "pieces", "whole", "frame"
"""Tools put together of pieces along the bend; tools as long as the brake; what counts only for parts that reach
further along the bend than the space between the side frames."""
Path = Callable[[np.ndarray], tuple[np.ndarray, np.ndarray, np.ndarray]]
"""Bend angles in degrees → where a half's origin stands (y, z) beside a tool, and by how much it has risen, radians."""

HEM_CREASE = 135.0
"""A hem is first bent this far where tools and brake let it …"""
LEAST_CREASE = 120.0
"""… and on machines never less than this, or it cannot be flattened."""


@dataclass(frozen=True)
class Stroke:
    """One stroke asked of a brake. ``angle`` is what it makes, ``bend_to`` with the springback; ``length`` along the
    bend; ``closing`` when it flattens a hem whose flap is ``flap`` long; ``tensile`` in MPa, ``springback`` per 90°."""

    figures: BendFigures
    angle: float
    bend_to: float
    length: float
    closing: bool = False
    is_hem: bool = False
    flap: float = 0.0
    tensile: float = 0.0

    @property
    def thickness(self) -> float:
        """Of the sheet, mm."""
        return self.figures.thickness


@dataclass(frozen=True)
class Reason:
    """Why a bend cannot be made so: a code, and the words with their figures."""

    code: str
    message: str | Said


@dataclass(frozen=True)
class Meeting:
    """One half against one tool. ``side`` is 1 where the half runs to the back, −1 to the front; ``path`` says where
    it stands beside the ``tool``. ``draw`` gives three regions, inset by what counts as a hit: for the faces of the
    bend being made, for all others, and for closed hems on the first, which lie flat with them; it is asked only for
    what is not known yet. Meetings of one ``course`` have the same path, from either side. ``ends`` are the angles up
    to which it is looked at for own faces, those that share a corner with one, and all others; None is a part that lies
    still. ``group`` names the pieces a tool is put
    together from. Meetings of one bend with the same ``key`` have the same answer; those of two
    brakes never have the same."""

    tool: str
    half: str
    side: int
    path: Path
    draw: Callable[[], tuple[BaseGeometry, BaseGeometry, BaseGeometry]]
    key: Hashable
    course: Hashable
    ends: tuple[float, float, float] | None = None
    reach: str = WHOLE
    group: str = ""

    @cached_property
    def regions(self) -> tuple[BaseGeometry, BaseGeometry, BaseGeometry]:
        """What it draws, once."""
        return self.draw()


@dataclass(frozen=True)
class Way:
    """A way in or out: what is met on it. ``along`` is 1 or −1 where the part leaves off that end of the tools, and
    what stands beyond the other end passes them."""

    name: str
    meetings: tuple[Meeting, ...]
    along: int = 0


def kept(method: Callable) -> Callable:
    """Keep what a method gave for its arguments with the object it belongs to, so that both go together."""
    @wraps(method)
    def ask(self, *args):
        found = self.__dict__.setdefault("_kept", {})
        key = (method.__name__, *args)
        if key not in found:
            found[key] = method(self, *args)
        return found[key]
    return ask


def still(y: float, z: float, h: float = 0.0) -> Path:
    """The path of a half that lies still."""
    def path(angles):
        one = np.ones(np.shape(angles))
        return y * one, z * one, h * one
    return path

@dataclass(frozen=True)
class Tool:
    """A tool as it is drawn and measured: its whole ``shape``, what faces of the bend being made may touch of it, and
    how the halves go past it, ``held`` and ``free``, as it sees them."""

    name: str
    shape: Polygon
    spared: BaseGeometry
    held: Path
    free: Path
    reach: str = WHOLE
    moves: str = ""
    """``ram`` where it goes with the punch, ``leaf`` where it turns with the bend."""


class OnBrake(Protocol):
    """What a kind of brake answers; ``mount`` counts :attr:`mounts`."""

    name: str
    kind: str
    costs: Costs
    mounts: tuple
    most: float
    """Longest bend, mm."""
    hangs: bool
    """Whether a part may hang past one end of the tools."""
    stops: bool
    """Whether it has stops; else every bend is made to its sight line."""

    def mounts_for(self, stroke: Stroke) -> tuple[int, ...]:
        """Everything that could make this stroke, whatever stands around it."""
        ...

    def reasons(self, stroke: Stroke, mount: int) -> list[Reason]:
        """What keeps this stroke off a mount in every state."""
        ...

    def need(self, stroke: Stroke, mount: int, half: str) -> float:
        """How much must lie flat from the tangent line of a half, mm."""
        ...

    def sight(self, stroke: Stroke) -> float | None:
        """How far the line to see lies from the clamped tangent line, mm; None where there is none."""
        ...

    def swing(self, stroke: Stroke, mount: int) -> tuple[Meeting, ...]:
        """What is met while the bend is made."""
        ...

    def ways_in(self, stroke: Stroke, mount: int) -> Iterable[Way]:
        """How the part may come in; one of them must be free."""
        ...

    def ways_out(self, stroke: Stroke, mount: int) -> Iterable[Way]:
        """How it may leave."""
        ...

    def tools(self, stroke: Stroke, mount: int) -> list[Tool]:
        """Every tool around the bend, to be drawn and to say what meets it."""
        ...

    def depends(self, name: str, mount: int) -> str:
        """The tool on whose section it depends what a tool so named meets."""
        ...

    def machine(self, stroke: Stroke, mount: int) -> tuple[Path, Path]:
        """Where the held half and the free one stand in the machine."""
        ...

    def pieces(self, mount: int) -> dict[str, tuple[float, ...]]:
        """By group: the lengths owned."""
        ...

    def crease(self, springback: float) -> float:
        """How far a hem is creased before it is closed, degrees; ``springback`` per 90°."""
        ...


def turned_about(pivot: tuple[float, float], y: np.ndarray, z: np.ndarray,
                 degrees: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Points turned about a pivot, from y towards z."""
    a = np.radians(degrees)
    c, s = np.cos(a), np.sin(a)
    dy, dz = y - pivot[0], z - pivot[1]
    return pivot[0] + dy * c - dz * s, pivot[1] + dy * s + dz * c


def disc(radius: float) -> BaseGeometry:
    """About the origin."""
    return Point(0, 0).buffer(max(radius, 1e-9), quad_segs=16)

"""What a part of every family is once it is read, and all that others may ask of it."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING, ClassVar

import numpy as np

from ..fields import Group, Steps, find
from ..notices import Notice
from ..sheet.model import Edge, Hole, Point, Sheet
from ..sheet.rings import without_tiny
from ..sheet.solid import Mesh
from .joint import Joint
from .legs import Hem, Leg, Run, ShapeBend
from .propagation import Propagation
from .woodform import WoodForm

ROLLS, BLOCK, BARS = "rolls", "block", "bars"
SAME = 1e-6
"""Corners of a face nearer than this are one, mm."""


@dataclass(frozen=True)
class Collar:
    """A hole's rim drawn up or down into a short tube: lengths in mm; ``pierced`` is the diameter cut before drawing,
    ``rim`` the widest its zone reaches."""

    centre: Point
    inside: float
    height: float
    direction: str
    pierced: float
    rim: float
    stretch: float
    deduction: float


@dataclass(frozen=True)
class Running:
    """Of a part made of several pieces, up to the end of piece ``number``: ``along`` the centre line in mm, what it
    ``holds`` in litres so far; and the ``group`` the piece is tacked into."""

    number: int
    along: float
    holds: float
    group: int


@dataclass(frozen=True)
class Resize:
    """A size that may be tried smaller or larger where a part cannot be bent: the ``legs`` it is of, and the ``paths``
    below the file's ``shape`` where each of these stands; what is ``said`` of the part with it, its ``{size}`` in it.
    ``less`` and ``more`` say which ways it is tried."""

    legs: tuple[Leg, ...]
    paths: tuple[Steps, ...]
    said: str
    less: bool = True
    more: bool = True


@dataclass(frozen=True)
class Mate:
    """A piece that is drawn from another part: ``title`` for people; ``count`` to each part; ``clearance`` at either
    side unless asked otherwise, mm."""

    role: str
    title: str
    count: int
    clearance: float


class Shape:
    """A part of one family, read. A family must give ``kind``, ``fields``, ``thickness``, ``convention``, ``legs``,
    ``bends``, ``runs``, ``longest_bend`` and ``_sheet()``; where its faces and bends belong (``place``, ``thing``) and
    what they are called (``_called``, ``short``). Everything else has an answer here that holds for a part of flat
    faces; who asks a part asks it by these names and never which family it is of."""

    kind: ClassVar[str]
    """As files call its family."""
    fields: ClassVar[Group]
    """As declared by its family."""
    is_strip: ClassVar[bool] = False
    """Whether its bends are parallel and run across its whole width: its section then says all of it."""
    convention: str
    """To where a size beside a bend above 90° runs."""
    if TYPE_CHECKING:  # fields of some families, worked out by others
        @property
        def thickness(self) -> float:
            """Of its sheet, mm."""
            ...

        @property
        def legs(self) -> tuple[Leg, ...]:
            """What is dimensioned of it, each between two bends or edges."""
            ...

        @property
        def bends(self) -> tuple[ShapeBend, ...]:
            """Its bends but hems."""
            ...

        @property
        def runs(self) -> tuple[Run, ...]:
            """Its developed lengths."""
            ...

        @property
        def longest_bend(self) -> float:
            """Along its longest bend, mm."""
            ...

        @property
        def blank(self) -> tuple[Point, ...]:
            """The blank's outline in the root face's coordinates, where the family knows it."""
            ...

        @property
        def centres(self) -> tuple[Point, ...]:
            """About them lie the true arcs of the blank's outline."""
            ...

        @property
        def label(self) -> str:
            """What is written on the piece beside its name."""
            ...

        @property
        def holes(self) -> tuple[Hole, ...]:
            """Cut in its root face."""
            ...

        @property
        def pins(self) -> tuple[Hole, ...]:
            """Holes by which it is held on a block while it is made."""
            ...

        @property
        def collars(self) -> tuple[Collar, ...]:
            """Drawn up about its holes."""
            ...

        @property
        def cross_breaks(self) -> float:
            """Rise of stiffening cross-breaks in its root face, mm; 0 for none."""
            ...

        def _sheet(self) -> Sheet: ...
    else:
        blank = centres = holes = pins = collars = ()
        label, cross_breaks = "", 0.0

    def sheet(self) -> Sheet:
        """Its faces joined at bends, built once; refuses what leaves no room for a face."""
        return self._built

    @cached_property
    def _built(self) -> Sheet:
        sheet = self._sheet()
        faces = tuple(face if len(ring := without_tiny(face.outline, SAME)) == len(face.outline)
                      else replace(face, outline=ring) for face in sheet.faces)
        return replace(sheet, faces=faces)

    def shell(self, facet: float) -> Mesh | None:
        """The finished part as a solid where it is not folded but rolled, ``facet`` degrees to a facet."""
        return None

    def development(self, per: float) -> dict | None:
        """What is told of a surface laid flat, lengths divided by ``per``; None of flat faces."""
        return None

    def wood_form(self) -> WoodForm | None:
        """A wooden form that its pattern is proved with, where one is made."""
        return None

    def generators(self) -> Iterable[tuple[int, Point, Point]]:
        """(angle, from, to) of straight lines of a surface, in the coordinates of its blank."""
        return ()

    def scribed(self) -> Iterable[tuple[str, Point, Point]]:
        """(what, from, to) of what is scribed on a blank without bend lines, in its coordinates."""
        return ()

    making: ClassVar[str] = ""
    """Where it is made by its card and not bent in steps: ROLLS or BLOCK."""

    @property
    def opens_as_panels(self) -> bool:
        """Whether it may be told as panels: it is bent, and not told so already."""
        return bool(self.all_bends) and not self.making

    @property
    def all_bends(self) -> tuple[ShapeBend | Hem, ...]:
        """Every bend; families with hems add theirs."""
        return self.bends

    @cached_property
    def hems(self) -> tuple[Hem, ...]:
        """Its edges folded back."""
        return tuple(b for b in self.all_bends if isinstance(b, Hem))

    @cached_property
    def bend(self) -> dict[str, ShapeBend | Hem]:
        """Bends and hems by id."""
        return {b.id: b for b in self.all_bends}

    def openings(self) -> Sequence[tuple[str, str, float]]:
        """(name, title, mm) of what is measured across the finished part beside legs, hems and angles."""
        return ()

    def edges(self) -> Mapping[str, Edge]:
        """By the name of its row on the check sheet, finished edges of the root face, in its coordinates."""
        return {}

    def counted_edges(self) -> Sequence[tuple[int, Sequence[Point]]]:
        """(number, points along it) of the edges of an outline by which it is told, each run as they are counted."""
        return ()

    def angle_row(self, bend: str) -> str:
        """The name of an angle on the check sheet, where a bend may share its wall's name."""
        return f"{bend}-angle"

    def size_error(self, name: str, errors: Propagation) -> np.ndarray | None:
        """How a size of :meth:`openings` moves with the bends; None where it does not, or is not told."""
        return None

    def notices(self, coated: bool) -> Iterable[Notice]:
        """What only this family has to say of a part as it stands; ``coated`` sheet is not welded."""
        return ()

    def size_path(self, leg: str) -> Steps | None:
        """Below the file's ``shape``, where the one field stands that holds a leg's size; None where none does."""
        return None

    def rings(self) -> Sequence[np.ndarray]:
        """Closed outlines in space, (n, 3) each in mm, of the whole that it is or is a piece of: where it is seen to
        begin, to change and to end, from the first end to the last, z upwards along it. None where it has no such
        ends."""
        return ()

    def resized(self) -> Iterable[Resize]:
        """Sizes that are tried where it cannot be bent as it is."""
        return ()

    def joints(self, mates: Mapping[str, int]) -> Iterable[Joint]:
        """What it has to be joined with itself, and with the ``mates`` of its kit (how many to each, by role)."""
        return ()

    def mates(self) -> Sequence[Mate]:
        """Pieces that can be drawn from it."""
        return ()

    def mate_sizes(self) -> dict[str, float]:
        """The sizes such pieces may take from it, mm: outside where nothing else is said."""
        return {leg.id: leg.size for leg in self.legs} | self.round_sizes()

    def round_sizes(self) -> dict[str, float]:
        """What is round, mm: holes as they are finished."""
        finished = {collar.centre: collar.inside for collar in self.collars}
        return {f"hole-{n}": finished.get(hole.centre, hole.diameter)
                for n, hole in enumerate(self.holes, 1) if not hole.ring and not hole.is_slot}

    def drawn_mate(self, role: str, sizes: Mapping[str, float], clearance: float) -> dict:
        """The file's ``shape`` of a mate from these sizes; asked for none but its own."""
        raise NotImplementedError(role)

    def running(self) -> Sequence[Running]:
        """Piece by piece how far it is along a part made of several; empty for one that is not."""
        return ()

    def other_piece(self, number: int) -> "Shape":
        """Another piece of a part made of several."""
        raise NotImplementedError(self.kind)

    def place(self, name: str) -> str:
        """The field below ``shape`` to which a face or bend belongs; empty where the whole is meant."""
        return ""

    def called(self, name: str) -> str:
        """A face, bend or leg as people call it, the same on every sheet and card; what is none is left as it is."""
        return self._called(name) if name in self._ids else name

    def short(self, name: str) -> str:
        """The same where it is drawn, and its place says the rest."""
        return name

    def _called(self, name: str) -> str:
        """As its field is called."""
        found = find(self.fields, name if name in self.fields.fields else self.place(name))
        return found.name if found and found.name else name

    @cached_property
    def _ids(self) -> frozenset[str]:
        return frozenset([*(leg.id for leg in self.legs), *(b.id for b in self.all_bends), *self.sheet().face])

    def thing(self, name: str) -> str:
        """What a face or bend belongs to on the drawing, as its field declares it; empty for the whole."""
        found = find(self.fields, self.place(name))
        return found.thing if found else ""

    def at_ends(self, leg: Leg) -> tuple[ShapeBend | None, ShapeBend | None]:
        """The bends at a leg's two ends."""
        return tuple(self.bend[name] if name else None for name in leg.ends)

    def developed(self, run: Run, allowance: Callable[[ShapeBend | Hem], float] | None = None) -> float:
        """Length of a run in mm, with other allowances if asked."""
        flats = {item.id: item.flat for item in (*self.legs, *self.hems)}
        width = allowance or (lambda b: b.figures.allowance)
        return sum(flats[name] for name in run.legs) + sum(width(self.bend[name]) for name in run.bends)

    @property
    def developed_length(self) -> float:
        """The first run: a strip's length, a tray's from left to right."""
        return self.developed(self.runs[0])

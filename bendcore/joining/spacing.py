"""Where rivets, spots and stitches stand along a joint: so many between the ends, or by a pitch; lengths in mm.

Start values are those of general shop practice and say so where they are shown; a drawing or a standard of the work
goes before them.
"""

import math
from dataclasses import dataclass

from ..errors import Refusal
from ..families.joint import CLEAT, FOLD, RIVET, SCREW, SPOT, WELD, Joint
from ..said import Mm, Said

RIVETS = (2.4, 3.2, 4.0, 4.8, 6.4)
"""Diameters that are stocked."""
STITCH = 25.0
"""A run of a stitched weld."""
MOST = 2000


@dataclass(frozen=True)
class Spaced:
    """``places`` along the joint; their ``pitch`` (0 of one), the distance of the first and last from the ``end``; of a
    rivet the ``diameter``; and the ``source`` of what was not said."""

    places: tuple[float, ...]
    pitch: float
    end: float
    diameter: float = 0.0
    source: str = ""

    @property
    def count(self) -> int:
        """How many."""
        return len(self.places)


@dataclass(frozen=True)
class Start:
    """What a way of joining begins with in sheet of a thickness: ``pitch`` and ``end`` in mm, and where that is
    from."""

    pitch: float
    end: float
    diameter: float
    source: str


def start_of(kind: str, thickness: float) -> Start:
    """The trade's start values for this way of joining.

    >>> start_of("rivet", 1.0).diameter, start_of("rivet", 1.0).pitch
    (3.2, 25.6)
    """
    if kind == RIVET:
        d = next((size for size in RIVETS if size >= 3 * thickness - 0.3), RIVETS[-1])
        return Start(8 * d, 2.5 * d, d, Said("start: diameter about 3 t, pitch 8 d, 2.5 d from an end"))
    if kind == SPOT:
        pitch = 25.0 if thickness <= 1.0 else 38.0
        return Start(pitch, max(10.0, 6 * thickness), 0.0, Said("start: {near} apart in sheet to {thin}, {far} above",
                                                                near=Mm(25), thin=Mm(1), far=Mm(38)))
    if kind == SCREW:
        return Start(150.0, 25.0, 4.2, Said("start: {pitch} apart, {end} from an end", pitch=Mm(150), end=Mm(25)))
    if kind == WELD:
        return Start(75.0, STITCH / 2, 0.0,
                     Said("start: runs of {run}, {pitch} apart, from the middle outwards; all along where it must be "
                          "tight", run=Mm(STITCH), pitch=Mm(75)))
    if kind == CLEAT:
        return Start(0.0, 0.0, 0.0, "one along the whole joint, its ends turned over")
    if kind == FOLD:
        return Start(0.0, 0.0, 0.0, "the whole length, set down over a bar")
    raise Refusal("kind", "is no way of joining")


def spaced(joint: Joint, thickness: float, kind: str = "", count: int | None = None, pitch: float | None = None,
           end: float | None = None) -> Spaced:
    """A joint's places: ``count`` equal steps between the ends, or no further apart than ``pitch``; what is not said is
    the part's own holes, or the trade's start."""
    kind = kind or joint.kind
    first = start_of(kind, thickness)
    if kind in (CLEAT, FOLD):
        return Spaced((joint.length / 2,), 0.0, 0.0, source=first.source)
    from_part = joint.count is not None and count is None and pitch is None and kind == joint.kind
    if from_part:
        step = joint.length / joint.count
        places = tuple(step * (n + 0.5) for n in range(joint.count))
        return Spaced(places, step if joint.count > 1 else 0.0, step / 2, joint.diameter or first.diameter,
                      "the part's own holes")
    near = first.end if end is None else end
    near = min(near, joint.length / 2) if end is None else near
    if not 0 <= near <= joint.length / 2 + 1e-9:
        raise Refusal("end", Said("must be from 0 to half the joint, {most}", most=Mm(joint.length / 2)))
    span = joint.length - 2 * near
    if count is None:
        reach = first.pitch if pitch is None else pitch
        if reach <= 0:
            raise Refusal("pitch", "must be greater than 0")
        count = math.ceil(span / reach - 1e-9) + 1
    if not 1 <= count <= MOST:
        raise Refusal("count", f"must come to between 1 and {MOST}")
    step = span / (count - 1) if count > 1 else 0.0
    places = tuple(near + step * n for n in range(count)) if count > 1 else (joint.length / 2,)
    return Spaced(places, step, near if count > 1 else joint.length / 2, first.diameter, first.source)

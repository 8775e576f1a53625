"""The piece that came out over the one that was meant: a strip's section, what is off drawn larger by one factor."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from bendcore.part import Part
from bendcore.sheet.section import Strip

from .fit import Fit

WIDTH, HEIGHT, MARGIN = 560, 300, 44
FACTORS = (20, 10, 5, 2, 1)
MOVED = 40.0
"""No face is drawn farther off than this, pixels, unless it really is."""


@dataclass(frozen=True)
class Bent:
    """SVG paths of the piece as it ``came`` out and as it was ``meant``, its first face where that one's is; what is
    off is drawn ``factor`` times."""

    came: str
    meant: str
    factor: int
    width: int = WIDTH
    height: int = HEIGHT


def bent_view(part: Part, off: Mapping[str, float]) -> Bent | None:
    """A piece of which each leg (mm) and angle (degrees), by its name, is ``off`` its size; None for what is no strip,
    and where nothing was read."""
    if not part.shape.is_strip or not off:
        return None
    meant = _section(part.strip, {}, 0)
    fit = Fit.into(np.concatenate([piece.outline for piece in meant]), MARGIN, MARGIN, WIDTH - 2 * MARGIN,
                   HEIGHT - 2 * MARGIN)
    for factor in FACTORS:
        came = _section(part.strip, off, factor)
        moved = max(float(np.hypot(*(a.outline - b.outline).T).max()) for a, b in zip(came, meant, strict=True)
                    if a.is_flat)
        if fit.scale * moved <= MOVED:
            break
    return Bent(*("".join(fit.path(piece.outline) for piece in pieces) for pieces in (came, meant)), factor)


def _section(strip: Strip, off, factor):
    """Its pieces with so many times what is off: a face is as much longer as its leg, a bend turns as much farther."""
    flats = tuple((name, max(0.0, long + factor * off.get(name, 0.0))) for name, long in strip.flats)
    angles = [min(180.0, max(0.0, bend.figures.angle + factor * off.get(bend.id, 0.0))) for bend in strip.bends]
    return replace(strip, flats=flats).whole(angles)

"""Where the labels of a drawing stand: near what they name, and never on one another."""

import numpy as np
import shapely

LABEL_W, LABEL_H, NAME_H = 92, 44, 16
"""An input on a drawing, and how high its name over it is, pixels."""
MARGIN, CLEAR = 2, 5
"""Clear space kept between labels, and between a label and what it should not cover."""
TURNS = np.radians([0, 30, -30, 60, -60, 90, -90, 130, -130, 180])
"""How far a label may stand turned from the best heading, the best first."""
WAY = np.array([1.15, 0.8])
"""Labels are wider than high: they stand farther off sideways than up and down."""


def places(labels, sizes, reaches, within, avoid=None) -> list | None:
    """For every label, first come first served, the nearest box (left, top, right, bottom).

    A label has ``at``, the point it names, and ``away``, the heading in which it best stands. Of boxes of its
    size (``sizes``, one or one each) at the ``reaches`` off that point and all the TURNS it gets the first that
    meets no label before it nor the geometry to ``avoid``, else the one that covers least of that. All lie
    ``within`` a box. None when one of them has no room.
    """
    if not labels:
        return []
    half = np.broadcast_to(np.asarray(sizes) / 2, (len(labels), 2))[:, None, None]
    at = np.array([label["at"] for label in labels])[:, None, None]
    headings = np.array([label["away"] for label in labels])[:, None, None] + TURNS
    ways = WAY * np.asarray(reaches)[:, None, None] * np.stack([np.cos(headings), np.sin(headings)], axis=-1)
    middles = (at + ways).clip(within[:2] + half, within[2:] - half)
    taken = []
    for own in np.concatenate([middles - half, middles + half], axis=-1).reshape(len(labels), -1, 4):
        place = _place(own, avoid, np.array(taken).reshape(-1, 4))
        if place is None:
            return None
        taken.append(place)
    return np.round(taken, 1).tolist()


def _place(boxes, avoid, taken):
    """The box for one label, of all it could have (n, 4), the best first."""
    (left, top, right, bottom), others = boxes.T[:, :, None], taken.T
    apart = ((left >= others[2] + MARGIN) | (right <= others[0] - MARGIN)
             | (top >= others[3] + MARGIN) | (bottom <= others[1] - MARGIN))
    boxes = boxes[apart.all(axis=1)]
    for some in (boxes[:8], boxes[8:]):  # mostly one of the first is free
        met = shapely.intersects(avoid, shapely.box(*(some + [-CLEAR, -CLEAR, CLEAR, CLEAR]).T))
        if not met.all():
            return some[met.argmin()]
    return min(boxes, key=lambda room: shapely.clip_by_rect(avoid, *room).area, default=None)

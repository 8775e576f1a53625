"""What moves in a stroke, and how far: the sense by which a setter takes one of two orders that cost the same.

On a hand brake the side that is not clamped swings. What that costs, for each metre it reaches from the bend as it lies
in the flat, is the brake's ``swing``, and so many times as much where two people lift it. On a press the side towards
the stop goes in blind: the less of it, the better the rest is held.
"""

import numpy as np

from .body import Body

HANDIER = 1e-5
"""Seconds by which a metre less that moves, or half a turn less, decides between orders that cost the same. Costs that
differ by no more than this adds up to count as equal."""


def reach(body: Body, i: int, side: int) -> float:
    """How far one side of a bend reaches from its line in the flat, metres.

    >>> from bendcore.order.states.body import CHILD, PARENT
    >>> from bendcore.part import read_part
    >>> shape = {"kind": "profile", "width": 100, "legs": [500, 30], "bends": [{"angle": 90, "direction": "up"}]}
    >>> part = read_part({"format": "dorvan-part", "version": 1, "units": "mm", "inside_radius": 2,
    ...                   "stock": {"material": "mild-steel", "thickness": 2}, "shape": shape,
    ...                   "allowance": {"method": "k_factor", "k": 0.4}})
    >>> [round(reach(Body(part.sheet, part.flat), 0, side), 3) for side in (CHILD, PARENT)]
    [0.028, 0.498]
    """
    start, (x, y), _ = body.line(i)
    points = np.concatenate([body.flat.faces[node.face] for node in body.half((i,), side).nodes])
    return float(np.abs((points - start) @ (-y, x)).max()) / 1000


def moved(body: Body, i: int, held: int, on_press: bool) -> float:
    """How far what moves in a stroke reaches from the bend, metres: what goes in towards the stop of a press, the side
    that is not clamped on any other brake."""
    return reach(body, i, held if on_press else 1 - held)


def turn(one: float, other: float) -> float:
    """How much of half a turn lies between two headings in degrees, 0 to 1.

    >>> turn(350, 80)
    0.5
    """
    return abs((one - other + 180) % 360 - 180) / 180

"""Which way round the sheet lies, as whoever stands before the brake sees it.

A half's axes have x along the bend from the first point of its line in the flat, whichever half is held and whichever
way the bend goes (:mod:`.body`). Who stands before the brake looks along the held half to the back, the inside of the
bend upwards: his right is back × up. With u along the line, the top's normal N, and a held half to the left of the line
that is (N × u) × ±N = ±u, the sign of the bend; to the right of it the opposite.
"""

import numpy as np

from ...sheet.unfold import FlatPattern

RIGHT, LEFT = 1, -1


def along(flat: FlatPattern, bend: str, held: str) -> int:
    """Which way a bend's line runs, seen from before the brake with the face ``held`` to the back: :data:`RIGHT` or
    :data:`LEFT`. ``held`` is one of the two faces beside the bend.

    >>> from bendcore.edits import new_part; from bendcore.part import read_part
    >>> flat = read_part(new_part("", "mm")).flat
    >>> one = flat.bends[0]
    >>> along(flat, one.bend.id, one.bend.parent) == -along(flat, one.bend.id, one.bend.child)
    True
    """
    one = next(row for row in flat.bends if row.bend.id == bend)
    (start, end), near = np.array(one.line), np.array(one.tangents[0 if one.bend.parent == held else 1])
    u, inwards = end - start, near.mean(axis=0) - (start + end) / 2
    is_left = u[0] * inwards[1] - u[1] * inwards[0] > 0
    return (RIGHT if is_left else LEFT) * one.bend.sign

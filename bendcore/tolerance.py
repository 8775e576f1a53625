"""Tolerances where the drawing is silent: ISO 2768-1 for lengths, class m unless the part says another; ±1° for angles.

2768's own angle classes are not what ordinary bending holds.
"""

from math import inf

UP_TO = (3, 6, 30, 120, 400, 1000, 2000, inf)
CLASSES = {
    "f": (0.05, 0.05, 0.1, 0.15, 0.2, 0.3, 0.5, 0.5),
    "m": (0.1, 0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2.0),
    "c": (0.2, 0.3, 0.5, 0.8, 1.2, 2.0, 3.0, 4.0),
    "v": (0.5, 0.5, 1.0, 1.5, 2.5, 4.0, 6.0, 8.0)}
"""± mm by class (fine, medium, coarse, very coarse) for lengths up to each of ``UP_TO``, mm. The standard has no f
beyond 2 m and no v up to 3 mm, and ends at 4 m: there the step beside is kept (*start*)."""
CLASS_TITLES = {"f": "fine", "m": "medium", "c": "coarse", "v": "very coarse"}
MEDIUM = "m"
ANGLE_TOLERANCE = 1.0


def length_tolerance(nominal: float, general: str = MEDIUM) -> float:
    """± mm that a length of ``nominal`` mm may be out where the drawing is silent, by ISO 2768-1, class ``general``.

    >>> length_tolerance(200), length_tolerance(200, "f")
    (0.5, 0.2)
    """
    return next(tol for upto, tol in zip(UP_TO, CLASSES[general], strict=True) if nominal <= upto)

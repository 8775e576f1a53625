"""Tolerances where the drawing is silent (*start*): ISO 2768-1 class m for lengths, ±1° for angles.

2768's own angle classes are not what ordinary bending holds.
"""

ISO_2768_M = ((3, 0.1), (6, 0.1), (30, 0.2), (120, 0.3), (400, 0.5), (1000, 0.8), (2000, 1.2), (4000, 2.0))
ANGLE_TOLERANCE = 1.0


def length_tolerance(nominal: float) -> float:
    """ISO 2768-1, class m, for a length in mm (beyond 4 m the last step is kept)."""
    return next((tol for upto, tol in ISO_2768_M if nominal <= upto), ISO_2768_M[-1][1])

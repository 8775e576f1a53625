"""Rings of points as shapely's polygons, many at once: one by one, making them costs more than joining them."""

from collections.abc import Sequence

import numpy as np
import shapely


def polygons(rings: Sequence) -> np.ndarray:
    """A polygon for each ring of three points (x, y) or more, open or closed."""
    if not len(rings):
        return np.empty(0, dtype=object)
    own = np.repeat(np.arange(len(rings)), [len(ring) for ring in rings])
    return shapely.polygons(shapely.linearrings(np.concatenate([np.asarray(ring) for ring in rings]), indices=own))

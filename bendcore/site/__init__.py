"""From the tape to the part: what was measured of a place, and the sizes that follow from it by rules."""

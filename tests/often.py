"""How often something is tried at random: a third as often in ``make test`` as in ``make thorough``."""

import os

SHARE = 3


IS_THOROUGH = bool(os.environ.get("DORVAN_THOROUGH"))


def often(times: int) -> int:
    """So many of so many trials.

    >>> often(60) in (20, 60)
    True
    """
    return times if IS_THOROUGH else -(-times // SHARE)

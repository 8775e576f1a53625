"""A cutting plan worked out in another process, watched and stopped. Nothing of the web application is loaded here."""

from bendcore.cutting.data import SECONDS, lay_out
from dorvan.longwork.watch import Watch, name_of

LONGEST = 12 * max(SECONDS.values())
"""No plan is looked for longer, s: a few times its seconds while a blank is left out."""


def name_for(*asked) -> str:
    """What the plan asked for so is watched by."""
    return name_of("cutting", *asked)


def solved(way: str, text: str, kerf: float, margin: float, wish: str) -> str:
    """The plan of :func:`~bendcore.cutting.data.lay_out`, as text."""
    name = name_for(way, text, kerf, margin, wish)
    return lay_out(way, text, kerf, margin, wish, Watch(LONGEST, name=name))

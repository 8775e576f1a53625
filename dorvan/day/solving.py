"""A plan worked out in another process, watched and stopped. Nothing of the web application is loaded here."""

from bendcore.day.data import lay_out
from bendcore.day.work import SECONDS
from dorvan.longwork.watch import Watch, name_of


def name_for(text: str) -> str:
    """What the plan of this work is watched by."""
    return name_of("day", text)


def solved(text: str) -> str:
    """Work as text planned, as text."""
    return lay_out(text, Watch(SECONDS, name=name_for(text)), SECONDS)

"""A ticket's tag: how it is written, and how its number is read back from what begins with it."""

import re

TAG = re.compile(r"T-(\d+)")


def tag_of(number: int) -> str:
    """A ticket's tag, as it is written and said.

    >>> tag_of(7), number_in("T-0007.2")
    ('T-0007', 7)
    """
    return f"T-{number:04d}"


def number_in(text: str) -> int:
    """The number of the ticket whose tag a text begins with: a task's, a blank's."""
    return int(TAG.match(text)[1])

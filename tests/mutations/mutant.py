"""What a mutant is."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Mutant:
    """``old`` stands once in the ``file``; ``new`` in its place must make the ``test`` fail."""

    file: str
    old: str
    new: str
    test: str

"""What a family gives to the pages."""

from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class FamilyPage:
    """``build(ticket, units)`` is what its Shape stage shows, in ``template``; ``icon`` the family in small: what
    stands inside an ``<svg viewBox="0 0 40 28">``."""

    build: Callable[..., dict]
    template: str
    icon: str = ""

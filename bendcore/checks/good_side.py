"""Where the side of the sheet that is to be spared comes to lie: outside at a bend, or inside."""

from collections.abc import Iterator

from ..notices import NOTE, Notice
from ..part import Part
from ..said import Said


def parted(part: Part) -> tuple[list[str], list[str]]:
    """(bends at which the good side lies outside, at which inside); nothing of a sheet whose sides are alike."""
    names = [bend.id for bend in part.sheet.bends] if part.stock.good else []
    outside = [name for name in names if part.has_good_outside(name)]
    return outside, [name for name in names if name not in outside]


def where_good(part: Part) -> str:
    """Where it lies on the finished part, in words; empty where there is none, or no bend."""
    outside, inside = (", ".join(map(part.shape.short, names)) for names in parted(part))
    side = part.stock.good_called
    if outside and inside:
        return Said("the {side} lies outside at {outside}, inside at {inside}", side=side, outside=outside,
                    inside=inside)
    return Said("the {side} lies {way} at every bend", side=side,
                way="outside" if outside else "inside") if outside or inside else ""


def mixed(part: Part) -> Iterator[Notice]:
    """A note where some bends have it outside and some inside; those that are fewer go against it."""
    outside, inside = parted(part)
    if outside and inside:
        yield Notice("good-side", NOTE, min(inside, outside, key=len)[0], where_good(part))

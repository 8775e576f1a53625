"""What is to be known of brackets where there is none yet."""

from bendcore.families.family import Family, ReadMm, Sized
from tests.toy.shape import Bracket, read_bracket


def start(s: Sized) -> dict:
    return {"kind": "toy-bracket", "length": s(80), "width": s(60), "height": s(25)}


def mirror(shape: dict, length: ReadMm) -> dict:
    return shape | {"hand": "right" if shape.get("hand") == "left" else "left"}


FAMILY = Family(Bracket, "Toy bracket", read_bracket, mirror, start)

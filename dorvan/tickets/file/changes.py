"""How two states of a ticket differ, and what people call what differs."""

from bendcore.part_file import in_words as part_in_words

METHODS = [("generic", "Generic K by r/t"), ("k_factor", "K-factor, given"), ("din6935", "DIN 6935"),
           ("aircraft", "Aircraft practice"), ("handbook", "Machinist's handbook"), ("none", "No allowance"),
           ("half_zone", "Half-zone, 90° only")]
BESIDE = {"shape": "This part", "points": "The line", "quantity": "Pieces", "due": "Due", "lot": "Lot",
          "brake": "Brake", "punch": "Punch",
          "also": "The brake after it", "die": "Die", "nose": "Nose", "shim": "Shim", "slip": "Slip sheet",
          "follows_shop": "Allowance by the shop",
          "bend_order": "Bend order", "important": "What the order keeps to", "jog": "Step", "fit": "The fit",
          "rescale": "The sample"}
"""What stands on a ticket beside the part, and what is asked for in one entry."""


def in_words(path: str, kind: str = "") -> str:
    """A field's path as people call it: ``shape.legs[1]`` is Leg L2; of a part of one family, if that is said."""
    return BESIDE.get(path) or part_in_words(path, kind)


def differences(one: dict, other: dict, path: str = "") -> list[tuple[str, object, object]]:
    """(field, before, after) of all that differs between two part files or two sets of choices."""
    found = []
    for key in dict.fromkeys([*one, *other]):
        before, after, name = one.get(key), other.get(key), f"{path}.{key}" if path else key
        if isinstance(before, dict) and isinstance(after, dict):
            found += differences(before, after, name)
        elif isinstance(before, list) and isinstance(after, list) and len(before) == len(after):
            items = [{f"[{i}]": v for i, v in enumerate(values)} for values in (before, after)]
            found += [(f"{name}{k}", b, a) for k, b, a in differences(*items)]
        elif before != after:
            found.append((name, before, after))
    return found


def from_lot(part: dict, lot) -> dict:
    """The part in this lot's metal, as thick as it was measured."""
    return part | {"stock": part["stock"] | {"material": lot.material, "thickness": f"{round(lot.best, 3)} mm"}}

"""Every declared field of every family through what stands at, near and far beyond its limits, alone and in pairs; after
each change that is taken, every stage of the ticket."""

import random
from collections.abc import Iterator

from bendcore.fields import Angle, Choice, Count, Length, Number
from bendcore.fields.places import leaves
from bendcore.part_file import declared, field_at

TIMES = (0.001, 0.02, 0.1, 0.28, 0.5, 0.9, 1.1, 1.6, 2.5, 6, 40)
"""What a length that is there is multiplied by."""
SIZES = ("0", "0.001", "0.05", "1", "3.9", "9", "400", "3000", "99999")


def standing(part: dict) -> list[str]:
    """Paths of the fields of a part that may be typed, as they stand in its file and as they may come beside."""
    kind = part["shape"]["kind"]
    found = [path for _, path, _ in leaves(declared(kind), part)]
    beside = {path.rpartition(".")[0] for path in found}
    for above in sorted(beside):
        place = field_at(above, kind) if above else None
        found += [f"{above}.{key}" for key in getattr(place and place.field, "fields", ())]
    return [path for path in dict.fromkeys(found)
            if (place := field_at(path, kind)) is not None and place.is_typed and not path.startswith("name")]


def values(part: dict, path: str) -> list[str]:
    """What is typed there: its limits and beyond, and what is there made smaller and larger."""
    field = field_at(path, part["shape"]["kind"]).field
    if isinstance(field, Choice):
        return list(field.options)
    if isinstance(field, Count):
        return [str(n) for n in (field.low, field.low + 1, field.low + 5, field.high or 60, 10 ** 8)]
    if isinstance(field, Number):
        near = (field.high - field.low) / 50
        return [f"{n:g}" for n in (field.low, field.low + near / 10, field.low + near, (field.low + field.high) / 2,
                                   field.high - near, field.high)]
    if isinstance(field, Angle):
        return ["0.01", "1", "20", "45", "90", "120", "150", "175", "179.9", "180"]
    if not isinstance(field, Length):
        return []
    limits = [limit for limit in (field.over, field.least) if limit is not None]
    now = _there(part, path)
    return [*SIZES, *(f"{limit + more:g}" for limit in limits for more in (0, 0.01, 1)),
            *(f"{now * times:.4g}" for times in TIMES if now)]


def _there(part: dict, path: str) -> float | None:
    """The bare number that stands there."""
    value = part
    for step in path.replace("[", ".").replace("]", "").split("."):
        try:
            value = value[int(step)] if step.isdigit() else value[step]
        except (KeyError, IndexError, TypeError):
            return None
    value = value.get("length") if isinstance(value, dict) else value
    return value if isinstance(value, (int, float)) and not isinstance(value, bool) else None


def alone(part: dict) -> Iterator[tuple[tuple[str, str], ...]]:
    """Every field with every value."""
    for path in standing(part):
        for value in values(part, path):
            yield ((path, value),)


def at_random(part: dict, rng: random.Random) -> tuple[tuple[str, str], ...]:
    """One field, or two, each with one of its values."""
    paths = [path for path in standing(part) if values(part, path)]
    picked = rng.sample(paths, min(len(paths), rng.choice([1, 2, 2])))
    return tuple((path, rng.choice(values(part, path))) for path in picked)

"""Part and brake files as text, read: by pages and by what is worked out at a desk alike."""

import json
from functools import lru_cache

from bendcore.brakes.brake import Brake, read_brake
from bendcore.files import read_json
from bendcore.part import Part, read_part


@lru_cache(maxsize=16)
def part_of(text: str) -> Part:
    """The part of a part file."""
    return read_part(json.loads(text))


@lru_cache(maxsize=16)
def brake_of(text: str) -> Brake:
    """The brake of a brake file."""
    return read_brake(read_json(text))

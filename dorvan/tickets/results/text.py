"""Data as text that is the same for the same data."""

import hashlib
import json


def canonical(data) -> str:
    return json.dumps(data, sort_keys=True, separators=(",", ":"))


def digest(asked) -> str:
    """A short name for anything that can be written as JSON."""
    return hashlib.sha256(canonical(asked).encode()).hexdigest()

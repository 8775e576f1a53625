"""Joints of a part and of the pieces of its kit, alike ones together."""

from collections.abc import Iterable, Mapping
from dataclasses import replace

from ..families.joint import Joint
from ..part import Part


def joints_of(part: Part, mates: Mapping[str, int] | None = None) -> list[Joint]:
    """Every joint of a part with itself, and with the ``mates`` of its kit (how many to each, by role)."""
    return _merged(part.shape.joints(mates or {}))


def _merged(joints: Iterable[Joint]) -> list[Joint]:
    """Those of the same kind, length and holes as one, so many times."""
    found: list[Joint] = []
    for joint in joints:
        same = next((n for n, one in enumerate(found) if one.what == joint.what and one.kind == joint.kind
                     and abs(one.length - joint.length) < 0.05 and one.count == joint.count), None)
        if same is None:
            found.append(joint)
        else:
            found[same] = replace(found[same], times=found[same].times + joint.times)
    return found

"""How exactly a brake works, as its shop knows it: one standard deviation each, mm or degrees."""

from collections.abc import Callable
from dataclasses import dataclass


@dataclass(frozen=True)
class Accuracy:
    """``stop_offset`` is how far its stop stands off for a whole job, ``stop_repeat`` from stroke to stroke,
    ``scribing`` a scribed line, ``angle`` a bend from piece to piece; None where the shop has not said."""

    stop_offset: float | None = None
    stop_repeat: float | None = None
    scribing: float | None = None
    angle: float | None = None


def read_accuracy(data: dict, length: Callable) -> Accuracy:
    """A brake file's ``accuracy``; ``length`` reads one of its lengths as mm."""
    block = dict(data.get("accuracy", {}))
    angle = block.pop("angle", None)
    return Accuracy(**{key: length(value, f"accuracy.{key}", strict=False) for key, value in block.items()},
                    angle=None if angle is None else float(angle))

"""Joints: places where edges meet that no bend joins. A family says which its parts have
(:meth:`~bendcore.families.shape.Shape.joints`)."""

from dataclasses import dataclass

WELD, RIVET, SPOT, SCREW, CLEAT, FOLD = "weld", "rivet", "spot", "screw", "cleat", "fold"
KINDS = {WELD: "weld", RIVET: "rivets", SPOT: "spot welds", SCREW: "screws", CLEAT: "cleats",
         FOLD: "folded lock or seam"}
"""Ways of joining by their words."""


@dataclass(frozen=True)
class Joint:
    """One place, or ``times`` alike: by its ``key`` (what it is, a colon, which), for people ``place``; ``length`` in
    mm; ``kind`` as the part says it; ``count`` where the part gives holes for it, of ``diameter``; whether it
    ``closes`` a box or a duct, which is squared first."""

    key: str
    place: str
    length: float
    kind: str
    times: int = 1
    count: int | None = None
    diameter: float = 0.0
    closes: bool = False

    @property
    def what(self) -> str:
        """What it is: the key without which."""
        return self.key.partition(":")[0]

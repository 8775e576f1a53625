"""A leaf brake: a solid nose along the whole clamp beam."""

from . import folder
from .measure import Kind, Measure, Rule, Sizes, Span, picture_of

MEASURES = (
    *folder.work_of(2020, 2.0, 150),
    *folder.nose_of(1.0, 37),
    Measure("nose_height", "Height of the nose", 30, 1, 500, "From the sheet up to the beam's underside at its front."),
    Measure("nose_depth", "Depth of the nose", 40, 1, 800, "Along its underside, from its front to its back."),
    *folder.beam_of(36, 80, 70, 150, 160),
    *folder.below_of(40, 60, 160, 120, (18, 30, 60, 80)),
    *folder.grip_of(15, 8, 60),
)


def made(sizes: Sizes) -> dict:
    """The brake file of these sizes."""
    height, depth = sizes["nose_height"], sizes["nose_depth"]
    front = folder.front_at(sizes, height)
    lip = min(folder.LIP, height)
    slope = (  # it may end at the back of the nose, below its top
        [(depth, height), (front, height)] if front < depth else [(depth, lip + (height - lip) * depth / front)]
    )
    nose = [(0.0, 0.0), (depth, 0.0), *slope, (0.0, lip)]
    return {
        "kind": "leaf",
        "fingers": [],
        **folder.worked(sizes),
        "finger_section": nose,
        "beam_section": folder.beam(sizes, height),
    }


def spans(sizes: Sizes) -> dict[str, Span]:
    """Where the sizes lie in the section."""
    height, depth = sizes["nose_height"], sizes["nose_depth"]
    return folder.spans(sizes) | {
        "nose_height": Span((depth, 0.0), (depth, height)),
        "nose_depth": Span((0.0, 2.0), (depth, 2.0)),
    }


LEAF = Kind(
    "leaf",
    "Leaf brake",
    "A clamp beam with one nose over the whole length, and a leaf that swings up.",
    MEASURES,
    (
        Rule(
            "beam_front",
            ("nose_height",),
            lambda s: s["beam_front"] > s["nose_height"],
            "must be more than the height of the nose",
        ),
        *folder.RULES,
    ),
    made,
    picture_of(made),
    spans,
)

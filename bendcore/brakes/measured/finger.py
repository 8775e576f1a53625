"""A finger brake: the clamp beam carries fingers of several widths, beside which walls may stand."""

from ...said import Mm
from . import folder
from .measure import Kind, Measure, Rule, Sizes, Span, picture_of

OWNED = ((150, 4), (100, 3), (75, 3), (50, 4), (40, 2), (30, 2), (25, 3), (20, 1))
"""Fingers of a common brake: width in mm, how many."""
MEASURES = (
    *folder.work_of(1270, 1.6, 135),
    *folder.nose_of(0.8, 37.7),
    Measure(
        "finger_height",
        "Height of the fingers",
        110,
        5,
        600,
        "From the sheet up to the beam's underside: as high as a wall may stand beside a finger.",
    ),
    Measure("finger_depth", "Depth of a finger's foot", 70, 5, 600, "Along its sole, from its front to its back."),
    Measure(
        "foot_height", "Slope ends at", 50, 1, 600, "From the sheet up to where the sloping front becomes the stem."
    ),
    Measure("stem", "Thickness of the stem at its top", 4, 1, 300, "Caliper across the finger, right under the beam."),
    *folder.beam_of(24, 150, 50, 110, 190),
    *folder.below_of(30, 40, 140, 90, (14, 26, 40, 60)),
    *folder.grip_of(12, 5, 75),
)


def made(sizes: Sizes) -> dict:
    """The brake file of these sizes, with the fingers of a common brake."""
    height, depth, foot = sizes["finger_height"], sizes["finger_depth"], sizes["foot_height"]
    finger = [
        (0.0, 0.0),
        (depth, 0.0),
        (depth, height),
        (depth - sizes["stem"], height),
        (folder.front_at(sizes, foot), foot),
        (0.0, folder.LIP),
    ]
    return {
        "kind": "leaf",
        "fingers": [{"width": Mm(width), "count": count} for width, count in OWNED],
        **folder.worked(sizes),
        "finger_section": finger,
        "beam_section": folder.beam(sizes, height),
    }


def spans(sizes: Sizes) -> dict[str, Span]:
    """Where the sizes lie in the section."""
    height, depth, foot = sizes["finger_height"], sizes["finger_depth"], sizes["foot_height"]
    return folder.spans(sizes) | {
        "finger_height": Span((depth + 4, 0.0), (depth + 4, height)),
        "finger_depth": Span((0.0, 2.0), (depth, 2.0)),
        "foot_height": Span((folder.front_at(sizes, foot), 0.0), (folder.front_at(sizes, foot), foot)),
        "stem": Span((depth - sizes["stem"], height - 4), (depth, height - 4)),
    }


FINGER = Kind(
    "finger",
    "Finger brake",
    "A clamp beam with fingers to be set apart, so that a box's walls stand between them.",
    MEASURES,
    (
        Rule(
            "foot_height",
            ("finger_height",),
            lambda s: folder.LIP < s["foot_height"] < s["finger_height"],
            "must be less than the height of the fingers",
        ),
        Rule(
            "stem",
            ("finger_depth",),
            lambda s: s["stem"] < s["finger_depth"],
            "must be less than the depth of the foot",
        ),
        Rule(
            "nose_angle",
            ("finger_depth", "foot_height"),
            lambda s: folder.front_at(s, s["foot_height"]) < s["finger_depth"],
            "is so flat that the slope would end behind the finger: look at where the slope ends, and at the depth",
        ),
        Rule(
            "beam_front",
            ("finger_height",),
            lambda s: s["beam_front"] > s["finger_height"],
            "must be more than the height of the fingers",
        ),
        *folder.RULES,
    ),
    made,
    picture_of(made),
    spans,
)

"""What leaf and finger brakes have in common: clamp beam, bed and leaf, drawn for no sheet between them.

The nose's foremost point is (0, 0); what clamps lies above and behind it, the bed below and behind, the leaf in front
and below, at rest. The leaf turns about the nose's edge.
"""

import math

from ...said import Mm
from .measure import Measure, Outline, Point, Rule, Sizes, Span, Unit

LIP = 0.6
"""The least that the front of a nose stands upright, mm: none is ground to a knife's edge (*start*)."""


def work_of(length: float, thickness: float, swing: float) -> tuple[Measure, ...]:
    """What the brake takes, with these start values."""
    return (
        Measure(
            "length", "Clamping length", length, 100, 8000, "Tape along the clamp beam, from end to end of what clamps."
        ),
        Measure(
            "thickness",
            "Plate: mild steel at full length",
            thickness,
            0.2,
            12,
            "The maker's plate: the thickest mild steel over the whole length.",
        ),
        Measure(
            "short_length",
            "Plate: a shorter length it names",
            0,
            0,
            8000,
            "Where the plate gives more for short bends: the longest of those. 0 where it does not.",
        ),
        Measure("short_thickness", "Plate: mild steel at that length", 0, 0, 12, "And how thick. 0 where it does not."),
        Measure(
            "swing", "Leaf swings to", swing, 45, 180, "Protractor on the leaf, swung up as far as it goes.", Unit.BEND
        ),
    )


def grip_of(hold: float, flange: float, opening: float) -> tuple[Measure, ...]:
    """What clamp and leaf hold and carry, with these start values."""
    return (
        Measure(
            "min_hold",
            "Least flat under the clamp",
            hold,
            0,
            200,
            "The narrowest strip that the clamp still holds without slipping.",
        ),
        Measure(
            "min_flange",
            "Least flange on the leaf",
            flange,
            0,
            200,
            "The shortest flange that the leaf still carries over.",
        ),
        Measure(
            "opening", "Clamp opens by", opening, 1, 1000, "Rule between bed and nose, the clamp opened all the way."
        ),
    )


def nose_of(radius: float, angle: float) -> tuple[Measure, Measure]:
    """Radius and angle of the nose, which all clamps have, with these start values."""
    return (
        Measure("nose_radius", "Nose radius", radius, 0, 25, "Radius gauge on the nose's edge."),
        Measure(
            "nose_angle",
            "Nose angle",
            angle,
            10,
            85,
            "Protractor between the sheet and the sloping front of the nose.",
            Unit.ANGLE,
        ),
    )


def beam_of(back: float, front: float, top: float, depth: float, height: float) -> tuple[Measure, ...]:
    """The clamp beam above nose or fingers, with these start values."""
    return (
        Measure(
            "beam_back",
            "Beam behind the nose",
            back,
            -50,
            500,
            "Square on the bed at the nose's front: from it back to the beam's lower front edge.",
        ),
        Measure(
            "beam_front",
            "Beam upright up to",
            front,
            2,
            1500,
            "From the sheet up to where the beam's front begins to slope back, or to its top.",
        ),
        Measure(
            "beam_top",
            "Beam behind the nose, at its top",
            top,
            -50,
            600,
            "Square at the nose's front: from it back to the beam's upper front edge.",
        ),
        Measure("beam_depth", "Back of the beam", depth, 5, 1500, "From the nose's front to the back of the beam."),
        Measure("beam_height", "Top of the beam", height, 5, 2500, "From the sheet to the top of the beam."),
    )


def below_of(front: float, under: float, depth: float, height: float, leaf: tuple) -> tuple[Measure, ...]:
    """Bed and leaf, with these start values."""
    edge, slope, leaf_height, leaf_depth = leaf
    return (
        Measure(
            "bed_front",
            "Bed's upright front",
            front,
            1,
            1000,
            "From the bed's top down to where its front runs back, or to its foot.",
        ),
        Measure(
            "bed_under", "Bed's foot behind its front", under, 0, 500, "From the bed's front edge back to its foot."
        ),
        Measure(
            "bed_depth", "Depth of the bed", depth, 5, 2000, "Along the bed's top, from its front edge to its back."
        ),
        Measure("bed_height", "Height of the bed", height, 2, 2000, "From the bed's top to its underside."),
        Measure(
            "leaf_edge",
            "Leaf's thickness at the bend",
            edge,
            1,
            200,
            "Leaf down: from its face down its back edge, against the bed.",
        ),
        Measure(
            "leaf_slope",
            "Leaf runs out over",
            slope,
            0,
            400,
            "From its back edge forward to where it has its full height.",
        ),
        Measure("leaf_height", "Height of the leaf", leaf_height, 1, 600, "Its full height, with the bar on it."),
        Measure("leaf_depth", "Depth of the leaf's face", leaf_depth, 2, 800, "Across its face, front to back."),
    )


RULES = (
    Rule("short_length", ("length",), lambda s: s["short_length"] < s["length"], "must be less than the whole length"),
    Rule(
        "short_thickness",
        ("thickness",),
        lambda s: s["short_thickness"] == 0 or s["short_thickness"] >= s["thickness"],
        "must not be less than at full length",
    ),
    Rule(
        "beam_height",
        ("beam_front",),
        lambda s: s["beam_height"] > s["beam_front"] - 1e-9,
        "must not be less than where the beam's front begins to slope",
    ),
    Rule(
        "beam_depth",
        ("beam_back", "beam_top"),
        lambda s: s["beam_depth"] > max(s["beam_back"], s["beam_top"]),
        "must lie behind the beam's front",
    ),
    Rule(
        "bed_height",
        ("bed_front",),
        lambda s: s["bed_height"] > s["bed_front"] - 1e-9,
        "must not be less than its upright front",
    ),
    Rule(
        "bed_under", ("bed_depth",), lambda s: s["bed_under"] < s["bed_depth"], "must be less than the depth of the bed"
    ),
    Rule(
        "leaf_height",
        ("leaf_edge",),
        lambda s: s["leaf_height"] > s["leaf_edge"] - 1e-9,
        "must not be less than its thickness at the bend",
    ),
    Rule(
        "leaf_slope",
        ("leaf_depth",),
        lambda s: s["leaf_slope"] < s["leaf_depth"],
        "must be less than the depth of its face",
    ),
)


def front_at(sizes: Sizes, z: float) -> float:
    """How far behind the nose's front its sloping face stands at a height above the sheet, mm."""
    return max(0.0, z - LIP) / math.tan(math.radians(sizes["nose_angle"]))


def beam(sizes: Sizes, foot: float) -> Outline:
    """The clamp beam, from its ``foot`` above the sheet."""
    back, top = sizes["beam_back"], sizes["beam_top"]
    front, height, depth = sizes["beam_front"], sizes["beam_height"], sizes["beam_depth"]
    sloped = [(top, height), (back, front)] if front < height - 1e-9 else [(back, height)]
    return [(back, foot), (depth, foot), (depth, height), *sloped]


def bed(sizes: Sizes) -> Outline:
    """The bed, below the sheet."""
    depth, height, front, under = (sizes[f"bed_{key}"] for key in ("depth", "height", "front", "under"))
    return [(0.0, 0.0), (depth, 0.0), (depth, -height), (under, -height), (0.0, -front)]


def leaf(sizes: Sizes) -> Outline:
    """The leaf at rest, in front of the bed."""
    edge, slope, height, depth = (sizes[f"leaf_{key}"] for key in ("edge", "slope", "height", "depth"))
    return [(0.0, 0.0), (0.0, -edge), (-slope, -height), (-depth, -height), (-depth, 0.0)]


def worked(sizes: Sizes) -> dict:
    """What a leaf brake's file says beside its upper sections; lengths in mm."""
    short = {"length": Mm(sizes["short_length"]), "thickness": Mm(sizes["short_thickness"])}
    shorter = {"shorter": short} if all(short.values()) else {}
    return {
        "length": Mm(sizes["length"]),
        "rated": {"thickness": Mm(sizes["thickness"]), "material": "mild-steel"} | shorter,
        "max_angle": sizes["swing"],
        "nose_radius": Mm(sizes["nose_radius"]),
        "pivot": [Mm(0), Mm(0)],
        **{key: Mm(sizes[key]) for key in ("min_hold", "min_flange", "opening")},
        "bed_section": bed(sizes),
        "leaf_section": leaf(sizes),
    }


def spans(sizes: Sizes) -> dict[str, Span]:
    """Where the sizes of beam, bed and leaf lie in the section."""
    s, bottom = sizes, -sizes["bed_height"]
    nose: Point = (0.0, 0.0)
    return {
        "nose_radius": Span(nose, nose),
        "nose_angle": Span((front_at(s, 10.0), 10.0), (front_at(s, 10.0), 10.0)),
        "beam_back": Span((0.0, s["beam_front"]), (s["beam_back"], s["beam_front"])),
        "beam_front": Span((s["beam_back"], 0.0), (s["beam_back"], s["beam_front"])),
        "beam_top": Span((0.0, s["beam_height"]), (s["beam_top"], s["beam_height"])),
        "beam_depth": Span((0.0, s["beam_height"] + 12), (s["beam_depth"], s["beam_height"] + 12)),
        "beam_height": Span((s["beam_depth"] + 8, 0.0), (s["beam_depth"] + 8, s["beam_height"])),
        "bed_front": Span(nose, (0.0, -s["bed_front"])),
        "bed_under": Span((0.0, bottom), (s["bed_under"], bottom)),
        "bed_depth": Span((0.0, bottom - 10), (s["bed_depth"], bottom - 10)),
        "bed_height": Span((s["bed_depth"] + 8, 0.0), (s["bed_depth"] + 8, bottom)),
        "leaf_edge": Span(nose, (0.0, -s["leaf_edge"])),
        "leaf_slope": Span((0.0, -s["leaf_height"]), (-s["leaf_slope"], -s["leaf_height"])),
        "leaf_height": Span((-s["leaf_depth"] - 6, 0.0), (-s["leaf_depth"] - 6, -s["leaf_height"])),
        "leaf_depth": Span((0.0, 4.0), (-s["leaf_depth"], 4.0)),
    }

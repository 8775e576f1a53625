"""Tools of a press brake by what a caliper and a protractor give: punches straight, acute and offset; dies with one V
(one of several on a block, where its faces lie unequally far off), and flattening bars.

A punch has its tip at (0, 0) and its body above; a die the middle of its opening at (0, 0), on its top.
"""

import math

from ...said import Mm
from .measure import Kind, Measure, Outline, Rule, Sizes, Span, Unit, beyond, picture_of

OWNED = (835, 415, 200, 100, 50, 40, 20, 10)
"""Lengths of a common rack, mm."""
STEP, FLOOR = 10.0, 0.4
"""Degrees to a chord of a rounding, which lies less than 0.004 of its radius within it; half the flat at the foot of a
V, mm."""


def rounded(radius: float, angle: float) -> Outline:
    """A tip of this radius between flanks that enclose ``angle`` degrees, from the left one to the right; its lowest
    point is (0, 0)."""
    turn = 90 - angle / 2
    steps = max(1, math.ceil(turn / STEP))
    turns = [math.radians(turn * k / steps) for k in range(-steps, steps + 1)]
    return [(radius * math.sin(a), radius * (1 - math.cos(a))) for a in turns] if radius > 0 else [(0.0, 0.0)]


def _flank(s: Sizes) -> float:
    """How high above the tip its flanks reach the width of the blade, mm."""
    y, z = rounded(s["tip_radius"], s["angle"])[-1]
    return z + (s["width"] / 2 - y) / math.tan(math.radians(s["angle"] / 2))


def tip_of(radius: float, angle: float) -> tuple[Measure, Measure]:
    """What every punch has, with these start values."""
    return (
        Measure("tip_radius", "Tip radius", radius, 0, 60, "Stamped on it, or a radius gauge on the tip."),
        Measure("angle", "Angle", angle, 10, 120, "Stamped on it, or a protractor on its flanks.", Unit.ANGLE),
    )


def _straight_measures(angle: float) -> tuple[Measure, ...]:
    return (
        *tip_of(0.8, angle),
        Measure("width", "Width of the blade", 18, 1, 200, "Caliper across it, above the flanks."),
        Measure("neck", "Blade reaches up to", 60, 1, 500, "From the tip up to where it widens to the head."),
        Measure("head_at", "Head begins at", 70, 1, 500, "From the tip up to where the head has its full width."),
        Measure("head", "Width of the head", 26, 2, 300, "Caliper across the head."),
        Measure("height", "Height", 105, 3, 600, "From the tip to the shoulder that sits against the ram."),
    )


def _straight(s: Sizes) -> dict:
    tip, wide, head = rounded(s["tip_radius"], s["angle"]), s["width"] / 2, s["head"] / 2
    right = [(wide, _flank(s)), (wide, s["neck"]), (head, s["head_at"]), (head, s["height"])]
    return _punch(s) | {"section": [*tip, *right, *[(-y, z) for y, z in reversed(right)]]}


def _punch(s: Sizes) -> dict:
    return {"tip_radius": Mm(s["tip_radius"]), "angle": s["angle"]}


def _of_tip(s: Sizes, flank: float) -> dict[str, Span]:
    at = (s["width"] / 4, flank / 2)
    return {"tip_radius": Span((0.0, 0.0), (0.0, 0.0)), "angle": Span(at, at)}


def _straight_spans(s: Sizes) -> dict[str, Span]:
    wide, head = s["width"] / 2, s["head"] / 2
    return _of_tip(s, _flank(s)) | {
        "width": Span((-wide, s["neck"] - 5), (wide, s["neck"] - 5)),
        "neck": Span((-head - 4, 0.0), (-head - 4, s["neck"])),
        "head_at": Span((head + 4, 0.0), (head + 4, s["head_at"])),
        "head": Span((-head, s["height"] + 4), (head, s["height"] + 4)),
        "height": Span((head + 14, 0.0), (head + 14, s["height"])),
    }


BLADE = (
    Rule(
        "width",
        ("tip_radius", "angle"),
        lambda s: s["width"] / 2 > s["tip_radius"] * math.cos(math.radians(s["angle"] / 2)),
        "must be more than the tip's rounding is wide",
    ),
)
NECKED = (
    *BLADE,
    Rule(
        "neck",
        ("tip_radius", "angle", "width"),
        lambda s: s["neck"] >= _flank(s) - 1e-9,
        "must not be less than where the flanks end: look at it, at width and angle",
    ),
    Rule("head_at", ("neck",), lambda s: s["head_at"] >= s["neck"], "must not be less than where the blade ends"),
    beyond("height", "head_at", "must be more than where the head begins"),
)
STRAIGHT = Kind(
    "straight",
    "Straight punch",
    "A blade straight above the bend line.",
    _straight_measures(88),
    NECKED,
    _straight,
    picture_of(_straight),
    _straight_spans,
    "punches",
)
ACUTE = Kind(
    "acute",
    "Acute punch",
    "A narrow blade for angles below 45°, as hems begin.",
    _straight_measures(30),
    NECKED,
    _straight,
    picture_of(_straight),
    _straight_spans,
    "punches",
)

OFFSET_MEASURES = (
    *tip_of(0.6, 85),
    Measure("width", "Width of the blade", 13, 1, 200, "Caliper across it, right above the flanks."),
    Measure("throat_from", "Throat begins at", 14, 1, 500, "From the tip up to where the back begins to run forward."),
    Measure("throat_at", "Throat deepest at", 52, 1, 500, "From the tip up to the deepest place of the throat."),
    Measure(
        "throat", "Depth of the throat", 10, 0, 300, "From the bend line forward to the deepest place of the back."
    ),
    Measure("throat_to", "Throat ends at", 90, 2, 550, "From the tip up to where the back reaches the head."),
    Measure("neck", "Thickness of the neck", 24, 2, 300, "Caliper across the neck, level, at the deepest place."),
    Measure("head", "Width of the head", 26, 2, 300, "Caliper across the head."),
    Measure("height", "Height", 122, 3, 600, "From the tip to the shoulder that sits against the ram."),
)


def _offset(s: Sizes) -> dict:
    tip, wide, head, deep = rounded(s["tip_radius"], s["angle"]), s["width"] / 2, s["head"] / 2, -s["throat"]
    back = [(wide, _flank(s)), (wide, s["throat_from"]), (deep, s["throat_at"]), (head, s["throat_to"])]
    front = [(-head, s["throat_to"]), (deep - s["neck"], s["throat_at"]), (-wide, _flank(s))]
    return _punch(s) | {"section": [*tip, *back, (head, s["height"]), (-head, s["height"]), *front]}


def _offset_spans(s: Sizes) -> dict[str, Span]:
    wide, head, front = s["width"] / 2, s["head"] / 2, -s["throat"] - s["neck"]
    return _of_tip(s, _flank(s)) | {
        "width": Span((-wide, _flank(s)), (wide, _flank(s))),
        "throat_from": Span((wide + 3, 0.0), (wide + 3, s["throat_from"])),
        "throat_at": Span((head + 4, 0.0), (head + 4, s["throat_at"])),
        "throat": Span((-s["throat"], s["throat_at"]), (0.0, s["throat_at"])),
        "throat_to": Span((head + 14, 0.0), (head + 14, s["throat_to"])),
        "neck": Span((front, s["throat_at"]), (-s["throat"], s["throat_at"])),
        "head": Span((-head, s["height"] + 4), (head, s["height"] + 4)),
        "height": Span((front - 6, 0.0), (front - 6, s["height"])),
    }


OFFSET = Kind(
    "offset",
    "Offset punch",
    "A blade whose neck stands forward, so that a leg can come up behind it.",
    OFFSET_MEASURES,
    (
        *BLADE,
        Rule(
            "throat_from",
            ("tip_radius", "angle", "width"),
            lambda s: s["throat_from"] >= _flank(s) - 1e-9,
            "must not be less than where the flanks end",
        ),
        Rule(
            "throat_at",
            ("throat_from",),
            lambda s: s["throat_at"] > s["throat_from"],
            "must be more than where the throat begins",
        ),
        Rule(
            "throat_to",
            ("throat_at", "height"),
            lambda s: s["throat_at"] < s["throat_to"] < s["height"],
            "must lie between the deepest place and the top",
        ),
        Rule(
            "neck",
            ("throat", "width"),
            lambda s: -s["throat"] - s["neck"] < -s["width"] / 2 or s["throat"] == 0,
            "stands behind the blade's front",
        ),
    ),
    _offset,
    picture_of(_offset),
    _offset_spans,
    "punches",
)

VEE_MEASURES = (
    Measure("v", "Opening", 12, 1, 400, "Caliper across the V, between the points where the shoulders begin to round."),
    Measure("angle", "Angle", 88, 10, 160, "Stamped on it, or a protractor in the V.", Unit.ANGLE),
    Measure("shoulder_radius", "Shoulder radius", 1.2, 0, 60, "Radius gauge on the shoulders."),
    Measure(
        "front", "Middle of the V to the front face", 15, 1, 500, "Half the block's width where the V is in its middle."
    ),
    Measure("back", "Middle of the V to the back face", 15, 1, 500, "The same to the back."),
    Measure("height", "Height", 60, 2, 500, "From its seat to its top."),
)


def _shoulder(s: Sizes) -> Outline:
    """The back shoulder's rounding, from its start on the top down to the flank."""
    half, radius = s["angle"] / 2, s["shoulder_radius"]
    steps = max(1, math.ceil((90 - half) / STEP))
    turns = [math.radians((90 - half) * k / steps) for k in range(steps + 1)]
    return (
        [(s["v"] / 2 - radius * math.sin(a), radius * (math.cos(a) - 1)) for a in turns]
        if radius
        else [(s["v"] / 2, 0.0)]
    )


def _foot(s: Sizes) -> float:
    """How deep the V is, mm below the top."""
    y, z = _shoulder(s)[-1]
    return -z + (y - min(FLOOR, y / 2)) / math.tan(math.radians(s["angle"] / 2))


def _vee(s: Sizes) -> dict:
    shoulder, floor = _shoulder(s), -_foot(s)
    flat = min(FLOOR, shoulder[-1][0] / 2)
    outline = [
        (s["back"], -s["height"]),
        (s["back"], 0.0),
        *shoulder,
        (flat, floor),
        (-flat, floor),
        *[(-y, z) for y, z in reversed(shoulder)],
        (-s["front"], 0.0),
        (-s["front"], -s["height"]),
    ]
    return {
        "kind": "v",
        "v": Mm(s["v"]),
        "angle": s["angle"],
        "shoulder_radius": Mm(s["shoulder_radius"]),
        "section": outline,
    }


def _vee_spans(s: Sizes) -> dict[str, Span]:
    half, low = s["v"] / 2, -s["height"] - 4
    return {
        "v": Span((-half, 3.0), (half, 3.0)),
        "angle": Span((0.0, -_foot(s) / 2), (0.0, -_foot(s) / 2)),
        "shoulder_radius": Span((half, 0.0), (half, 0.0)),
        "front": Span((0.0, low), (-s["front"], low)),
        "back": Span((0.0, low), (s["back"], low)),
        "height": Span((s["back"] + 4, 0.0), (s["back"] + 4, -s["height"])),
    }


VEE = Kind(
    "v",
    "V die",
    "One V in a block; of a block with several, each V is a die of its own.",
    VEE_MEASURES,
    (
        Rule(
            "shoulder_radius",
            ("v", "angle"),
            lambda s: (
                s["shoulder_radius"] * math.cos(math.radians(s["angle"] / 2)) < s["v"] / 2 - 0.05
                and s["shoulder_radius"] < s["v"] / 2
            ),
            "must be less than half the opening",
        ),
        Rule("front", ("v",), lambda s: s["front"] > s["v"] / 2, "must be more than half the opening"),
        Rule("back", ("v",), lambda s: s["back"] > s["v"] / 2, "must be more than half the opening"),
        Rule(
            "height",
            ("v", "angle", "shoulder_radius"),
            lambda s: s["height"] > _foot(s) + 0.5,
            "is less than the V is deep",
        ),
    ),
    _vee,
    picture_of(_vee),
    _vee_spans,
    "dies",
)

UEE_MEASURES = (
    Measure("v", "Opening", 20, 2, 400, "Caliper across it, between the points where the shoulders begin to round."),
    Measure("depth", "Depth", 20, 1, 400, "From its top down to its floor."),
    Measure("shoulder_radius", "Shoulder radius", 2, 0, 60, "Radius gauge on the shoulders."),
    *VEE_MEASURES[3:],
)


def _narrowest(s: Sizes) -> float:
    """The angle between the legs, degrees, at which a sheet without thickness on both shoulders reaches the floor."""
    return math.degrees(2 * math.atan(s["v"] / 2 / s["depth"]))


def _uee(s: Sizes) -> dict:
    shoulder = _shoulder(s | {"angle": 0.0})
    walls = [*shoulder, (shoulder[-1][0], -s["depth"])]
    outline = [(s["back"], -s["height"]), (s["back"], 0.0), *walls, *[(-y, z) for y, z in reversed(walls)],
               (-s["front"], 0.0), (-s["front"], -s["height"])]
    return {"kind": "v", "v": Mm(s["v"]), "angle": round(_narrowest(s), 4),
            "shoulder_radius": Mm(s["shoulder_radius"]), "section": outline}


def _uee_spans(s: Sizes) -> dict[str, Span]:
    spans = {name: span for name, span in _vee_spans(s | {"angle": 90.0}).items() if name != "angle"}
    return spans | {"depth": Span((0.0, 0.0), (0.0, -s["depth"]))}


UEE = Kind(
    "u",
    "U die",
    "A channel with upright walls: its depth says how sharp it bends.",
    UEE_MEASURES,
    (
        Rule("shoulder_radius", ("v", "depth"), lambda s: s["shoulder_radius"] < min(s["v"] / 2 - 0.05, s["depth"]),
             "must be less than half the opening, and than its depth"),
        Rule("depth", ("v",), lambda s: 10 <= _narrowest(s) <= 160, "must leave an angle of 10 to 160° in the channel"),
        Rule("front", ("v",), lambda s: s["front"] > s["v"] / 2, "must be more than half the opening"),
        Rule("back", ("v",), lambda s: s["back"] > s["v"] / 2, "must be more than half the opening"),
        Rule("height", ("depth",), lambda s: s["height"] > s["depth"] + 0.5, "is less than the channel is deep"),
    ),
    _uee,
    picture_of(_uee),
    _uee_spans,
    "dies",
)

FLAT_MEASURES = (
    Measure("width", "Width", 50, 3, 500, "Caliper across its face, front to back."),
    Measure("height", "Height", 60, 2, 500, "From its seat to its face."),
)


def _flat(s: Sizes) -> dict:
    wide = s["width"] / 2
    return {"kind": "flatten", "section": [(-wide, 0.0), (wide, 0.0), (wide, -s["height"]), (-wide, -s["height"])]}


def _flat_spans(s: Sizes) -> dict[str, Span]:
    wide = s["width"] / 2
    return {"width": Span((-wide, 4.0), (wide, 4.0)), "height": Span((wide + 4, 0.0), (wide + 4, -s["height"]))}


FLATTENER = Kind(
    "flat",
    "Flattening bars",
    "A pair of flat bars that close a hem.",
    FLAT_MEASURES,
    (),
    _flat,
    picture_of(_flat),
    _flat_spans,
    "dies",
)


def begun_tool(kind: Kind, name: str = "") -> dict:
    """A tool of a kind as it is first put on the rack: of start sizes, with the lengths of a common rack; in mm."""
    sizes = {one.name: one.start for one in kind.measures}
    return {
        "name": name or kind.title,
        **kind.made(sizes),
        "lengths": [Mm(length) for length in OWNED],
        "measured": {"as": kind.name, "sizes": {}},
    }

"""What holds a sheet on a bench while it is beaten over an edge: two bars in a vice, and folding tongs."""

import math

from ...said import Mm
from .measure import Kind, Measure, Outline, Rule, Sizes, Span, Unit, picture_of

EDGE = Measure("edge_radius", "Radius of the edge", 0.5, 0, 25, "Radius gauge on the edge the sheet is bent over.")


def grip(hold: float, flange: float, opening: float) -> tuple[Measure, ...]:
    """What both can hold, with these start values."""
    return (
        Measure("min_hold", "Least flat between them", hold, 0, 200, "The narrowest strip they hold without slipping."),
        Measure("min_flange", "Least flange", flange, 0, 200, "The shortest flange that can be beaten over."),
        Measure("opening", "They open by", opening, 0.5, 500, "Rule between them, opened all the way."),
    )


BARS_MEASURES = (
    Measure("length", "Length of the bars", 600, 20, 4000, "Tape along the shorter of the two."),
    EDGE,
    Measure(
        "dressed",
        "Angle dressed on the front",
        22,
        0,
        60,
        "Protractor between the bar's front and a square.",
        Unit.ANGLE,
    ),
    Measure("land", "Upright front under it", 10, 0.5, 200, "From the sheet up to where the dressed front begins."),
    Measure("bar_depth", "Depth of the upper bar", 40, 3, 300, "Caliper across it, front to back."),
    Measure("bar_height", "Height of the upper bar", 40, 3, 300, "Caliper, from the sheet to its top."),
    Measure("backing_depth", "Depth of the lower bar", 50, 3, 300, "Caliper across it, front to back."),
    Measure("backing_height", "Height of the lower bar", 60, 3, 400, "From the sheet down to the vice."),
    Measure(
        "clamp_depth",
        "Free depth behind the edge",
        240,
        5,
        3000,
        "From the edge back to the vice's screw or the wall: as deep as a part may reach in.",
    ),
    *grip(10, 5, 100),
)


def _bar(sizes: Sizes) -> Outline:
    depth, height, land = sizes["bar_depth"], sizes["bar_height"], sizes["land"]
    back = math.tan(math.radians(sizes["dressed"])) * (height - land)
    return [(0.0, 0.0), (depth, 0.0), (depth, height), (back, height), *([(0.0, land)] if back > 0 else [])]


def _bars(sizes: Sizes) -> dict:
    depth, height = sizes["backing_depth"], sizes["backing_height"]
    return {
        "kind": "bench",
        **{
            key: Mm(sizes[key]) for key in ("length", "edge_radius", "clamp_depth", "min_hold", "min_flange", "opening")
        },
        "bar_section": _bar(sizes),
        "backing_section": [(0.0, 0.0), (depth, 0.0), (depth, -height), (0.0, -height)],
    }


def _bar_spans(sizes: Sizes) -> dict[str, Span]:
    s = sizes
    back = math.tan(math.radians(s["dressed"])) * (s["bar_height"] - s["land"])
    half = (back / 2, (s["land"] + s["bar_height"]) / 2)
    return {
        "edge_radius": Span((0.0, 0.0), (0.0, 0.0)),
        "dressed": Span(half, half),
        "land": Span((-4.0, 0.0), (-4.0, s["land"])),
        "bar_depth": Span((0.0, s["bar_height"] + 5), (s["bar_depth"], s["bar_height"] + 5)),
        "bar_height": Span((s["bar_depth"] + 4, 0.0), (s["bar_depth"] + 4, s["bar_height"])),
        "backing_depth": Span((0.0, -s["backing_height"] - 5), (s["backing_depth"], -s["backing_height"] - 5)),
        "backing_height": Span((s["backing_depth"] + 4, 0.0), (s["backing_depth"] + 4, -s["backing_height"])),
    }


BAR_RULES = (
    Rule("land", ("bar_height",), lambda s: s["land"] < s["bar_height"], "must be less than the height of the bar"),
    Rule(
        "dressed",
        ("bar_depth", "bar_height", "land"),
        lambda s: math.tan(math.radians(s["dressed"])) * (s["bar_height"] - s["land"]) < s["bar_depth"] - 0.5,
        "is so much that nothing is left of the bar at its top",
    ),
)
BARS = Kind(
    "bars",
    "Bench bars",
    "Two bars in a vice or clamped to the bench, and a hammer.",
    BARS_MEASURES,
    BAR_RULES,
    _bars,
    picture_of(_bars),
    _bar_spans,
)

VICE_MEASURES = (
    Measure("length", "Width of the jaws", 125, 10, 600, "Caliper along the edge of the jaws."),
    EDGE,
    Measure(
        "dressed", "Angle dressed on the jaw", 0, 0, 60, "Protractor between the jaw's top and a square.", Unit.ANGLE
    ),
    Measure("land", "Plain part of it", 5, 0.5, 100, "From the sheet outwards to where the dressing begins."),
    Measure("bar_depth", "Jaw stands free below its top", 35, 3, 300, "From the top down to where it widens."),
    Measure("bar_height", "Thickness of the jaw you beat over", 14, 2, 200, "Caliper across that jaw at its top."),
    Measure("backing_depth", "The other jaw stands free", 35, 3, 300, "From its top down to where it widens."),
    Measure("backing_height", "Thickness of the other jaw", 14, 2, 300, "Caliper across it at its top."),
    Measure(
        "clamp_depth",
        "Free depth between the jaws",
        95,
        5,
        1000,
        "From their top down to the screw's slide: as deep as a part reaches in.",
    ),
    *grip(8, 4, 120),
)
VICE = Kind(
    "vice",
    "Vice",
    "The jaws of a vice, a sheet upright between them, and a hammer; drawn lying, the sheet level.",
    VICE_MEASURES,
    BAR_RULES,
    _bars,
    picture_of(_bars),
    _bar_spans,
)

TONGS_MEASURES = (
    Measure("length", "Width of the jaws", 80, 5, 600, "Caliper along the edge of the jaws."),
    EDGE,
    Measure(
        "jaw_depth", "Depth of the jaws", 45, 3, 400, "From their edge back to the joint: as deep as a part reaches in."
    ),
    Measure("tip", "Upper jaw at its edge", 2, 0.3, 60, "Caliper over its edge, from the sheet up."),
    Measure("bevel_depth", "Bevel runs back", 3, 0.2, 200, "From the edge back to where the bevel ends."),
    Measure(
        "bevel_height", "Upper jaw behind the bevel", 5, 0.4, 100, "Caliper where the bevel ends, from the sheet up."
    ),
    Measure("root", "Upper jaw at the joint", 8, 0.5, 150, "Caliper right before the joint, from the sheet up."),
    Measure("lower_tip", "Lower jaw at its edge", 5, 0.3, 60, "Caliper over its edge, from the sheet down."),
    Measure(
        "lower_root", "Lower jaw at the joint", 8, 0.5, 150, "Caliper right before the joint, from the sheet down."
    ),
    *grip(6, 4, 20),
)


def _tongs(sizes: Sizes) -> dict:
    s = sizes
    return {
        "kind": "bench",
        **{key: Mm(s[key]) for key in ("length", "edge_radius", "min_hold", "min_flange", "opening")},
        "clamp_depth": Mm(s["jaw_depth"]),
        "bar_section": [
            (0.0, 0.0),
            (s["jaw_depth"], 0.0),
            (s["jaw_depth"], s["root"]),
            (s["bevel_depth"], s["bevel_height"]),
            (0.0, s["tip"]),
        ],
        "backing_section": [
            (0.0, 0.0),
            (s["jaw_depth"], 0.0),
            (s["jaw_depth"], -s["lower_root"]),
            (0.0, -s["lower_tip"]),
        ],
    }


def _tong_spans(sizes: Sizes) -> dict[str, Span]:
    s = sizes
    return {
        "edge_radius": Span((0.0, 0.0), (0.0, 0.0)),
        "tip": Span((-2.0, 0.0), (-2.0, s["tip"])),
        "jaw_depth": Span((0.0, s["root"] + 4), (s["jaw_depth"], s["root"] + 4)),
        "bevel_depth": Span((0.0, s["bevel_height"]), (s["bevel_depth"], s["bevel_height"])),
        "bevel_height": Span((s["bevel_depth"], 0.0), (s["bevel_depth"], s["bevel_height"])),
        "root": Span((s["jaw_depth"] + 2, 0.0), (s["jaw_depth"] + 2, s["root"])),
        "lower_tip": Span((-2.0, 0.0), (-2.0, -s["lower_tip"])),
        "lower_root": Span((s["jaw_depth"] + 2, 0.0), (s["jaw_depth"] + 2, -s["lower_root"])),
    }


TONGS = Kind(
    "tongs",
    "Folding tongs",
    "Wide jaws that fold an edge by hand, a short way at a time.",
    TONGS_MEASURES,
    (
        Rule(
            "bevel_depth",
            ("jaw_depth",),
            lambda s: s["bevel_depth"] < s["jaw_depth"],
            "must be less than the depth of the jaws",
        ),
    ),
    _tongs,
    picture_of(_tongs),
    _tong_spans,
)

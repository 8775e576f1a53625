"""A press brake: ram above, table below, side frames and stops behind; its tools are described one by one.

In the picture the die's seat lies at (0, 0) and the ram stands up, the open height above it. How far ram and table go
on beyond what can be measured makes no difference to a part.
"""

from ...said import Mm
from .measure import Kind, Measure, Outline, Rule, Sizes, Span, Unit, picture_of
from .tools import STRAIGHT, VEE, begun_tool

RAM, BED, FRAME = 400.0, 700.0, (420.0, -700.0, 900.0)
"""How high a ram is drawn, how deep a table, and of side frames depth, foot and head, mm."""
MEASURES = (
    Measure("length", "Bed length", 2050, 200, 12_000, "Tape along the table, end to end."),
    Measure("between_frames", "Between the side frames", 1600, 100, 12_000, "Tape from one side frame to the other."),
    Measure("capacity", "Capacity", 600, 5, 30_000, "The maker's plate.", Unit.FORCE),
    Measure(
        "open_height", "Open height", 300, 30, 2000, "Ram up: from the table's seat to the ram's seat, no tools in."
    ),
    Measure("stroke", "Stroke", 150, 5, 1500, "How far the ram comes down, by the plate or a rule."),
    Measure("throat", "Throat", 180, 10, 2000, "From the bend line back to the front of the side frames."),
    Measure(
        "holder_width",
        "Ram's foot, front to back",
        60,
        4,
        600,
        "Caliper across the ram or tool holder at the punch's seat.",
    ),
    Measure("holder_height", "Height of that foot", 60, 1, 600, "From the punch's seat up to where the ram widens."),
    Measure(
        "ram_wide_at",
        "Ram at full depth from",
        120,
        1,
        1000,
        "From the punch's seat up to where it has its full depth.",
    ),
    Measure(
        "ram_front",
        "Bend line to the ram's front",
        30,
        1,
        800,
        "Plumb line down the bend line: from it forward to the ram's face.",
    ),
    Measure("ram_back", "Bend line to the ram's back", 70, 1, 1500, "From the bend line back to the ram's back."),
    Measure(
        "table_width",
        "Table's top, front to back",
        70,
        4,
        800,
        "Caliper across the table or die holder at the die's seat.",
    ),
    Measure("table_height", "Height of that top", 60, 1, 800, "From the die's seat down to where the table widens."),
    Measure(
        "bed_wide_at",
        "Table at full depth from",
        90,
        1,
        1000,
        "From the die's seat down to where it has its full depth.",
    ),
    Measure("bed_width", "Table, front to back", 120, 4, 1500, "Across the table where it is widest."),
    Measure(
        "stop_least", "Stop, nearest", 6, 0, 1000, "From the bend line to the stop's face, driven all the way forward."
    ),
    Measure("stop_most", "Stop, farthest", 600, 5, 5000, "The same, driven all the way back."),
    Measure(
        "stop_above", "Stop's face above the die", 12, 0.5, 200, "From the die's top up to the top of the stop's face."
    ),
    Measure("stop_below", "Stop's face below the die", 4, 0, 200, "From the die's top down to its lower edge."),
    Measure("stop_depth", "Depth of the stop's finger", 60, 1, 600, "From its face back to its end."),
)


def made(sizes: Sizes) -> dict:
    """The brake file of these sizes, with a straight punch and one die of a common rack to begin with."""
    s, depth, foot, head = sizes, *FRAME
    return {
        "kind": "press",
        **{key: Mm(s[key]) for key in ("length", "between_frames", "open_height", "stroke")},
        "tonnage_kn": s["capacity"],
        "punches": [begun_tool(STRAIGHT)],
        "dies": [begun_tool(VEE)],
        "ram_section": _ram(s),
        "table_section": _table(s),
        "frame_section": [
            (s["throat"], foot),
            (s["throat"] + depth, foot),
            (s["throat"] + depth, head),
            (s["throat"], head),
        ],
        "stops": {
            "min": Mm(s["stop_least"]),
            "max": Mm(s["stop_most"]),
            "count": 2,
            "spacing": Mm(400),
            "section": [
                (0.0, -s["stop_below"]),
                (0.0, s["stop_above"]),
                (s["stop_depth"], s["stop_above"]),
                (s["stop_depth"], -s["stop_below"]),
            ],
        },
    }


def _ram(s: Sizes) -> Outline:
    half, top = s["holder_width"] / 2, max(RAM, s["ram_wide_at"] + 100)
    return [
        (-half, 0.0),
        (half, 0.0),
        (half, s["holder_height"]),
        (s["ram_back"], s["ram_wide_at"]),
        (s["ram_back"], top),
        (-s["ram_front"], top),
        (-s["ram_front"], s["ram_wide_at"]),
        (-half, s["holder_height"]),
    ]


def _table(s: Sizes) -> Outline:
    half, wide, foot = s["table_width"] / 2, s["bed_width"] / 2, -max(BED, s["bed_wide_at"] + 100)
    return [
        (-half, 0.0),
        (half, 0.0),
        (half, -s["table_height"]),
        (wide, -s["bed_wide_at"]),
        (wide, foot),
        (-wide, foot),
        (-wide, -s["bed_wide_at"]),
        (-half, -s["table_height"]),
    ]


def picture(sizes: Sizes) -> dict[str, Outline]:
    """Ram up above the table, the stop as near as it comes, the side frames behind."""
    found, up = picture_of(made)(sizes), sizes["open_height"]
    stop = made(sizes)["stops"]["section"]
    return found | {
        "ram_section": [(y, z + up) for y, z in found["ram_section"]],
        "stops.section": [(y + sizes["stop_least"], z) for y, z in stop],
    }


def spans(sizes: Sizes) -> dict[str, Span]:
    """Where the sizes lie in the picture."""
    s, up = sizes, sizes["open_height"]
    half, top, wide = s["holder_width"] / 2, s["table_width"] / 2, up + s["ram_wide_at"]
    low, stop = -s["bed_wide_at"], s["stop_least"]
    return {
        "open_height": Span((0.0, 0.0), (0.0, up)),
        "throat": Span((0.0, up / 2), (s["throat"], up / 2)),
        "holder_width": Span((-half, up), (half, up)),
        "holder_height": Span((-half, up), (-half, up + s["holder_height"])),
        "ram_wide_at": Span((s["ram_back"], up), (s["ram_back"], wide)),
        "ram_front": Span((0.0, wide + 20), (-s["ram_front"], wide + 20)),
        "ram_back": Span((0.0, wide + 40), (s["ram_back"], wide + 40)),
        "table_width": Span((-top, -6.0), (top, -6.0)),
        "table_height": Span((-top, 0.0), (-top, -s["table_height"])),
        "bed_wide_at": Span((s["bed_width"] / 2, 0.0), (s["bed_width"] / 2, low)),
        "bed_width": Span((-s["bed_width"] / 2, low - 20), (s["bed_width"] / 2, low - 20)),
        "stop_least": Span((0.0, s["stop_above"] + 10), (stop, s["stop_above"] + 10)),
        "stop_above": Span((stop, 0.0), (stop, s["stop_above"])),
        "stop_below": Span((stop, 0.0), (stop, -s["stop_below"])),
        "stop_depth": Span((stop, s["stop_above"]), (stop + s["stop_depth"], s["stop_above"])),
    }


PRESS = Kind(
    "press",
    "Press brake",
    "A ram that presses the sheet into a die, with stops behind.",
    MEASURES,
    (
        Rule(
            "stop_most", ("stop_least",), lambda s: s["stop_most"] > s["stop_least"], "must be farther than its nearest"
        ),
        Rule(
            "stop_below", ("stop_above",), lambda s: s["stop_above"] + s["stop_below"] > 0.5, "leaves the stop no face"
        ),
        Rule(
            "ram_wide_at",
            ("holder_height",),
            lambda s: s["ram_wide_at"] >= s["holder_height"],
            "must not be less than the height of its foot",
        ),
        Rule(
            "ram_front",
            ("ram_back",),
            lambda s: s["ram_front"] > 0 and s["ram_front"] + s["ram_back"] > 1,
            "leaves the ram no depth",
        ),
        Rule(
            "bed_wide_at",
            ("table_height",),
            lambda s: s["bed_wide_at"] >= s["table_height"],
            "must not be less than the height of its top",
        ),
    ),
    made,
    picture,
    spans,
)

"""The fields of a guard."""

from ...fields import Choice, Count, Drawn, Field, Group, Length, Many, Size
from ..declared import dims, kind, outline, rim
from .edits import set_edge

MITRE, BYPASS = "mitre", "bypass"
CORNER_FIELDS = Group("corners", {
    "style": Choice("where edges lean together", (MITRE, BYPASS), default=MITRE, tried=True),
    "gap": Length("gap", label="Gap at the corners", default=0.5, least=0)}, thing="corners")

_OWN: dict[str, Field] = {
    "dims": dims("the outline is"), "outline": outline(60),
    "wrapped": Many("{n}. edge wrapped", Count(picked=True), least=2, most=2),
    "width": Size("width", label="Width, over the turned edges", needed=True),
    "front": rim("turned edge at the front", "in", "Width of the edge", thing="front"),
    "back": rim("turned edge at the back", "in", "Width of the edge", thing="back"), "corners": CORNER_FIELDS,
    "edges": Many("Edge {n}", Drawn("", put=set_edge), thing="edge-{n}"),
}
FIELDS = kind("guard", _OWN)

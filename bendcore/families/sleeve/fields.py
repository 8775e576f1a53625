"""The fields of a sleeve."""

from ...fields import Choice, Count, Field, Group, Length, Size
from ..declared import dims, kind, rim

LAP, BUTT, STANDING = "lap", "butt", "standing"
SEAM = Group("seam", {
    "kind": Choice("kind", (LAP, BUTT, STANDING), label="At the fourth corner", default=BUTT,
                   brings={LAP: ("lap",), STANDING: ("height",)}, drops=("hole", "holes"), tried=True),
    "gap": Length("gap", label="Gap at the corners", default=0.3, least=0),
    "lap": Length("flap", label="Flap, outside", start=15, over=0, grows=True, tried=True),
    "hole": Length("rivet holes", label="Rivet holes, 0 for none", default=0, least=0),
    "holes": Count("how many rivet holes", high=200, default=3),
    "height": Length("height", label="Height it stands out", start=12, over=0, grows=True, tried=True)}, thing="S")

_OWN: dict[str, Field] = {
    "dims": dims("the section is given"), "width": Size("width", needed=True), "height": Size("height", needed=True),
    "length": Length("length", needed=True, over=0, grows=True), "seam": SEAM,
    "start_flange": rim("flanges at the start", "out", "Flange width", thing="start"),
    "end_flange": rim("flanges at the end", "out", "Flange width", thing="end"),
}
FIELDS = kind("sleeve", _OWN)

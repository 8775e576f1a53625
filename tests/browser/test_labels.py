"""What is written on a drawing lies on nothing else that is written there."""

from bendcore.edits import added, new_part, toggled
from bendcore.families import FAMILIES
from bendcore.part import read_part
from dorvan.tickets.models import Ticket
from tests.browser.base import BrowserCase
from tests.core.panels import housing_file
from tests.core.plates import plate_file
from tests.core.trays import tray_file
from tests.often import IS_THOROUGH

COVERED = """
const boxes = (css) => [...document.querySelectorAll(css)].map((e) => e.getBoundingClientRect()).filter((b) => b.width);
return boxes(".tap").flatMap((t) => boxes("svg.drawing .hole").filter((h) =>
  Math.min(t.right, h.right) > 1 + Math.max(t.left, h.left) &&
  Math.min(t.bottom, h.bottom) > 1 + Math.max(t.top, h.top)).map((h) => [t.x, t.y, h.x, h.y]));
"""
"""Inputs that lie over an opening."""
CROSSED = """
const taps = [...document.querySelectorAll(".stage .tap")].map((e) => e.getBoundingClientRect()).filter((b) => b.width);
const edges = ".blank, .outline, .line.centre, .bends, .view-edge, .side-line";
return [...document.querySelectorAll(`svg.drawing :is(${edges})`)].flatMap((path) => {
  const place = path.getScreenCTM?.(), long = path.getTotalLength?.() ?? 0, met = [];
  for (let at = 0; place && long && at <= long; at += 3) {
    const { x, y } = path.getPointAtLength(at).matrixTransform(place);
    if (taps.some((t) => x > t.left + 1 && x < t.right - 1 && y > t.top + 1 && y < t.bottom - 1))
      met.push([path.className.baseVal, x, y]);
  }
  return met.slice(0, 2);
});
"""
"""Edges and bends of a flat, of a view or of a side that inputs lie on."""


class Labels(BrowserCase):
    def test_no_label_lies_on_another(self):
        """Of every family, in millimetres and on a tape, where it is shaped and where it is laid out."""
        rims = {"height": 60, "lip": {"width": 15, "direction": "in"}, "hem": {"length": 8, "gap": 0}}
        parts = [new_part(kind, units, kind) for kind in ("profile", "tray", "plate", "sleeve", "guard")
                 for units in ("mm", "in")]
        parts += [new_part(kind, "mm", kind) for kind, family in FAMILIES.items() if family.start and kind not in {
            part["shape"]["kind"] for part in parts}]
        parts += [tray_file(length=300, width=240, walls={side: rims for side in ("front", "right", "back", "left")},
                            corners={"style": "tab", "gap": 0.5, "tab": {"width": 15}}, cross_breaks={"rise": 4}),
                  plate_file(), housing_file()]
        parts.append(added(toggled(parts[0], "shape.start_hem", lambda: None), "shape.bends", lambda: None))
        for number, part in enumerate(parts, 20):
            read_part(part)
            Ticket.objects.create(number=number, brake=self.brake, made_by=self.user, part=part)
        step = 1 if IS_THOROUGH else 2
        for n, reading in enumerate(("mm", "32")):
            self.user.unit, self.user.tape = ("mm", 32) if reading == "mm" else ("in", 32)
            self.user.save()
            for number, part in list(enumerate(parts, 20))[n % step::step]:
                for page in ("", "layout/"):
                    self.go(f"/t/{number}/{page}")
                    self.wait(lambda: self.has("svg.drawing"))
                    met = self.overlapping("svg.drawing text, svg.drawing .tap")
                    self.assertEqual(met, [], (reading, part["shape"]["kind"], page))
                    covered = self.browser.execute_script(COVERED)
                    self.assertEqual(covered, [], (reading, part["shape"]["kind"], page))
                    crossed = self.browser.execute_script(CROSSED)
                    self.assertEqual(crossed, [], (reading, part["shape"]["kind"], page))

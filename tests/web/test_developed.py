"""Transitions and rolled work in the application: begun, changed, laid out, made, their pieces in a kit."""

import random
import re
import uuid
from collections import Counter

import shapely

from dorvan.brakes.models import Brake
from dorvan.floor.models import ShiftCheck
from dorvan.tickets.families import PAGES
from dorvan.tickets.models import Ticket
from tests.core.rolled import cone_file, random_rolled, rolled_file
from tests.core.samples import ROOT
from tests.core.sleeves import random_sleeve
from tests.core.transitions import random_square_to_round, random_transition, transition_file
from tests.web.base import ShopCase


def points(path: str) -> list[list[float]]:
    return [[float(number) for number in point.split(",")] for point in path.split("L")]


def is_square_to_its_axis(shape) -> bool:
    return not (any(shape.get(key) for key in ("large_tilt", "small_tilt", "start_tilt", "end_tilt"))
                or shape.get("top", {}).get("turn") or shape["kind"] == "elbow")


class Developed(ShopCase):
    def begin(self, family):
        self.client.post("/tickets/new/", {"name": family, "family": family})
        return Ticket.objects.latest("number")

    def edit(self, ticket, **form):
        return self.client.post(f"/t/{ticket.number}/change/", form, headers={"HX-Request": "true"})

    def test_each_family_goes_through_its_stages(self):
        for family in ("panels", "transition", "square-to-round", "cone", "tube", "elbow", "chain", "rib"):
            ticket = self.begin(family)
            for page in ("", "stock/", "proof/", "layout/", "order/", "bend/", "check/", "space/", "kit/",
                         "marking-out/", "folded/", "still.svg", "file/dxf/", "file/pdf/", "file/stl/", "file/glb/",
                         "file/model/"):
                self.assertEqual(self.client.get(f"/t/{ticket.number}/{page}").status_code, 200, (family, page))

    def test_sizes_stand_on_plan_and_elevation_to_scale_and_on_nothing_else(self):
        """Random parts of all kinds: every dimension line is as long as its size and begins on the part, and no input
        lies on another, on a body, on the flat, or off the stage."""
        rng, seen = random.Random(7), Counter()
        parts = [rolled_file(kind="elbow", diameter=90 + 40 * n, radius=200 + 10 * n, angle=30 * n, pieces=n + 2)
                 for n in range(1, 6)]
        parts += [make(rng) for _ in range(20) for make in (random_rolled, random_transition, random_square_to_round,
                                                              random_sleeve)]
        for number, data in enumerate(parts, 200):
            ticket = Ticket(number=number, part=data, made_by=self.bench)
            page = PAGES[ticket.kind].build(ticket, "mm")
            seen[ticket.kind] += 1
            self.stand_on_nothing(page, data)
            lines = [(float(x), float(y), way, float(end)) for x, y, way, end in
                     re.findall(r"M([\d.-]+),([\d.-]+)([HV])([\d.-]+)", page["dimensions"])]
            sizes = [float(one["value"]) for one in page["labels"]]
            self.assertEqual(len(lines), 3 * len(sizes))
            for (x, y, way, end), mm in zip(lines[2::3], sizes, strict=True):
                self.assertAlmostEqual(abs(end - (x if way == "H" else y)), page["scale"] * mm,
                                       delta=0.2 + page["scale"] * 0.06)
                self.assertLess(max(x, end if way == "H" else x), 445, data)
            if is_square_to_its_axis(data["shape"]):
                rim = shapely.union_all([shapely.LineString(points(ring)) for one in page["views"]
                                         for ring in re.findall(r"M([^MZ]+)", one["edges"])])
                begun = [shapely.Point(x, y) for n, (x, y, _, _) in enumerate(lines) if n % 3 < 2]
                self.assertLess(max(map(rim.distance, begun)), 5, data)
                seen["begun"] += len(begun)
        self.assertGreater(seen.pop("begun"), 60)
        self.assertEqual(set(seen), {"cone", "tube", "elbow", "transition", "square-to-round", "sleeve"})

    def stand_on_nothing(self, page, data):
        boxes = [shapely.box(one["left"], one["top"] - 16, one["left"] + one["wide"], one["top"] + 44)
                 for one in page["labels"]]
        metal = [shapely.Polygon(points(d[1:-1]))
                 for d in [page["view"]["outline"], *(d for one in page["views"] for d in one["bodies"])]]
        for n, one in enumerate(boxes):
            self.assertTrue(shapely.box(0, 0, 872, 600).contains(one), (data, page["labels"][n]["label"]))
            self.assertFalse(any(one.intersects(other) for other in [*boxes[:n], *metal]),
                             (data, page["labels"][n]["label"]))

    def test_the_layout_tells_how_to_prove_and_make_by_hand(self):
        Ticket.objects.create(number=8, part=transition_file(pieces=2, top_flange={"width": 12, "direction": "out"}),
                              made_by=self.bench)
        self.assertContains(self.client.get("/t/8/layout/"), "Prove the pattern with a block")

    def test_a_transition_is_changed_at_its_sizes_and_refused_at_its_field(self):
        ticket = self.begin("transition")
        self.assertContains(self.edit(ticket, field="shape.top.offset[0]", value="-35"), 'value="-35"')
        refused = self.edit(ticket, field="shape.height", value="0")
        self.assertContains(refused, "must be greater than 0", status_code=422)
        self.edit(ticket, action="toggle", field="shape.top_flange")
        self.assertContains(self.client.get(f"/t/{ticket.number}/"), "stand")
        ticket.refresh_from_db()
        self.assertEqual(ticket.part["shape"]["top_flange"]["direction"], "out")

    def test_transitions_are_released_bent_checked_and_practised_on_hand_brakes(self):
        out = {"width": 15, "direction": "out"}
        for number, (data, name) in enumerate(((transition_file(), "bench-bars"),
                                               (transition_file(pieces=2, top_flange=out), "leaf-2000")), 20):
            machine = Brake.objects.create(name=name, file=(ROOT / "demo" / f"{name}.json").read_text("utf-8"))
            ticket = Ticket.objects.create(number=number, part=data, brake=machine, made_by=self.bench)
            self.client.post(f"/t/{number}/release/")
            ShiftCheck.objects.create(brake=machine, looked_to=["all"], by=self.bench)
            for at, step in enumerate(ticket.revision.plan.steps, 1):
                reading = {"piece": 1, "step": at, "angle": f"{step.angle - 1:.1f}"}
                answer = self.client.post(f"/t/{number}/bend/record/", reading)
                self.assertEqual(answer.status_code, 302)
            sizes = {one.name: f"{one.nominal:.2f}" for one in ticket.figures.dimensions if one.unit != "tried"}
            self.client.post(f"/t/{number}/check/save/", {"piece": 1} | sizes)
            self.assertContains(self.client.get(f"/t/{number}/check/"), "✓ Good")
            self.assertEqual(self.client.post("/practice/begin/", {"ticket": number}).status_code, 302)
            self.client.post("/practice/bend/", {})
            self.client.post("/practice/look/", {"what": "shown"})
            self.assertContains(self.client.get("/practice/"), "What was hidden")

    def test_the_second_piece_follows_the_first(self):
        lead = Ticket.objects.create(number=8, part=transition_file(pieces=2), made_by=self.bench)
        self.client.post("/t/8/kit/add/", {"what": "mate:half", "each": "1"})
        piece = lead.pieces.get()
        self.edit(lead, field="shape.height", value="150")
        piece.refresh_from_db()
        self.assertEqual((piece.part["shape"]["piece"], piece.part["shape"]["height"]), (2, "150 mm"))

    def test_all_pieces_of_a_chain_come_at_once_and_follow_it(self):
        ticket = self.begin("chain")
        self.client.post(f"/t/{ticket.number}/kit/add/", {"what": "mates"})
        self.assertEqual([piece.part["shape"]["piece"] for piece in ticket.pieces.order_by("number")], [2, 3])
        self.client.post(f"/t/{ticket.number}/kit/add/", {"what": "mates"})
        self.assertEqual(ticket.pieces.count(), 2)
        before = ticket.pieces.first().figures.part.flat.size
        self.edit(ticket, field="shape.stations[1].turn", value="5")
        self.assertNotEqual(Ticket.objects.get(pk=ticket.pieces.first().pk).figures.part.flat.size, before)
        self.assertContains(self.client.get(f"/t/{ticket.pieces.last().number}/layout/"), "of 3, first end")
        refused = self.edit(ticket, field="shape.stations[1].turn", value="120")
        self.assertContains(refused, "too short for the turns", status_code=422)

    def test_a_rolled_piece_has_a_card_and_a_template_instead_of_an_order(self):
        Ticket.objects.create(number=9, part=cone_file(seam={"kind": "lap", "width": 8}), made_by=self.bench)
        page = self.client.get("/t/9/order/")
        for words in ("Making card", "hold the small end back", "Inside radius under load"):
            self.assertContains(page, words)
        self.assertIn("mm inside", self.client.get("/t/9/file/gauge/").content.decode())
        self.assertEqual(self.client.get("/t/7/file/gauge/").status_code, 302)
        self.assertContains(self.client.get("/t/9/layout/"), "<th scope=\"row\">330°</th>")

    def test_rolled_pieces_are_released_ticked_off_scrapped_and_checked(self):
        Ticket.objects.create(number=9, part=cone_file(), quantity=2, made_by=self.bench)
        self.assertEqual(self.client.post("/t/9/release/").status_code, 302)
        self.assertContains(self.client.get("/t/9/setup/"), "By its card")
        tick, key = "/t/9/bend/record/", str(uuid.uuid4())
        for _ in range(2):
            self.client.post(tick, {"piece": 1, "key": key})
        page = self.client.get("/t/9/bend/")
        self.assertContains(page, "Piece 2 of 2")
        self.assertContains(page, "piece 1 was rolled and is to be checked")
        self.client.post(tick, {"piece": 1, "what": "undone"})
        self.assertContains(self.client.get("/t/9/bend/"), "Piece 1 of 2")
        self.client.post(tick, {"piece": 1})
        self.client.post("/t/9/bend/log/", {"what": "scrapped", "piece": 1, "words": "rolled inside out"})
        for piece in (2, 3):
            self.client.post(tick, {"piece": piece})
        self.assertContains(self.client.get("/t/9/bend/"), "All rolled")
        self.client.post("/t/9/check/save/", {"piece": 2, "large": "180.3", "small": "80", "height": "120"})
        self.assertContains(self.client.get("/t/9/check/?piece=2"), "✓ Good")
        self.client.post("/t/9/check/save/", {"piece": 2, "large": "181"})
        page = self.client.get("/t/9/check/?piece=2")
        self.assertContains(page, "Out of tolerance")
        self.assertNotContains(page, "What it came from")
        for path in ("check/report.pdf", "check/report.csv", "log/", "log.csv"):
            self.assertEqual(self.client.get(f"/t/9/{path}").status_code, 200)
        self.assertEqual(self.client.post("/practice/begin/", {"ticket": "9"}).status_code, 422)

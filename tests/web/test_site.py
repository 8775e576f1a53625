"""Site sheets and the gate: what was measured moves the tickets that hang on it, and holds them until it is settled."""

import io
import itertools
import json
import math
import random
from datetime import date

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.test import SimpleTestCase
from PIL import Image

from dorvan.drawings.site import CLEAR, HEIGHT, SCALE, WIDTH, Words, put
from dorvan.site.models import Reading, Use, Visit
from dorvan.site.moving import present
from dorvan.tickets import gate
from dorvan.tickets.models import Hold, MockUp, Opened, Ticket
from dorvan.versions.doing import Moved
from tests.core.samples import ROOT
from tests.core.trays import tray_file
from tests.often import often
from tests.web.base import ShopCase


def crosses(line, room) -> bool:
    """Whether a line comes into a rectangle (left, top, right, bottom), by halving it: no more is asked of geometry
    than on which side a point is."""
    (x0, y0), (x1, y1) = line
    left, top, right, bottom = room
    if max(x0, x1) < left or min(x0, x1) > right or max(y0, y1) < top or min(y0, y1) > bottom:
        return False
    if left <= x0 <= right and top <= y0 <= bottom or math.dist(*line) < 0.05:
        return left <= x0 <= right and top <= y0 <= bottom
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    return crosses((middle, (x0, y0)), room) or crosses((middle, (x1, y1)), room)


def on_another(one, other) -> bool:
    return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]


class Sketched(SimpleTestCase):
    def drawn(self, strokes, told="251.0 mm"):
        """(words, where they were put, all lines) of a sketch, and that nothing is written off the page."""
        lines = [tuple((row[f"x{n}"] * SCALE, row[f"y{n}"] * SCALE) for n in "01") for row in strokes]
        words = [Words(*line, row["name"], told) for line, row in zip(lines, strokes, strict=True) if row.get("name")]
        found = [place.room.bounds for place in put(words, lines)]
        for left, top, right, bottom in found:
            self.assertTrue(left >= 0 and top >= 0 and right <= WIDTH and bottom <= HEIGHT)
        return words, found, lines

    def test_words_of_the_demos_sketch_lie_on_no_line_and_on_no_others(self):
        for site in json.loads((ROOT / "demo" / "site.json").read_text("utf-8")):
            _, found, lines = self.drawn(site["sketch"], "251.0; 250.5 mm")
            self.assertFalse([room for room in found if any(crosses(line, room) for line in lines)])
            self.assertFalse(any(on_another(*pair) for pair in itertools.combinations(found, 2)))

    def test_words_are_clear_wherever_there_is_a_place_for_them(self):
        rng, clear = random.Random(3), 0
        for _ in range(often(60)):
            strokes = []
            for n in range(rng.randint(2, 14)):
                x, y, long = rng.randint(4, 95), rng.randint(4, 65), rng.choice((6, 15, 40, -20, -33))
                along = rng.random() < 0.5
                strokes.append({"x0": x, "y0": y, "x1": min(99, max(1, x + long)) if along else x,
                                "y1": y if along else min(69, max(1, y + long)),
                                "name": rng.choice(("", f"height {n}"))})
            words, found, lines = self.drawn(strokes, rng.choice(("?", "64.25 mm", "251.0; 250.5; 250.75 mm")))
            for n, (own, room) in enumerate(zip(words, found, strict=True)):
                is_clear = not any(crosses(line, room) for line in lines) and not any(
                    on_another(room, other) for other in found[:n])
                clear += is_clear
                if is_clear:
                    continue
                for place in own.places():
                    left, top, right, bottom = place.room.bounds
                    wider = (left - CLEAR - 0.1, top - CLEAR - 0.1, right + CLEAR + 0.1, bottom + CLEAR + 0.1)
                    self.assertTrue(any(crosses(line, wider) for line in lines)
                                    or any(on_another(place.room.bounds, b) for b in found[:n]), (strokes, own))
        self.assertGreater(clear, often(60))


class SiteCase(ShopCase):
    def setUp(self):
        super().setUp()
        self.visit = Visit.objects.create(number=1, name="Shelf wall", on=date(2026, 6, 2), made_by=self.bench)
        self.tray = Ticket.objects.create(number=60, part=tray_file(), made_by=self.bench)

    def act(self, what, status=302, **form):
        answer = self.client.post("/site/1/act/", {"what": what} | form)
        self.assertEqual(answer.status_code, status, answer.content[:600])
        return answer

    def thing(self, name, kind="opening", *readings, **more):
        self.act("thing", name=name, kind=kind, **more)
        thing = self.visit.things.get(name=name)
        for reading in readings:
            self.act("reading", thing=thing.pk, reading=reading)
        return thing

    def rule(self, name, text):
        self.act("rule", name=name, text=text)
        return self.visit.rules.get(name=name)

    def length(self, number=60):
        return Ticket.objects.get(number=number).figures.part.shape.length.size


class Many(SiteCase):
    def test_readings_are_pasted_a_line_each_and_all_are_kept_or_none(self):
        niche, under, sides = (self.thing(name, kind) for name, kind in (
            ("niche", "opening"), ("niche depth", "length"), ("round it", "sides")))
        text = "niche: 310\nNiche depth 12.5 mm\n\nround it = 100; 80; 100; 80\nniche\t311\n"
        for bad, words in ((text + "door 4", "line 6 names nothing"), (text + "niche: wide", "line 6, niche"),
                           (text + "round it: 1; 2", "line 6, round it"), ("", "are none"),
                           ("niches 5", "names nothing"), (text + "niche 5\n" * 19, "too many of niche")):
            answer = self.act("readings", 422, readings=bad)
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, bad.splitlines()[0] if bad else "Paste or bring", status_code=422)
            self.assertEqual(Reading.objects.count(), 0)
        self.act("readings", readings=text)
        self.assertEqual([[one.values for one in thing.readings.all()] for thing in (niche, under, sides)],
                         [[[310], [311]], [[12.5]], [[100, 80, 100, 80]]])
        brought = SimpleUploadedFile("read.txt", b"niche 310.5\nround it 100; 81; 100; 80")
        self.act("readings", file=brought)
        self.assertEqual(niche.readings.count(), 3)
        page = self.client.get("/site/1/").content.decode()
        self.assertRegex(page, r"By keyboard</summary><label>x")  # points are asked of nobody who draws


class Sheets(SiteCase):
    def test_a_size_follows_from_two_readings_and_moves_again_with_a_third(self):
        niche = self.thing("niche", "opening", "310")
        self.thing("clearance", "given", "2")
        rule = self.rule("tray length", "niche less 2 × clearance")
        self.act("use", rule=rule.pk, ticket=60, field="length")
        before = self.length()
        page = self.client.get("/site/1/").content.decode()
        self.assertIn("needs a second reading", page)
        self.assertIn("niche needs a second reading", str(gate.shut(self.tray)[0].wanted))
        answer = self.client.post("/site/1/act/", {"what": "reading", "thing": niche.pk, "reading": "310.6"},
                                  follow=True)
        self.assertContains(answer, "T-0060")
        self.assertContains(answer, "niche (310.3 mm) less 2 × clearance (2.0 mm) = 306.3 mm")
        self.assertNotEqual(before, 306.3)
        self.assertAlmostEqual(self.length(), 306.3)
        self.assertEqual(Hold.objects.count(), 0)
        self.act("reading", thing=niche.pk, reading="314")
        self.assertAlmostEqual(self.length(), 306.3)  # the two that agree still stand
        first = niche.readings.first()
        self.act("strike", thing=niche.pk, reading=first.pk)
        self.assertContains(self.client.get("/site/1/"), "measure a third time")
        self.assertEqual(Reading.objects.get(pk=first.pk).struck_by, self.bench)
        self.assertEqual(Hold.objects.count(), 1)
        self.act("reading", thing=niche.pk, reading="313.8")
        self.assertAlmostEqual(self.length(), 309.9)
        self.tray.refresh_from_db()
        self.assertIn("measured: S-0001", self.tray.edits.last().note)

    def test_counts_and_angles_of_a_part_in_inches_stand_as_they_were_set(self):
        walls = {side: {"height": "2 in", "angle": 90} for side in ("left", "right", "front", "back")}
        corners = {"style": "tab", "gap": "1/64 in", "tab": {"width": "1/2 in", "hole": 0.125, "holes": 2}}
        part = tray_file(length="8 in", width="5 in", walls=walls, corners=corners) | {
            "units": "in", "inside_radius": "0.05 in", "stock": {"material": "mild-steel", "thickness": "0.04 in"}}
        ticket = Ticket.objects.create(number=61, part=part, made_by=self.bench)
        for field, now in (("corners.tab.holes", 2), ("walls.left.angle", 90), ("length", 203.2)):
            self.assertAlmostEqual(present(ticket, field), now)

    def test_a_reading_sent_twice_is_one(self):
        niche = self.thing("niche", "opening")
        for _ in range(2):
            self.act("reading", thing=niche.pk, reading="310", key="0b6a4e5e-0d4c-4a55-9d39-0d6b2f7a0001")
        self.assertEqual(niche.readings.count(), 1)
        self.act("reading", thing=niche.pk, reading="310", key="0b6a4e5e-0d4c-4a55-9d39-0d6b2f7a0002")
        self.assertEqual(niche.readings.count(), 2)

    def test_sides_in_fractions_and_a_part_still_to_come(self):
        self.bench.units = "in"
        self.bench.save()
        self.thing("side", "sides", "4 1/2; 3; 4 1/2; 3", "4 1/2; 3; 4 1/2; 3")
        tyre = self.thing("tyre", "width", "2", "2", awaits="the new wheel", until="2026-07-01")
        self.act("use", rule=self.rule("long", "half of perimeter of side plus tyre").pk, ticket=60, field="length")
        self.assertEqual(Hold.objects.get().until, date(2026, 7, 1))
        self.assertContains(self.client.get("/t/60/gate/"), "waits for the new wheel")
        self.act("waiting", thing=tyre.pk, awaits="", until="")
        self.assertAlmostEqual(self.length(), (15 / 2 + 2) * 25.4)

    def test_what_was_changed_by_hand_stands_until_it_is_taken_over_or_the_reading_changes(self):
        niche = self.thing("niche", "opening", "310", "310")
        other = self.thing("depth", "opening", "200", "200")
        use = self.act("use", rule=self.rule("long", "niche").pk, ticket=60, field="length") and Use.objects.get()
        self.client.post("/t/60/change/", {"field": "shape.length", "value": "280"})
        self.act("reading", thing=other.pk, reading="200.5")
        self.assertAlmostEqual(self.length(), 280)
        self.assertContains(self.client.get("/site/1/"), "stands otherwise there")
        self.act("take-over", use=use.pk)
        self.assertAlmostEqual(self.length(), 310)
        self.client.post("/t/60/change/", {"field": "shape.length", "value": "280"})
        for reading in niche.readings.all():
            self.act("strike", thing=niche.pk, reading=reading.pk)
        for text in ("312", "312"):
            self.act("reading", thing=niche.pk, reading=text)
        self.assertAlmostEqual(self.length(), 312)

    def test_random_readings_move_exactly_the_tickets_that_hang_on_them(self):
        rng = random.Random(16)
        things = {name: 0.0 for name in ("a", "b", "c", "d")}
        for name in things:
            things[name] = float(rng.randrange(150, 190))
            self.thing(name, "given", str(things[name]))
        terms, numbers = {}, range(70, 76)
        for n in numbers:
            Ticket.objects.create(number=n, part=tray_file(), made_by=self.bench)
            terms[n] = rng.sample(sorted(things), rng.randint(1, 2))
            rule = self.rule(f"long of {n}".replace(" of", ""), " plus ".join(terms[n]))
            self.act("use", rule=rule.pk, ticket=n, field="length")
        for _ in range(6):
            name = rng.choice(sorted(things))
            versions = dict(Ticket.objects.values_list("number", "version"))
            things[name] += rng.choice([-3, 2.5, 4])
            self.act("reading", thing=self.visit.things.get(name=name).pk, reading=f"{things[name]}")
            after = dict(Ticket.objects.values_list("number", "version"))
            self.assertEqual({n for n in numbers if after[n] != versions[n]}, {n for n in numbers if name in terms[n]})
            for n in numbers:
                self.assertAlmostEqual(self.length(n), sum(things[t] for t in terms[n]))

    def test_a_table_of_sizes_by_rules_makes_pieces_that_follow(self):
        low = self.thing("low niche", "opening", "150", "150")
        self.thing("high niche", "opening")
        self.act("sizes", ticket=60, table="name,count,length,width\nLow,3,low niche less 4,120\n"
                                           "High,2,high niche less 4,\n")
        pieces = {p.part["name"]: p for p in self.tray.pieces.all()}
        self.assertEqual({n: p.per_assembly for n, p in pieces.items()}, {"Low": 3, "High": 2})
        self.assertAlmostEqual(self.length(pieces["Low"].number), 146)
        self.assertEqual([hold.ticket for hold in Hold.objects.all()], [pieces["High"]])
        for text in ("152", "152"):
            self.act("reading", thing=low.pk, reading=text)
        for reading in low.readings.all()[:2]:
            self.act("strike", thing=low.pk, reading=reading.pk)
        self.assertAlmostEqual(self.length(pieces["Low"].number), 148)
        self.client.post("/t/60/change/", {"field": "shape.width", "value": "77"})
        again = Ticket.objects.get(pk=pieces["Low"].pk).figures.part.shape
        self.assertEqual((again.length.size, again.width.size), (148, 120))
        for table, words in (("name,length\na,no such niche", "row 2"), ("name,length\na,low niche\nb,4 /", "row 3"),
                             ("name,depth\na,low niche", "depth"), ("length\n4", "called name"),
                             ("name,length\nx,low niche less 149", "length")):
            rules = self.visit.rules.count()
            self.assertContains(self.act("sizes", 422, ticket=60, table=table), words, status_code=422)
            self.assertEqual(self.visit.rules.count(), rules)

    def test_what_cannot_be_is_refused_at_its_field_and_nothing_is_lost(self):
        niche = self.thing("niche", "opening", "310", "310")
        one = self.rule("one", "niche less 1")
        self.rule("two", "one less 1")
        for what, form, words in (
                ("thing", {"name": "niche", "kind": "width"}, "there already"),
                ("thing", {"name": "less", "kind": "width"}, "words? that rules use|word that rules use"),
                ("thing", {"name": "high", "kind": "tall"}, "one of"),
                ("thing", {"name": "high", "kind": "width", "until": "2026-07-01"}, "waits for"),
                ("reading", {"thing": niche.pk, "reading": "a lot"}, "not a length"),
                ("reading", {"thing": niche.pk, "reading": "-4"}, "greater than 0"),
                ("rule", {"name": "three", "text": "door less 1"}, "neither measured"),
                ("rule", {"rule": one.pk, "name": "one", "text": "two"}, "one hangs on two|two hangs on one"),
                ("rule", {"rule": one.pk, "name": "other", "text": "niche"}, "hangs on one"),
                ("forget-rule", {"rule": one.pk}, "two hangs on it"),
                ("forget-thing", {"thing": niche.pk}, "hangs on it"),
                ("use", {"rule": one.pk, "ticket": 60, "field": "depth"}, "no size"),
                ("picture", {}, "choose a picture"),
                ("stroke", {"kind": "edge", "x0": "1", "y0": "2", "x1": "999", "y1": "4"}, "from 0 to 100"),
                ("dance", {}, "must be one of")):
            page = self.act(what, 422, **form).content.decode()
            self.assertRegex(page, words)
        self.assertEqual(self.visit.rules.count(), 2)

    def test_rules_looked_over_while_somebody_changed_them_are_not_kept(self):
        self.thing("niche", "opening", "310", "310")
        read = Visit.objects.get(number=1)
        self.rule("one", "niche")
        with self.assertRaises(Moved), transaction.atomic():
            read.move_on(self.lead, [], "looked")
        self.assertEqual(Visit.objects.get(number=1).version, read.version + 1)

    def test_photographs_are_drawn_anew_and_the_sketch_is_drawn_and_rubbed_out(self):
        data = io.BytesIO()
        Image.new("RGB", (60, 40), "red").save(data, "PNG")
        data.seek(0)
        data.name = "wall.png"
        self.act("picture", photograph=data, caption="The wall")
        found = self.client.get(f"/site/1/photograph-{self.visit.pictures.get().pk}.jpg")
        self.assertEqual((found["Content-Type"], found.content[:2]), ("image/jpeg", b"\xff\xd8"))
        for bad in (b"no picture", b"\x89PNG" + b"\0" * 40):
            file = io.BytesIO(bad)
            file.name = "x.png"
            self.act("picture", 422, photograph=file)
        self.thing("niche", "opening", "310", "310")
        self.act("stroke", kind="edge", x0=1, y0=2, x1=60, y1=2)
        self.act("stroke", kind="dimension", name="niche", x0=1, y0=9, x1=60, y1=9)
        self.assertContains(self.client.get("/site/1/"), "310.0 mm</tspan>")
        self.act("rub-out", n=0)
        self.visit.refresh_from_db()
        self.assertEqual([row["kind"] for row in self.visit.sketch], ["dimension"])

    def test_a_rule_keeps_the_units_it_was_written_in_whoever_reads_it(self):
        self.thing("niche", "opening", "310", "310")
        rule = self.rule("long", "niche less 10")
        self.bench.units = "in"
        self.bench.save()
        page = self.client.get("/site/1/")
        self.assertContains(page, "bare numbers in mm")
        self.act("rule", rule=rule.pk, name="long", text="niche less 12", **{"in": "mm"})
        self.act("rule", name="other", text="niche less 1")
        values = self.visit.sheet().values
        self.assertAlmostEqual(values["long"].one, 298)
        self.assertAlmostEqual(values["other"].one, 310 - 25.4)

    def test_every_reading_is_handed_on_as_csv(self):
        self.thing("niche", "opening", "310", "12 1/4 in", to="inside")
        rows = self.client.get("/site/1/readings.csv").content.decode().splitlines()
        self.assertEqual(rows[2].split(",")[:7], ["niche", "opening", "inside", "12 1/4 in", "311.15", "mm", "bench"])


class Gate(SiteCase):
    def post(self, status=302, who=None, **form):
        self.client.force_login(who or self.bench)
        answer = self.client.post("/t/7/gate/act/", form)
        self.assertEqual(answer.status_code, status)
        return answer

    def names(self):
        return [point.name for point in gate.shut(Ticket.objects.get(number=7))]

    def test_each_kind_of_job_asks_for_its_own_and_points_close_one_by_one(self):
        self.post(what="job", job="fitted")
        self.assertEqual(self.names(), ["allowance", "order", "mock-up"])
        self.client.get("/t/7/order/")
        self.assertEqual(self.names(), ["allowance", "mock-up"])
        self.post(what="mock-up", note="card, goes in")
        self.assertEqual(self.names(), ["allowance"])
        self.assertContains(self.client.post("/t/7/release/"), "allowance from a proof bend", status_code=422)
        self.post(422, what="open", point="allowance", reason="we know it")
        self.post(422, self.lead, what="open", point="allowance", reason="")
        self.post(302, self.lead, what="open", point="allowance", reason="bent it last week")
        self.assertEqual(self.names(), [])
        self.assertContains(self.client.get("/t/7/gate/"), "bent it last week")
        self.assertEqual(self.client.post("/t/7/release/").status_code, 302)
        self.client.post("/t/7/change/", {"field": "shape.legs[0]", "value": "41"})
        self.assertEqual(self.names(), ["order", "mock-up"])  # both were for the part as it was
        self.assertEqual((MockUp.objects.count(), Opened.objects.count()), (1, 1))

    def test_an_opening_lasts_as_long_as_the_point_says_the_same(self):
        self.client.get("/t/7/order/")
        self.client.post("/t/7/kit/bought/", {"name": "Pins", "kind": "pieces", "amount": "4", "awaited": "on"})
        self.post(302, self.lead, what="open", point="arrived", reason="they come tomorrow")
        self.assertEqual(self.names(), [])
        self.client.post("/t/7/kit/bought/", {"name": "Cleats", "kind": "pieces", "amount": "2", "awaited": "on"})
        self.assertEqual(self.names(), ["arrived"])

    def test_one_word_does_for_a_whole_kit(self):
        Ticket.objects.filter(number=60).update(job="fitted")
        self.client.post("/t/60/kit/sizes/", {"table": "name,count,length\nLow,3,150\n"})
        piece = Ticket.objects.get(number=60).pieces.get()
        self.assertEqual(piece.job, "fitted")
        self.client.post("/t/60/gate/act/", {"what": "mock-up", "note": "card", "kit": "on"})
        self.assertEqual({row.ticket for row in MockUp.objects.all()}, {self.tray, piece})
        self.client.post("/t/60/gate/act/", {"what": "job", "job": "trial", "kit": "on"})
        piece.refresh_from_db()
        self.assertEqual((piece.job, gate.shut(piece)), ("trial", []))

    def test_what_is_held_stands_on_ticket_and_rack_and_keeps_the_release_shut(self):
        self.client.get("/t/7/order/")
        self.client.get("/t/7/card/")
        self.client.post("/t/7/kit/bought/", {"name": "Pins", "kind": "pieces", "amount": "4", "awaited": "on",
                                              "expected": "2026-07-02"})
        self.assertEqual(self.names(), ["arrived"])
        self.assertContains(self.client.get("/"), "parts to come")
        self.assertContains(self.client.get("/t/7/layout/"), "gate 1 open")
        self.assertContains(self.client.get("/t/7/gate/"), "Pins has not arrived, expected 2026-07-02")
        self.assertContains(self.client.post("/t/7/release/"), "gate is shut", status_code=422)
        self.client.post("/t/7/kit/bought/", {"arrived": Ticket.objects.get(number=7).bought_in.get().pk})
        self.assertEqual(self.names(), [])

    def test_a_lead_says_what_the_shop_asks_for(self):
        self.client.force_login(self.lead)
        self.client.post("/gate/ask/", {"asks": "1", "plain-order": "on", "plain-mock-up": "on"})
        self.assertEqual(self.names(), ["order", "mock-up"])
        self.assertContains(self.client.get("/gate/"), "checked", count=2)

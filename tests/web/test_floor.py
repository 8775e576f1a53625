"""At the brake: set-up and the look over it, run cards, what is undone, scrapped and sent twice, checks and causes."""

import csv
import io
import math
import uuid
from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from pypdf import PdfReader

from bendcore.part import read_part
from bendcore.schools.school import corrected
from dorvan.floor.history import events, times
from dorvan.floor.models import CheckSheet, Decision, LogEntry, ShiftCheck, StepRecord
from dorvan.floor.run import Progress
from dorvan.tickets.models import Ticket
from tests.core.samples import part_file
from tests.web.base import ShopCase


class Run(ShopCase):
    def setUp(self):
        super().setUp()
        self.revision = self.release()

    def tick(self, piece=1, step=1, **more):
        return self.client.post("/t/7/bend/record/", {"piece": piece, "step": step} | more)

    def entry(self, what, **more):
        return self.client.post("/t/7/bend/log/", {"what": what} | more)

    @property
    def run_now(self):
        return Progress(self.ticket.revision)

    def test_nothing_is_bent_before_the_brake_was_looked_over(self):
        ShiftCheck.objects.all().delete()
        self.assertContains(self.tick(), "has not been inspected this shift", status_code=422)
        self.assertFalse(StepRecord.objects.exists())
        form = {"brake": self.brake.pk, "point-0": "on"}
        self.assertContains(self.client.post("/t/7/setup/look-over/", form), "every point", status_code=422)
        form |= {f"point-{n}": "on" for n in range(9)}
        self.assertEqual(self.client.post("/t/7/setup/look-over/", form).status_code, 302)
        self.assertContains(self.client.get("/t/7/setup/"), "by bench")
        self.assertEqual(self.tick().status_code, 302)

    def test_only_those_named_may_use_a_brake(self):
        self.brake.hands.add(self.lead)
        self.assertContains(self.tick(), "You are not among those", status_code=422)
        self.assertContains(self.client.get("/t/7/setup/"), "You are not among those")
        self.client.force_login(self.lead)
        self.assertEqual(self.tick().status_code, 302)
        self.client.post(f"/brakes/{self.brake.pk}/hands/", {"hand": [self.bench.pk, "²"]})
        self.assertEqual(list(self.brake.hands.all()), [self.bench])

    def test_what_is_sent_twice_is_kept_once(self):
        key = str(uuid.uuid4())
        for _ in range(3):
            self.assertEqual(self.tick(key=key, angle="89").status_code, 302)
        self.tick(key="no key", angle="89")
        self.assertEqual(StepRecord.objects.count(), 2)
        for _ in range(2):
            self.entry("paused", key=key)
        self.assertEqual(LogEntry.objects.count(), 1)

    def test_a_step_undone_is_open_again_and_its_reading_counts_no_more(self):
        self.tick(angle="87")
        self.assertContains(self.client.get("/t/7/bend/?piece=1&step=2"), "further")
        self.tick(what="undone")
        page = self.client.get("/t/7/bend/?piece=1&step=2")
        self.assertNotContains(page, "further</span>")
        self.assertNotContains(page, "▲ Corrected")
        self.assertEqual((StepRecord.objects.count(), self.run_now.done), (2, {}))

    def test_a_scrapped_piece_is_made_again_and_says_why(self):
        self.assertContains(self.entry("scrapped", piece=1), "must say why", status_code=422)
        self.entry("scrapped", piece=1, words="bent on the wrong line")
        run = self.run_now
        self.assertEqual((run.at, run.needed, run.good), (2, 4, 0))
        self.assertContains(self.client.get("/t/7/bend/"), "Piece 2 of 4")
        for step in range(1, len(run.steps) + 1):
            self.tick(piece=2, step=step)
        self.assertEqual(self.run_now.good, 1)

    def test_a_trial_strip_corrects_the_first_piece_and_is_none(self):
        page = self.client.get("/t/7/bend/?piece=0&step=1")
        self.assertContains(page, "Trial strip")
        self.tick(piece=0, angle="88")
        self.tick(piece=0, angle="89.9")  # with what was corrected in force
        run = self.run_now
        self.assertEqual((run.at, run.good), (1, 0))
        first, = {round(r.further, 2) for r in run.records[1:]}
        self.assertTrue(1.8 < first < 2.0, first)
        self.assertTrue(1.8 < run.now(1, 1).degrees < 2.2, run.now(1, 1))

    def test_a_jogged_stroke_corrects_nothing(self):
        self.tick(angle="86", jogged="on")
        self.assertEqual(self.run_now.now(2, 1).degrees, 0)

    def test_a_run_is_paused_handed_over_and_closed_but_not_with_a_guard_muted(self):
        self.entry("paused", words="lunch")
        self.assertContains(self.client.get("/t/7/bend/"), "Paused")
        self.entry("resumed")
        self.assertNotContains(self.client.get("/t/7/bend/"), "▲ Paused")
        self.assertContains(self.entry("guard muted"), "must say why", status_code=422)
        self.entry("guard muted", step=2, words="walls of a box")
        self.assertContains(self.entry("closed"), "guard is muted", status_code=422)
        self.entry("guard restored", step=2)
        self.entry("closed")
        self.assertIsNotNone(self.run_now.closed)
        self.tick()
        self.assertIsNone(self.run_now.closed)
        self.assertEqual(self.entry("whatever").status_code, 422)

    def test_a_run_begins_with_what_the_last_one_on_the_brake_showed(self):
        """The stop stood off by 0.4 mm on two pieces: so it does for the next job, and that is said; another lot's
        springback does not carry over."""
        ties = self.run_now.ties
        offset = next(s for s in ties.lasting if s[0] == "stop-offset")
        for piece in (1, 2):
            for step, row in enumerate(self.run_now.steps, 1):
                leg = ties.gauged[step - 1]
                now = self.run_now.now(piece, step)
                size = ties.dimensions[leg].nominal + 0.4 * ties.effect(leg, offset) + (
                    now.back * ties.back(leg, step - 1))
                self.tick(piece, step, angle=f"{row.angle - 1.5 + now.degrees:.2f}", leg=f"{size:.3f}", leg_name=leg)
        Ticket.objects.create(number=8, part=part_file([40, 50, 35]), brake=self.brake, punch="Straight 85", die="V 8",
                              quantity=2, made_by=self.bench)
        self.assertEqual(self.client.post("/t/8/release/").status_code, 302)
        run = Progress(Ticket.objects.get(number=8).revision)
        moved = sum(run.now(1, n + 1).back * run.ties.back(leg, n) for n, leg in run.ties.gauged.items())
        wanted = -0.4 * sum(run.ties.effect(leg, s) for leg in run.ties.gauged.values() for s in [offset])
        self.assertTrue(0.6 < moved / wanted < 1.3, (moved, wanted))
        self.assertLess(abs(run.now(1, 1).degrees), 0.8)
        self.assertEqual(run.before.differs, ("another lot, or none named",))
        self.assertContains(self.client.get("/t/8/bend/"), "Begins with what T-0007 showed")

    def test_a_structural_part_says_that_its_strength_is_not_judged(self):
        for on, often in (("on", 1), ("", 0)):
            self.client.post("/t/7/setup/structural/", {"structural": on})
            for page in ("setup", "bend", "check"):
                self.assertContains(self.client.get(f"/t/7/{page}/"), "does not judge its strength", often)

    def test_readings_from_before_settings_were_kept_correct_nothing(self):
        self.tick(angle="85")
        StepRecord.objects.update(further=None)
        self.assertEqual(self.run_now.now(2, 1).degrees, 0)


    def test_closing_asks_why_a_piece_that_is_due_was_not_checked(self):
        for step in range(1, len(self.run_now.steps) + 1):
            self.tick(step=step)
        self.assertContains(self.client.get("/t/7/bend/?piece=2"), "Check first")
        refused = self.entry("closed")
        self.assertContains(refused, "piece 1 was not checked", status_code=422)
        self.entry("closed", words="the customer waits")
        self.assertIsNotNone(self.run_now.closed)

    def test_what_is_noted_for_next_time_is_said_at_the_next_revision_too(self):
        self.assertContains(self.entry("next time"), "must say what", status_code=422)
        self.entry("next time", words="lower the stop by a washer")
        self.change(field="shape.width", value="310")
        self.release()
        self.assertContains(self.client.get("/t/7/bend/"), "lower the stop by a washer")

    def test_an_angle_that_wanders_is_told_before_it_is_out(self):
        for piece, angle in enumerate(("90.1", "90.2", "90.3", "90.4", "90.5"), 1):
            self.assertNotContains(self.client.get(f"/t/7/bend/?piece={piece}&step=1"), "It drifts")
            self.tick(piece=piece, angle=angle)
            Ticket.objects.update(quantity=9)
        self.assertContains(self.client.get("/t/7/bend/?piece=6&step=1"), "out of tolerance in about")

    def test_the_log_says_all_that_happened_and_how_long_it_took(self):
        """Set-up 10 min, the first piece 6, the second 9 with what came before a pause; the pause not."""
        steps = range(1, len(self.run_now.steps) + 1)
        for piece in (1, 2):
            for step in steps:
                self.tick(piece, step, angle="90")
        self.entry("paused", words="=SUM(lunch)")
        self.client.post("/t/7/check/save/", {"piece": 1, "L1": "30"})
        begun = self.revision.at
        rows = list(StepRecord.objects.order_by("id"))
        for row, minutes in zip(rows, (10, 16, 20, 24), strict=True):
            StepRecord.objects.filter(pk=row.pk).update(at=begun + timedelta(minutes=minutes))
        LogEntry.objects.update(at=begun + timedelta(minutes=25))
        CheckSheet.objects.update(at=begun + timedelta(minutes=29))
        spent = {stage: took.total_seconds() / 60 for stage, took in times(events(self.ticket.revision)).items()}
        self.assertEqual(spent, {"set-up": 10, "first piece": 6, "batch": 9})
        page = self.client.get("/t/7/log/").content.decode()
        for words in ("Released", "Bent", "Paused", "Checked", "<td>9 min</td>"):
            self.assertIn(words, page)
        kept = list(csv.reader(self.client.get("/t/7/log.csv").content.decode().splitlines()))
        self.assertEqual([row[2] for row in kept], ["what", "released", *["bent"] * 4, "paused", "checked"])
        self.assertEqual(kept[6][5], "'=SUM(lunch)")
        self.assertIn("angle 90.000", kept[2][6])

    def test_the_card_shows_the_part_before_and_after_as_pictures(self):
        pictures = [self.client.get(f"/t/7/bend/1/{when}.svg").content.decode() for when in ("before", "after")]
        self.assertTrue(all(one.startswith("<svg") and one.count("<path") > 20 for one in pictures))
        self.assertNotEqual(*pictures)
        self.assertContains(self.client.get("/t/7/bend/"), "/t/7/bend/1/before.svg?of=a")


class Checks(ShopCase):
    def setUp(self):
        super().setUp()
        self.release()

    def save(self, **form):
        return self.client.post("/t/7/check/save/", {"piece": 1} | form)

    def test_a_wrong_stop_is_named_with_its_correction_and_a_decision_is_kept(self):
        ties = Progress(self.ticket.revision).ties
        offset = next(s for s in ties.lasting if s[0] == "stop-offset")
        sizes = {leg: one.nominal + 0.5 * ties.effect(leg, offset) for leg, one in ties.dimensions.items()
                 if leg in ("L1", "L2", "L3")}
        self.save(**{leg: f"{size:.2f}" for leg, size in sizes.items()},
                  **{f"{leg}~1": f"{size:.2f}" for leg, size in sizes.items()},
                  B1="90", B2="90", **{"blank~L1": f"{ties.rows[0].long:.2f}"})
        page = self.client.get("/t/7/check/")
        self.assertContains(page, "stands off, every bend alike")
        self.assertContains(page, "Out of tolerance")
        sheet = CheckSheet.objects.get()
        self.assertEqual(set(sheet.blank), {"L1"})
        where = f"/t/7/check/{sheet.pk}/decide/"
        self.assertContains(self.client.post(where, {"what": "save"}), "must say why", status_code=422)
        self.client.post(where, {"what": "save", "words": "trimmed"})
        self.assertEqual(Decision.objects.get().what, "save")
        self.assertContains(self.client.get("/t/7/check/"), "“trimmed”")

    def test_a_closing_leg_that_is_long_asks_for_a_lower_k(self):
        """All gauged legs right, and the last one long: what the bends took less of the blank, it has; BA falls with
        K."""
        ties = Progress(self.ticket.revision).ties
        leg, = ties.closes_on
        for over in (0.6, -0.6):
            sizes = {name: f"{one.nominal + (over if name == leg else 0):.2f}" for name, one in
                     ties.dimensions.items() if name in ("L1", "L2", "L3")}
            self.save(**sizes, **{f"{name}~1": size for name, size in sizes.items()}, B1="90", B2="90",
                      **{"blank~L1": f"{ties.rows[0].long:.2f}"})
            k = Progress(self.ticket.revision).k_for_blank
            self.assertEqual(k < 0, over > 0, (over, k))
            if over > 0:
                self.assertEqual(self.client.post("/t/7/check/take-k/").status_code, 302)
                taken = Ticket.objects.get(number=7).part["allowance"]
                self.assertAlmostEqual(taken["k"], 0.42 + k, 3)
                self.assertEqual(self.ticket.revision.part["allowance"]["k"], 0.42)
            CheckSheet.objects.all().delete()
        self.assertEqual(self.client.post("/t/7/check/take-k/").status_code, 404)
        self.save(L1="30", B1="90")
        self.assertEqual(Progress(self.ticket.revision).k_for_blank is None, leg != "L1")

    def test_what_is_learnt_is_added_to_each_bends_own_k(self):
        """Bends of unlike radii by DIN: taken over with nothing to correct the blank stays, and a correction moves each
        bend by its own angle."""
        part = part_file([30, 60, 30], [(90, "up"), (60, "up")]) | {"allowance": {"method": "din6935"}}
        part["shape"]["bends"][1]["inside_radius"] = 4
        before = read_part(part).flat.size[0]
        self.assertAlmostEqual(read_part(part | {"allowance": corrected(part["allowance"], 0.0)}).flat.size[0], before)
        more = read_part(part | {"allowance": corrected(part["allowance"], 0.02)}).flat.size[0]
        self.assertAlmostEqual(more - before, (math.pi / 2 + math.pi / 3) * 0.02 * 1.0, 9)
        self.assertIn("ΔK", read_part(part | {"allowance": corrected(part["allowance"], 0.02)}).school.formula)

    def test_a_piece_measured_again_replaces_its_sheet(self):
        leg, = Progress(self.ticket.revision).ties.closes_on
        sizes = {"L1": "30", "L2": "60", "L3": "30"}
        for over in ("0.4", "0"):
            form = {**sizes, leg: f"{float(sizes[leg]) + float(over)}", "B1": "90", "B2": "90"}
            self.save(**form, **{f"{name}~1": form[name] for name in sizes},
                      **{"blank~L1": f"{Progress(self.ticket.revision).ties.rows[0].long:.2f}"})
        run = Progress(self.ticket.revision)
        self.assertLess(abs(run.k_for_blank), 0.01)
        self.assertEqual((len(run.checked), CheckSheet.objects.count()), (1, 2))
        page = self.client.get("/t/7/check/")
        self.assertContains(page, "<s>Piece 1 out")
        rows = list(csv.reader(self.client.get("/t/7/check/report.csv").content.decode().splitlines()))
        self.assertEqual({row[-1] for row in rows[1:6]}, {"no"})
        self.assertEqual({row[-1] for row in rows[6:]}, {"yes"})

    def test_a_reading_in_inches_is_asked_about_at_its_field_and_can_be_answered(self):
        page = self.save(L1="1.18", B1="9")
        self.assertContains(page, "Was it read in inches", status_code=422)
        self.assertContains(page, 'name="answer~L1" value="29.97"', status_code=422)
        self.assertContains(page, "a digit is left out", status_code=422)
        self.assertFalse(CheckSheet.objects.exists())
        self.save(**{"L1": "1.18", "answer~L1": "29.97", "B1": "9", "answer~B1": "so"})
        sheet = CheckSheet.objects.get()
        self.assertEqual(([row.measured for row in sheet.measured], sheet.sure), ([29.97, 9.0], ["B1"]))

    def test_a_card_asks_about_a_reading_and_moves_nothing_it_cannot(self):
        def tick(**more):
            return self.client.post("/t/7/bend/record/", {"piece": 1, "step": 1} | more)
        self.assertContains(tick(angle="9"), "a digit is left out", status_code=422)
        self.assertFalse(StepRecord.objects.exists())
        self.assertEqual(tick(angle="9", **{"answer~angle": "so"}).status_code, 302)
        self.client.post("/t/7/bend/record/", {"piece": 1, "step": 2})
        page = self.client.get("/t/7/bend/?piece=2&step=1")
        self.assertContains(page, "▲ Not moved")
        self.assertEqual(Progress(self.ticket.revision).now(2, 1).degrees, 0)
        StepRecord.objects.all().delete()
        self.assertEqual(tick(angle="9", **{"answer~angle": "88"}).status_code, 302)
        self.assertEqual(StepRecord.objects.get().angle, 88)

    def test_readings_elsewhere_are_kept_with_the_first_and_judged_with_it(self):
        self.save(**{"L1": "30.1", "L1~1": "31", "B1": "90", "B1~1": "90.4", "B1~2": "89.9"})
        row, angle = CheckSheet.objects.get().measured
        self.assertEqual((row.others, row.verdict, angle.others, angle.verdict), ((31.0,), "out", (90.4, 89.9), "good"))
        for form, field in (({"L2~1": "60"}, "L2"), ({"B2": "90", "B2~2": "90"}, "B2~1"),
                            ({"blank~L1": "-1"}, "blank~L1")):
            self.assertContains(self.save(**form), f'id="e-{field}"', status_code=422)

    def test_what_is_tried_is_yes_or_no(self):
        self.save(turned="yes", L1="30")
        row = CheckSheet.objects.get().measured[-1]
        self.assertEqual((row.verdict, row.dimension.unit), ("good", "tried"))
        self.save(turned="no")
        self.assertContains(self.client.get("/t/7/check/"), "Out of tolerance")
        self.assertContains(self.save(turned="perhaps"), "must be yes or no", status_code=422)

    def test_photographs_lie_beside_their_sheet(self):
        self.save(L1="30")
        sheet = CheckSheet.objects.get()
        where = f"/t/7/check/{sheet.pk}/photograph/"
        self.assertContains(self.client.post(where), "choose a picture first", status_code=422)
        bad = SimpleUploadedFile("a.png", b"no picture")
        self.assertContains(self.client.post(where, {"photograph": bad}), "is no picture", status_code=422)
        file = io.BytesIO()
        Image.new("RGB", (3000, 900), "white").save(file, "PNG")
        self.client.post(where, {"photograph": SimpleUploadedFile("a.png", file.getvalue())})
        address = f"/t/7/check/photograph/{sheet.photographs.get().pk}/"
        self.assertContains(self.client.get("/t/7/check/"), address)
        kept = Image.open(io.BytesIO(self.client.get(address).content))
        self.assertEqual((kept.format, max(kept.size)), ("JPEG", 1400))

    def test_a_size_that_wanders_over_the_batch_is_told(self):
        Ticket.objects.update(quantity=20)
        for piece, size in enumerate((30.0, 30.03, 30.06, 30.1, 30.12), 1):
            self.save(piece=piece, L1=f"{size}", L2="60")
        page = " ".join(self.client.get("/t/7/check/?piece=5").content.decode().split())
        self.assertIn("and is out in about 3 pieces", page)
        self.assertEqual(page.count("it wanders"), 1)

    def test_the_report_reads_back(self):
        self.save(L1="30.1", **{"L1~1": "30.2"})
        rows = list(csv.reader(self.client.get("/t/7/check/report.csv").content.decode().splitlines()))
        self.assertEqual(rows[1][:7], ["1", "Leg L1, outside", "mm", "30.000", "0.200", "30.100", "30.200"])
        self.save(piece=2, L1="33", B1="90", **{"answer~L1": "so"})
        pages = [page.extract_text() for page in PdfReader(io.BytesIO(
            self.client.get("/t/7/check/report.pdf").content)).pages]
        self.assertIn("30.1 mm; 30.2 mm", pages[0])
        self.assertTrue("OUT" in pages[1] and "out of tolerance" in pages[1] and "Measured by bench" in pages[1])

    def test_which_pieces_are_due(self):
        self.assertContains(self.client.get("/t/7/check/"), "pieces 1, 3")
        self.save(L1="30")
        self.assertContains(self.client.get("/t/7/check/"), "To be checked: piece 3.")

"""What once answered "went wrong", or kept what was no longer so."""

import importlib
import json
import re
from itertools import islice, product
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import TransactionTestCase, override_settings
from django.test.utils import CaptureQueriesContext

from bendcore.fields import walk
from bendcore.formats.export import export
from bendcore.part import read_part
from bendcore.part_file import declared
from dorvan.brakes.models import Brake
from dorvan.ledger.models import Pair, Sample
from dorvan.people.models import User
from dorvan.tickets.file.actions import ACTIONS
from dorvan.tickets.models import Ticket, write
from dorvan.versions.doing import Moved
from tests.core.guards import guard_file
from tests.core.plates import plate_file
from tests.core.samples import ROOT, part_file, press_file
from tests.core.trays import tray_file
from tests.often import IS_THOROUGH
from tests.web.base import PLAIN_STATIC, ShopCase

EACH = 3 if IS_THOROUGH else 6
"""Of actions one in so many is tried at each field."""
FAMILIES = {"profile": part_file(), "tray": tray_file(), "plate": plate_file(), "guard": guard_file()}


class Released(ShopCase):
    def test_a_run_card_is_of_what_was_released_whatever_the_part_has_become(self):
        self.release()
        self.ticket.refresh_from_db()
        self.ticket.change(tray_file(), "a tray now", self.bench)
        page = self.client.get("/t/7/bend/")
        self.assertContains(page, "to the stop")
        self.assertContains(page, "Release the next revision")

    def test_another_order_tool_or_brake_makes_a_released_ticket_open_again(self):
        other = Brake.objects.create(name="other", file=self.brake.file.replace("60 t press brake", "other"))
        for n, change in enumerate(({"bend_order": ["B2", "B1"]}, {"die": "V 6"},
                                    {"brake_id": other.pk, "punch": "", "die": ""},
                                    {"bend_order": ["B1", "B2"]})):
            revision = self.release()
            self.assertTrue(Ticket.objects.get(number=7).is_released)
            self.ticket.refresh_from_db()
            self.ticket.change(None, "another", self.bench, **change)
            self.assertFalse(Ticket.objects.get(number=7).is_released, change)
            self.release()
            again = Ticket.objects.get(number=7).revision
            self.assertEqual((again.letter, again.pk != revision.pk), (chr(98 + n), True))
            if "bend_order" in change:
                self.assertEqual([s["bends"][0] for s in again.order["steps"]], change["bend_order"])
        self.assertEqual(self.client.post("/t/7/release/").status_code, 302)
        self.assertEqual(self.ticket.revisions.count(), 5)  # nothing changed since: no revision more

    def test_a_strip_whose_zone_runs_through_a_leg_is_drawn_in_every_view(self):
        rolled = part_file([40, 20, 40, 20, 40], [(90, "up")] * 4)
        Ticket.objects.create(number=8, part=rolled, brake=self.brake, made_by=self.bench)
        conflicts = Ticket.objects.get(number=8).figures.in_conflict
        self.assertTrue(conflicts & {"bend B1", "bend B2", "bend B3", "bend B4"}, conflicts)
        for stage in ("", "layout/", "space/", "folded/", "still.svg"):
            self.assertEqual(self.client.get(f"/t/8/{stage}").status_code, 200, stage)
        meshed = {name for name, *_ in self.client.get("/t/8/folded/").json()["faces"]}
        self.assertLessEqual({name for name in conflicts if not name.startswith("bend ")}, meshed)

    def test_looking_at_a_ticket_writes_nothing(self):
        ticket = Ticket.objects.get(number=7)
        with CaptureQueriesContext(connection) as asked:
            self.assertTrue(ticket.ordered.feasible and ticket.reached() and ticket.figures.notices is not None)
        self.assertEqual([q["sql"] for q in asked if not q["sql"].startswith("SELECT")], [])

    def test_a_finished_piece_measured_inside_counts_by_its_outside(self):
        """K from a piece of two bends, 90°: BA = 2·OSSB − (Σ outside legs − blank)/2, whatever way it was measured."""
        self.ticket.change(part_file(dims="inside"), "inside", self.bench)
        self.release()
        inside = {"L1": 30.0, "L2": 60.0, "L3": 30.0}
        outside = sum(inside.values()) + 4 * 1.0  # t·tan 45° at each of four bent ends
        blank = 117.5
        self.client.post("/t/7/sample/save/", {"blank": blank, "inside_radius": 1.2, "thickness": 1.0, "angle": 90}
                         | {name: str(size) for name, size in inside.items()})
        k = ((2 * 2.2 - (outside - blank) / 2) / (3.141592653589793 / 2) - 1.2) / 1.0
        self.assertAlmostEqual(Sample.objects.get().core.proof.k, k, 6)


class Kept(ShopCase):
    def test_a_guards_corner_that_another_added_is_seen_before_ones_own_change(self):
        guard = guard_file()
        del guard["shape"]["wrapped"]  # all round: a corner more changes nothing else
        self.ticket.change(guard, "guard", self.bench)
        seen = Ticket.objects.get(number=7).stamp
        self.change(action="add", field="shape.outline", index="2")
        for field in ("shape.outline[3][0]", "shape.edges[1]"):  # an edge is none of the file's own fields
            self.change(409, field=field, value="95", seen=seen)

    def test_two_changes_at_once_are_both_kept(self):
        """What was worked out on a ticket that moved meanwhile is worked out again on the ticket as it is."""
        once = []

        def late(*edits):
            if not once:
                once.append(1)
                Ticket.objects.get(number=7).change(None, "theirs", self.lead, quantity=9)
            return write(*edits)

        with mock.patch("dorvan.tickets.models.ticket.write", late):
            self.change(field="name", value="Mine")
        self.assertEqual((self.ticket.name, self.ticket.quantity), ("Mine", 9))
        self.assertEqual(list(self.ticket.edits.values_list("place", flat=True)), [0, 1, 2])
        stale = Ticket.objects.get(number=7)
        Ticket.objects.get(number=7).change(None, "theirs", self.lead, quantity=11)
        with self.assertRaises(Moved):
            stale.change(None, "stale", self.bench, quantity=12)
        self.assertEqual(Ticket.objects.get(number=7).quantity, 11)


class Asked(ShopCase):
    def test_actions_of_another_family_and_places_that_are_none_are_refused(self):
        for n, (kind, part) in enumerate(FAMILIES.items()):
            self.ticket.refresh_from_db()
            self.ticket.change(part, kind, self.bench)
            some = product(ACTIONS, ("", "²", "9" * 30, "1" * 5000, "0.²"),
                           ("shape.outline", "shape.holes[{}]", "shape.walls.left", "²", "shape.kind"))
            for action, index, field in islice(some, n, None, len(FAMILIES)):  # the fuzzer sends them all
                field = field.format(index)
                answer = self.client.post("/t/7/change/", {"action": action, "index": index, "field": field,
                                                           "side": "x", "value": "²"})
                self.assertIn(answer.status_code, (200, 422), (kind, action, field, index[:9]))
            for key in ("quantity", "brake", "lot", "nose", "shim", "slip", "die", "punch"):
                for value in ("²", "9" * 30, "1" * 5000, "-1", "x"):
                    answer = self.client.post("/t/7/set-up/", {key: value})
                    self.assertIn(answer.status_code, (200, 404, 422), (kind, key, value[:9]))
        self.assertEqual(self.client.get("/t/999999999999999999999999999999/").status_code, 404)

    def test_every_action_on_a_part_that_has_nothing_yet(self):
        plate = plate_file()
        bare = {"kind": "plate", "outline": plate["shape"]["outline"]}
        for part in (plate | {"shape": bare}, part_file([60], []), guard_file()):
            kind, places = part["shape"]["kind"], ("0", "1", "9999")
            for n, (path, field) in enumerate(walk(declared(kind))):
                Ticket.objects.filter(number=7).update(part=part)
                some = product(("set", "toggle", "add", "remove"), places if "[]" in path else "0")
                for action, place in islice(some, n % EACH, None, EACH):
                    answer = self.client.post("/t/7/change/", {
                        "action": action, "field": path.replace("[]", f"[{place}]"), "index": place, "value": "1"})
                    self.assertIn(answer.status_code, (200, 422), (kind, action, path, field))

    def test_a_part_without_a_bend_has_a_proof_page(self):
        for part in (part_file([60], []), plate_file(flanges=[])):
            self.ticket.refresh_from_db()
            self.ticket.change(part, "bare", self.bench)
            self.assertContains(self.client.get("/t/7/proof/"), "The blank is the part as drawn")
            self.assertEqual(self.client.post("/proofs/begin/", {"ticket": "7"}).status_code, 302)

    def test_what_is_added_stands_clear_of_what_is_there(self):
        for part, field in ((plate_file(), "holes"), (plate_file(), "slots"), (tray_file(), "holes"),
                            (plate_file(), "flanges[0].holes")):
            self.ticket.refresh_from_db()
            self.ticket.change(part, "anew", self.bench)
            for _ in range(4):
                self.change(action="add", field=f"shape.{field}")
            for page in ("folded/", "still.svg", "file/stl/", "file/glb/", "file/dxf/"):
                self.assertEqual(self.client.get(f"/t/7/{page}").status_code, 200)
            self.assertEqual(len(self.ticket.figures.part.flat.holes), 4)
        crowded = plate_file(outline=[[0, 0], [20, 0], [20, 9], [0, 9]], flanges=[])
        self.ticket.change(crowded, "small", self.bench)
        form = {"action": "add", "field": "shape.holes"}
        answers = {self.client.post("/t/7/change/", form).status_code for _ in range(40)}
        self.assertEqual(answers, {200, 422})


class TheRack(ShopCase):
    def test_it_comes_in_pages_and_works_nothing_out(self):
        Ticket.objects.bulk_create(Ticket(number=n, part=part_file(), made_by=self.bench) for n in range(100, 160))
        told = AssertionError("worked out for a list")
        with mock.patch("dorvan.tickets.results.derived.read_part", side_effect=told), \
                mock.patch("dorvan.tickets.results.derived._figures", side_effect=told):
            page = self.client.get("/")
            self.assertContains(page, "1 to 24 of 61 tickets")
            self.assertContains(page, 'hx-get="/t/159/card/"')
            self.assertContains(self.client.get("/?page=3"), "49 to 61 of 61")
            self.assertContains(self.client.get("/?page=²"), "1 to 24")
        self.assertContains(self.client.get("/t/159/card/"), "Next: Choose stock and tool")
        self.assertNotContains(self.client.get("/"), 'hx-get="/t/159/card/"')
        Ticket.objects.get(number=159).change(part_file(radius=0.1), "sharp", self.bench)
        self.assertContains(self.client.get("/"), 'hx-get="/t/159/card/"')
        self.assertContains(self.client.get("/t/159/card/"), "■ Stop")
        self.assertContains(self.client.get("/"), "■ Stop")


class AtTheLimits(ShopCase):
    """Sizes that once were answered with 500: refused at their field, or drawn in every stage."""

    def test_sizes_of_a_square_to_round_a_sharp_hem_and_a_flat_folded_back(self):
        demo = {t["number"]: t.get("part") for t in json.loads((ROOT / "demo" / "tickets.json").read_text("utf-8"))}
        outlet, hemmed, drawn = demo[139], demo[150], demo[155]
        for part, field, value, taken in (
                (outlet, "shape.height", "50", True), (outlet, "shape.square.length", "300", True),
                (outlet, "shape.square.width", "3.5", False), (outlet, "shape.square.width", "1", False),
                (hemmed, "shape.walls.back.hem.k", "0", False), (drawn, "shape.bends[0].angle", "180", True)):
            with self.subTest(field=field, value=value):
                Ticket.objects.filter(number=7).update(part=part, punch="", die="")
                form = {"field": field, "value": value}
                answer = self.client.post("/t/7/change/", form, headers={"HX-Request": "true"})
                self.assertEqual(answer.status_code, 200 if taken else 422)
                for stage in ("", "stock/", "proof/", "layout/", "marking-out/", "folded/", "still.svg", "file/dxf/"):
                    self.assertLess(self.client.get(f"/t/7/{stage}").status_code, 500, stage)

    def test_a_number_of_400_digits_in_a_brakes_file(self):
        self.client.force_login(self.lead)
        text = json.dumps(press_file()).replace('"tonnage_kn": 600', f'"tonnage_kn": 1{"0" * 400}')
        self.assertIn("0" * 400, text)
        file = SimpleUploadedFile("press.json", text.encode())
        self.assertContains(self.client.post("/brakes/upload/", {"file": file}), "at most 12 digits", status_code=422)


@override_settings(STORAGES=PLAIN_STATIC)
class Writing(TransactionTestCase):
    """No trade is worked out while a write transaction is open: the core is asked whether one is."""

    CORE = ("tickets.results.derived.read_part", "tickets.results.orders.plan_order",
            "tickets.results.files.read_part", "tickets.pages.read_in.read_shape_in", "tickets.models.ticket.holding",
            "ledger.fits.learn", "learning.proofs.core.learn",
            "learning.forms.search", "learning.finished.part_as_proof", "tickets.results.derived.check_part",
            "learning.planning.plan_strip", "learning.views.read_chart", "learning.views.read_samples")

    def setUp(self):
        self.lead = User.objects.create_user("lead", password="tin-snips-and-shears", role="lead")
        brake = Brake.objects.create(name="60 t press brake", file=json.dumps(press_file()))
        for number, part in enumerate(FAMILIES.values(), 7):
            Ticket.objects.create(number=number, part=part, brake=brake, punch="Straight 85", die="V 8", quantity=3,
                                  made_by=self.lead, follows_shop=number == 7)
        self.client.force_login(self.lead)

    def guarded(self, name):
        module, _, attribute = name.rpartition(".")
        target = importlib.import_module("dorvan." + module.removesuffix(".core"))
        target = target.core if module.endswith(".core") else target
        real = getattr(target, attribute)

        def asked(*args, **kwargs):
            self.asked.add(name)
            assert not connection.in_atomic_block, f"{name} within a transaction"
            return real(*args, **kwargs)
        return mock.patch.object(target, attribute, asked)

    def test_every_posting_page(self):
        self.asked = set()
        drawing = export(read_part(plate_file()), "dxf").encode()
        strip = {"strip_number": "1", "do": "save", "strip": "100", "leg_a": "45", "leg_b": "56.98", "angle": "90.5",
                 "thickness": "1.0", "inside_radius": "1.3"}
        looked = {"brake": str(Brake.objects.get().pk)} | {f"point-{n}": "on" for n in range(9)}
        posts = [("/tickets/new/", {"name": "x", "family": "tray"}),
                 ("/t/7/change/", {"field": "shape.legs[0]", "value": "33"}),
                 ("/t/8/change/", {"action": "add", "field": "shape.holes"}),
                 ("/t/9/change/", {"action": "add", "field": "shape.slots"}), ("/t/7/undo/", {}), ("/t/7/redo/", {}),
                 ("/t/7/set-up/", {"quantity": "5"}), ("/t/7/order/try/", {"names": "B2,B1"}),
                 ("/t/7/release/", {}), ("/t/7/setup/look-over/", looked), ("/t/7/bend/log/", {"what": "paused"}),
                 ("/t/7/bend/record/", {"piece": "1", "step": "1", "angle": "89"}),
                 ("/t/7/check/save/", {"L1": "33"}), ("/t/9/twin/", {}),
                 ("/t/8/kit/add/", {"what": "mate:lid", "each": "1"}),
                 ("/t/8/change/", {"field": "shape.length", "value": "190"}),
                 ("/t/8/kit/made/", {"piece": "8", "length": "190.2"}), ("/proofs/begin/", {"ticket": "7"}),
                 ("/proofs/1/strip/", strip), ("/proofs/1/strip/", strip | {"do": "more"}),
                 ("/t/7/sample/save/", {"blank": "119", "L1": "33", "L2": "60", "L3": "30", "angle": "90",
                                        "inside_radius": "1.2", "thickness": "1"}),
                 ("/ledger/{pair}/adopt/", {"k": "?", "reason": "tried"}),
                 ("/ledger/{pair}/withdraw/", {"reason": "tried"}),
                 ("/ledger/rules/", {"method": "generic", "enough": "3"}),
                 ("/ledger/charts/add/", {"name": "c", "text": "angle,deduction\n90,2\n", "units": "mm"})]
        uploads = [("/tickets/read-in/", "file", ("plate.dxf", drawing)),
                   ("/ledger/read-in/", "file", ("ledger.csv", (ROOT / "demo" / "ledger.csv").read_bytes()))]
        patches = [self.guarded(name) for name in self.CORE]
        for patch in patches:
            patch.start()
            self.addCleanup(patch.stop)
        for where, form in posts:
            if "{pair}" in where:  # what a sequence has reached depends on the tests run before
                where = where.format(pair=Pair.objects.get().pk)
            if form.get("k") == "?":
                page = self.client.get(where.removesuffix("adopt/")).content.decode()
                form = form | {"k": re.search(r'name="k" value="([^"]+)"', page)[1]}
            answer = self.client.post(where, form)
            self.assertIn(answer.status_code, (200, 302), (where, answer.content[:300]))
        for where, field, (name, content) in uploads:
            self.assertEqual(self.client.post(where, {field: SimpleUploadedFile(name, content)}).status_code, 302)
        self.assertGreaterEqual(len(self.asked), len(self.CORE) - 1, set(self.CORE) - self.asked)

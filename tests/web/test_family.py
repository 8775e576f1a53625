"""A family that only the tests know goes the whole way without a line changed elsewhere: begun, drawn, laid out,
ordered, set up, bent, checked, mirrored, joined, exported."""

import copy
import io
import json

import ezdxf
import numpy as np
from django.conf import settings
from django.test import override_settings

from bendcore.part import read_part
from bendcore.part_file import add_family, remove_family
from dorvan.tickets.families import PAGES
from dorvan.tickets.models import Ticket
from tests.core.samples import ROOT
from tests.toy.page import PAGE
from tests.web.base import ShopCase

KIND = "toy-bracket"
TEMPLATES = [settings.TEMPLATES[0] | {"DIRS": [*settings.TEMPLATES[0]["DIRS"], ROOT / "tests" / "toy" / "templates"]}]


@override_settings(TEMPLATES=TEMPLATES)
class Added(ShopCase):
    def setUp(self):
        super().setUp()
        add_family(KIND, "tests.toy.family")
        PAGES[KIND] = PAGE
        self.addCleanup(remove_family, KIND)
        self.addCleanup(PAGES.pop, KIND)
        self.assertContains(self.client.get("/tickets/begin/"), "Toy bracket")
        self.client.post("/tickets/new/", {"name": "corner", "family": KIND})
        self.ticket = Ticket.objects.latest("number")
        self.ticket.brake, self.ticket.punch, self.ticket.die = self.brake, "Straight 85", "V 8"
        self.ticket.save()
        self.at = f"/t/{self.ticket.number}/"

    def edit(self, status=200, **form):
        answer = self.client.post(f"{self.at}change/", form, headers={"HX-Request": "true"})
        self.assertEqual(answer.status_code, status, answer.content[:300])
        self.ticket = Ticket.objects.get(pk=self.ticket.pk)
        return answer

    def test_it_is_drawn_changed_and_refused_at_its_field(self):
        self.assertContains(self.edit(field="shape.height", value="32"), 'value="32"')
        self.assertContains(self.edit(422, field="shape.height", value="0"), "must be greater than 0", status_code=422)
        self.assertContains(self.edit(422, field="shape.colour", value="1"), "is not a field", status_code=422)
        for page in ("", "stock/", "proof/", "layout/", "order/", "space/", "kit/", "joins/", "marking-out/",
                     "folded/", "still.svg", "gate/"):
            self.assertEqual(self.client.get(self.at + page).status_code, 200, page)

    def test_its_flat_is_its_own_arithmetic_and_its_files_say_the_same(self):
        part = self.ticket.figures.part
        t, f = part.stock.thickness, part.shape.bends[0].figures
        long, wide, high = 80, 60, 25
        base = [size - f.outside_setback for size in (long, wide)]
        flap = f.allowance + high - f.outside_setback
        area = base[0] * base[1] + flap * (base[0] + base[1])
        self.assertAlmostEqual(part.flat.area, area, places=6)
        drawn = ezdxf.read(io.StringIO(self.client.get(f"{self.at}file/dxf/").content.decode()))
        points = np.concatenate([np.array([p[:2] for p in line.get_points()])
                                 for line in drawn.modelspace().query("LWPOLYLINE")])
        np.testing.assert_allclose(np.ptp(points, axis=0), [base[0] + flap, base[1] + flap], atol=1e-6)
        solid = part.formed(5)
        inner = f.inside_radius + t / 2
        metal = t * (base[0] * base[1] + (high - f.outside_setback) * sum(base) + np.pi / 2 * inner * sum(base))
        corners = solid.triangles
        volume = abs(np.einsum("ni,ni->n", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum()) / 6
        self.assertAlmostEqual(volume / metal, 1, delta=0.005)
        for ending in ("svg", "pdf", "csv", "json", "stl", "glb"):
            self.assertEqual(self.client.get(f"{self.at}file/{ending}/").status_code, 200, ending)

    def test_its_other_hand_is_its_mirror_and_back_again_itself(self):
        self.client.post(f"{self.at}twin/")
        other = Ticket.objects.latest("number")
        self.assertEqual(other.part["shape"]["hand"], "left")
        one, two = (ticket.figures.part for ticket in (self.ticket, other))
        self.assertAlmostEqual(one.flat.area, two.flat.area)
        edge = [next(b.line[0][0] for b in part.flat.bends if b.bend.id == "side") for part in (one, two)]
        self.assertAlmostEqual(edge[0] + edge[1], one.flat.size[0])
        self.client.post(f"/t/{other.number}/twin/")
        self.assertEqual(Ticket.objects.latest("number").part["shape"]["hand"], "right")

    def test_it_is_joined_ordered_set_up_bent_and_checked(self):
        self.assertContains(self.client.get(f"{self.at}joins/"), "corner of the flanges")
        plan = self.ticket.ordered
        self.assertTrue(plan.feasible)
        self.assertEqual(sorted(name for step in plan.steps for name in step.bends), ["back", "side"])
        self.assertEqual(self.client.post(f"{self.at}release/").status_code, 302)
        self.look_over()
        self.assertContains(self.client.get(f"{self.at}setup/"), "V 8")
        for at, step in enumerate(plan.steps, 1):
            answer = self.client.post(f"{self.at}bend/record/", {"piece": 1, "step": at, "angle": f"{step.angle:.1f}"})
            self.assertEqual(answer.status_code, 302)
        self.assertContains(self.client.get(f"{self.at}check/"), "Length, once more")
        sizes = {one.name: f"{one.nominal:.2f}" for one in self.ticket.figures.dimensions if one.unit != "tried"}
        self.assertEqual({"length", "width", "side", "side-angle", "over"} - set(sizes), set())
        self.client.post(f"{self.at}check/save/", {"piece": 1} | sizes)
        self.assertContains(self.client.get(f"{self.at}check/"), "✓ Good")

    def test_without_it_its_files_are_refused_and_nothing_else_is(self):
        own, strip = copy.deepcopy(self.ticket.part), copy.deepcopy(Ticket.objects.get(number=7).part)
        read_part(json.loads(json.dumps(own)))
        remove_family(KIND)
        self.addCleanup(add_family, KIND, "tests.toy.family")  # before those of setUp
        read_part(strip)
        for _ in range(5):  # compiled checks too
            with self.assertRaisesMessage(Exception, "shape.kind"):
                read_part(own)

"""Lots, leftovers and materials with their sources; tools beside the brake; what they do to a ticket."""

from bendcore.part import read_part
from dorvan.brakes.models import Tooling
from dorvan.stockroom.models import Lot, MaterialValue
from dorvan.tickets.models import Override
from tests.core.samples import part_file
from tests.web.base import ShopCase
from tests.web.ledgers import lot

LOT = {"code": "L-9", "material": "mild-steel", "thickness": "16 ga", "readings": "1.50 1.52, 1.51", "length": "2500",
       "width": "1250", "count": "3", "grain": "length", "surface": "bare", "supplier": ""}


class Lots(ShopCase):
    def test_a_lot_is_put_on_the_shelf_with_its_readings(self):
        self.client.post("/stockroom/lots/new/", LOT)
        made = Lot.objects.get()
        self.assertAlmostEqual(made.thickness, 1.519, 3)
        self.assertAlmostEqual(made.best, 1.51)
        self.assertContains(self.client.get("/stockroom/"), "3 readings")

    def test_bad_lots_are_refused_at_their_field_and_keep_what_was_typed(self):
        lot(self.bench, "L-8")
        for change, words in (({"thickness": "16"}, "16 ga is 1.52 mm steel, 1.61 mm galvanised"),
                              ({"thickness": "44 ga"}, "not in the steel table"), ({"readings": "1.5 15"}, "not near"),
                              ({"code": "l-8"}, "is taken"), ({"length": "-1"}, "greater than 0"),
                              ({"count": "many"}, "whole number"), ({"material": "x"}, "one of the stockroom")):
            answer = self.client.post("/stockroom/lots/new/", LOT | change)
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, LOT["readings"] if "readings" not in change else "1.5 15", status_code=422)
        self.assertEqual(Lot.objects.count(), 1)

    def test_a_leftover_is_stock_of_the_same_lot(self):
        lot(self.bench, "L-8")
        form = {"length": "600", "width": "300", "count": "2", "grain": "width"}
        self.client.post("/stockroom/lots/L-8/leftover/", form)
        left = Lot.objects.get(code="L-8/1")
        self.assertEqual((left.cut_from.code, left.best, left.grain), ("L-8", 0.99, "width"))
        self.assertContains(self.client.post("/stockroom/lots/L-8/leftover/", form | {"length": "5000"}),
                            "than the sheet", status_code=422)
        self.client.post("/stockroom/lots/L-8/1/measure/", {"count": "0"})
        self.assertNotContains(self.client.get("/t/7/stock/"), "L-8/1")

    def test_a_ticket_takes_metal_and_measured_thickness_from_its_lot(self):
        shelf = lot(self.bench, material="stainless-304", readings=[1.02, 1.04])
        self.client.post("/t/7/set-up/", {"lot": shelf.pk})
        self.ticket.refresh_from_db()
        part = self.ticket.figures.part
        self.assertEqual((part.stock.material.name, part.stock.thickness), ("stainless-304", 1.03))
        self.client.post("/t/7/undo/")
        self.ticket.refresh_from_db()
        self.assertEqual((self.ticket.lot, self.ticket.figures.part.stock.thickness), (None, 1.0))


class Materials(ShopCase):
    def test_a_lead_replaces_a_start_value_with_its_source(self):
        self.client.force_login(self.lead)
        form = {"key": "tensile_mpa", "value": "500", "status": "measured", "source": "certificate 9"}
        self.client.post("/stockroom/materials/mild-steel/set/", form)
        self.assertContains(self.client.get("/stockroom/materials/mild-steel/"), "certificate 9")
        self.assertEqual(self.ticket.figures.part.stock.material.tensile_mpa, 500)
        self.assertIn("the shop's own for mild steel",
                      [v.source for v in self.ticket.figures.workings["die.force"].values])
        self.release()
        self.client.post("/stockroom/materials/mild-steel/set/", form | {"value": "600"})
        self.assertEqual(self.ticket.revision.figures.part.stock.material.tensile_mpa, 500)
        for change, words in (({"value": "-1"}, "from 1 to 3000"), ({"source": ""}, "needs its source"),
                              ({"key": "colour"}, "not a value")):
            answer = self.client.post("/stockroom/materials/mild-steel/set/", form | change)
            self.assertContains(answer, words, status_code=422)

    def test_a_metal_of_the_shops_own_is_whole_and_travels_with_the_part(self):
        self.client.force_login(self.lead)
        fields = {row["key"]: row["value"] for row in MaterialValue.table("copper")}
        form = {k: str(v) for k, v in fields.items()} | {"name": "Roof copper", "source": "supplier's sheet"}
        self.assertEqual(self.client.post("/stockroom/materials/add/", form | {"yield_mpa": "x"}).status_code, 422)
        self.client.post("/stockroom/materials/add/", form)
        self.change(field="stock.material", value="roof-copper", stage="stock")
        self.assertEqual(self.ticket.figures.part.stock.material.name, "roof-copper")
        alone = self.client.get("/t/7/file/part/").json()
        self.assertEqual(read_part(alone).stock.material.density_kg_m3, 8940)


class Tools(ShopCase):
    def test_the_radius_comes_from_the_tool_when_asked(self):
        page = self.client.get("/t/7/stock/")
        self.assertContains(page, "The tool makes 1.28")
        self.change(action="remove", field="inside_radius", stage="stock")
        self.assertAlmostEqual(self.ticket.figures.part.inside_radius, 1.28)
        answer = self.client.post("/t/7/set-up/", {"die": ""})
        self.assertContains(answer, "is missing", status_code=422)
        self.ticket.refresh_from_db()
        self.assertEqual(self.ticket.die, "V 8")

    def test_a_nose_with_a_shim_makes_the_radius_and_names_the_tool(self):
        self.client.force_login(self.lead)
        for form in ({"name": "Leaf nose", "kind": "nose", "size": "1", "rated": "0.9"},
                     {"name": "Shim 1.5", "kind": "shim", "size": "1.5"}):
            self.assertEqual(self.client.post("/brakes/tooling/add/", form).status_code, 302)
        nose, shim = Tooling.objects.get(kind="nose"), Tooling.objects.get(kind="shim")
        self.ticket.change(None, "nose", self.bench, die="", punch="", nose_id=nose.pk, shim_id=shim.pk)
        self.ticket = type(self.ticket).objects.get(pk=self.ticket.pk)
        self.assertEqual(self.ticket.tool, "Leaf nose + Shim 1.5")
        self.assertAlmostEqual(self.ticket.figures.part.predicted.radius, 2.5)
        codes = {n.code for n in self.ticket.figures.notices}
        self.assertTrue({"radius-tool", "capacity"} <= codes, codes)
        self.client.post(f"/brakes/tooling/{shim.pk}/remove/")
        self.assertEqual(type(self.ticket).objects.get(pk=self.ticket.pk).tool, "Leaf nose")
        for change, words in (({"size": "-1"}, "from 0 to 100"), ({"kind": "spoon"}, "one of"),
                              ({"name": "leaf NOSE"}, "another than"), ({"rated": "99"}, "plate")):
            form = {"name": "N", "kind": "nose", "size": "1"} | change
            self.assertContains(self.client.post("/brakes/tooling/add/", form), words, status_code=422)


class Overriding(ShopCase):
    def setUp(self):
        super().setUp()
        self.ticket.change(part_file(radius=0.1), "sharp", self.bench)

    def post(self, **form):
        return self.client.post("/t/7/override/", {"code": "radius", "where": "B1, B2", "stage": "layout"} | form)

    def test_a_stop_blocks_release_until_a_lead_lets_it_pass_with_a_reason(self):
        self.assertEqual(self.client.post("/t/7/release/").status_code, 422)
        self.assertEqual(self.post(reason="trial piece").status_code, 403)
        self.client.force_login(self.lead)
        self.assertContains(self.post(reason=""), "must say why", status_code=422)
        self.post(reason="trial piece, cracks allowed")
        self.release()
        kept = self.ticket.revision.overrides[0]
        self.assertEqual((kept["reason"], kept["by"]), ("trial piece, cracks allowed", "lead"))
        self.assertContains(self.client.get("/t/7/bend/"), "cracks allowed")

    def test_it_holds_only_while_the_stop_says_the_same(self):
        Override.objects.create(ticket=self.ticket, code="radius", where="B1, B2", reason="trial", by=self.lead,
                                message=self.ticket.open_stops[0].message)
        self.assertEqual(self.ticket.open_stops, [])
        self.ticket.change(part_file(radius=0.05), "sharper", self.bench)
        self.assertEqual(len(self.ticket.open_stops), 1)

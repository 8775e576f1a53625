"""One part in a table of sizes."""

import io
from itertools import combinations

from django.test import SimpleTestCase
from shapely import Polygon

from bendcore.errors import Refusal
from bendcore.formats.size_table import read_sizes
from dorvan.tickets.models import Ticket
from tests.core.panels import housing_file, panels_file
from tests.core.trays import tray_file
from tests.web.base import ShopCase

TABLE = "name,count,length,walls.left.height\nSmall,3,140,\nTall,1,,55\n"


class Read(SimpleTestCase):
    def test_rows_are_read_with_commas_semicolons_or_tabs(self):
        for mark in ",;\t":
            small, tall = read_sizes(TABLE.replace(",", mark))
            self.assertEqual((small.name, small.count, small.fields), ("Small", 3, {"length": "140"}))
            self.assertEqual(tall.fields, {"walls.left.height": "55"})

    def test_lines_may_end_as_any_machine_ends_them(self):
        for end in ("\r\n", "\r"):
            self.assertEqual(read_sizes(TABLE.replace("\n", end)), read_sizes(TABLE))

    def test_what_is_no_table_is_refused_with_its_row(self):
        for text, words in (("", "first row"), ("name,length", "a row for each"), ("length\n4", "called name"),
                            ("name,length,length\na,1,2", "twice"), ("name,length\n,4", "line 2"),
                            ("length,name\n4", "no name in line 2"),
                            ("name,count\na,many", "count in line 2"),
                            ('name\n"a"b', "line 2 cannot be read"), ("name\n" + "a\n" * 99, "more than 60"),
                            ("x" * 30_000, "longer")):
            with self.assertRaises(Refusal) as caught:
                read_sizes(text)
            self.assertIn(words, caught.exception.message)


class Sizes(ShopCase):
    def setUp(self):
        super().setUp()
        self.lead = Ticket.objects.create(number=60, part=tray_file(), quantity=2, made_by=self.bench)

    def post(self, table, status=302):
        answer = self.client.post("/t/60/kit/sizes/", {"table": table})
        self.assertEqual(answer.status_code, status)
        return answer

    def sizes(self, name):
        shape = self.lead.pieces.get(part__name=name).figures.part.shape
        return shape.length.size, shape.width.size, shape.walls["left"].leg.size

    def test_each_row_is_a_ticket_that_follows_in_all_else(self):
        whole = self.lead.figures.part.shape
        self.post(TABLE)
        small = self.lead.pieces.get(part__name="Small")
        self.assertEqual((small.per_assembly, small.quantity, small.role), (3, 6, "size"))
        self.assertEqual(self.sizes("Small"), (140, whole.width.size, whole.walls["left"].leg.size))
        self.assertEqual(self.sizes("Tall"), (whole.length.size, whole.width.size, 55))
        self.client.post("/t/60/change/", {"field": "shape.width", "value": "77"})
        self.assertEqual([self.sizes(name)[1] for name in ("Small", "Tall")], [77, 77])
        self.assertEqual(self.sizes("Small")[0], 140)
        self.client.post("/t/60/change/", {"field": "shape.length", "value": "133"})
        self.assertEqual([self.sizes(name)[0] for name in ("Small", "Tall")], [140, 133])

    def test_columns_are_named_as_the_page_names_them(self):
        self.post("name; count; Left wall, height\nTall; 2; 61\n")
        self.assertEqual(self.sizes("Tall")[2], 61)

    def test_a_size_that_is_there_is_changed_and_one_that_was_drawn_by_hand_stands(self):
        self.post(TABLE)
        number = self.lead.pieces.get(part__name="Small").number
        self.post("name,count,length\nSmall,5,150\n")
        again = self.lead.pieces.get(part__name="Small")
        self.assertEqual((again.number, again.per_assembly, self.sizes("Small")[0]), (number, 5, 150))
        self.assertEqual(self.lead.pieces.count(), 2)
        self.client.post(f"/t/{number}/change/", {"field": "shape.width", "value": "90"})
        self.client.post("/t/60/change/", {"field": "shape.width", "value": "77"})
        self.assertEqual((self.sizes("Small")[1], self.sizes("Tall")[1]), (90, 77))

    def test_inches_are_taken_as_the_reader_types_them(self):
        self.bench.units = "in"
        self.bench.save()
        self.post("name,length\nInch,5 1/2\n")
        self.assertAlmostEqual(self.sizes("Inch")[0], 139.7)

    def test_a_csv_file_is_taken_and_one_that_is_none_is_refused(self):
        def send(content, status):
            file = io.BytesIO(content)
            file.name = "sizes.csv"
            answer = self.client.post("/t/60/kit/sizes/", {"file": file})
            self.assertEqual(answer.status_code, status)
            return answer.content.decode()

        send("\ufeffname;length\r\nWide;190\r\n".encode(), 302)
        self.assertEqual(self.sizes("Wide")[0], 190)
        for content, words in ((b"\xff\xfe\x00n", "UTF-8"), (b"name,length\n" + b"a,1\n" * 40_000, "longer than"),
                               (b"\0" * 900, "row"), (b"name,length\na,90\nb,wide\n", "of b")):
            self.assertIn(words, send(content, 422))
        self.assertEqual(self.lead.pieces.count(), 1)

    def test_what_cannot_be_made_is_refused_and_the_table_stands(self):
        for table, words in (("name,depth\na,4", "column depth"), ("name,length\na,long", "column Length"),
                             ("name,length\na,2", "column Length"), ("name,length\na,90\na,95", "twice"),
                             ("name,kind\na,plate", "not a field"), ("nothing", "first row")):
            answer = self.post(table, 422)
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, table.splitlines()[-1], status_code=422)
        self.assertEqual(self.lead.pieces.count(), 0)
        self.assertContains(self.client.get("/t/60/kit/"), "Front wall, height")  # its words, which serve as a column


class OverAll(ShopCase):
    def test_a_size_held_over_all_moves_what_gives_way_and_that_alone_cannot_be_typed(self):
        part = panels_file([{"edge": 2, "length": 40, "direction": "up"}, {"edge": 4, "length": 40, "direction": "up"},
                            {"on": 1, "edge": 2, "length": 15, "direction": "up"}])
        Ticket.objects.filter(number=7).update(part=part)
        page = self.change(action="add", field="shape.held")
        self.assertIn("Overall 1", page)
        block = self.ticket.part["shape"]["held"][0]
        self.assertEqual((block["one"], block["other"], block["gives"]), (0, 3, 1))
        page = self.change(field="shape.held[0].size", value="52")
        self.assertAlmostEqual(self.ticket.figures.part.shape.legs[0].size, 54, places=6)
        self.assertIn("its length follows from overall 1: 52.0 mm inside, base to panel P3", page)
        self.assertIn('value="54"', page)
        refused = self.change(422, field="shape.panels[0].length", value="60")
        self.assertIn("gives way to an overall size", refused)
        self.change(field="shape.held[0].gives", value="2")
        refused = self.change(422, field="shape.held[0].size", value="60")
        self.assertIn("does not change this size", refused)
        self.change(field="shape.held[0].gives", value="1")
        self.change(action="rescale", side="across", value="320")
        self.assertAlmostEqual(self.ticket.figures.part.shape.held[0].size, 104)
        self.assertAlmostEqual(self.ticket.figures.part.shape.legs[0].size, 106, places=6)
        self.change(action="remove", field="shape.held[0]")
        self.change(field="shape.panels[0].length", value="60")
        self.assertEqual(self.ticket.figures.part.shape.legs[0].size, 60)
        self.assertContains(self.client.get("/t/7/check/"), "Panel P1")


class Copies(ShopCase):
    def test_an_opening_is_copied_where_there_is_room_and_nothing_new_is_to_be_minded(self):
        Ticket.objects.filter(number=7).update(part=housing_file())
        before = self.ticket_part()["shape"]
        page = self.change(action="copy", field="shape.holes[0]")
        self.assertIn("Hole 3", page)
        held, made = self.ticket.part["shape"]["holes"][0], self.ticket.part["shape"]["holes"][-1]
        self.assertEqual((held, made["diameter"]), (before["holes"][0], held["diameter"]))
        flat = self.ticket.figures.part.flat
        self.assertEqual(len(flat.holes), 4)
        for one, other in combinations([Polygon(hole.outline()) for hole in flat.holes], 2):
            self.assertFalse(one.intersects(other))
        self.assertIn("has no room", self.change(422, action="copy", field="shape.windows[0]"))
        self.assertIn("cannot be copied", self.change(422, action="copy", field="shape.panels[0]"))
        self.client.post("/t/7/undo/", headers={"HX-Request": "true"})
        self.assertEqual(self.ticket_part()["shape"], before)

    def ticket_part(self):
        self.ticket.refresh_from_db()
        return self.ticket.part

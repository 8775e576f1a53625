"""Every address for every role, the headers, and what is built."""

import hashlib
import json
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection, transaction
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver

from dorvan.brakes.models import Brake, Tooling
from dorvan.ledger.models import Adoption, Chart, Rules
from dorvan.stockroom.models import MaterialValue
from dorvan.tickets.models import Revision, Ticket
from tests.core.samples import ROOT, press_file
from tests.web.base import ShopCase
from tests.web.ledgers import one_of_each

# address, method, status for nobody, bench, lead
TABLE = [
    ("/words/?q=allowance", "get", 302, 200, 200), ("/words/every.json", "get", 302, 200, 200),
    ("/health/", "get", 200, 200, 200),
    ("/people/log/", "get", 302, 403, 200),
    ("/", "get", 302, 200, 200), ("/tickets/begin/", "get", 302, 200, 200),
    ("/tickets/new/", "post", 302, 302, 302), ("/t/7/", "get", 302, 200, 200),
    ("/t/7/shape/", "get", 302, 200, 200), ("/t/7/stock/", "get", 302, 200, 200),
    ("/t/7/layout/", "get", 302, 200, 200), ("/t/7/order/", "get", 302, 200, 200),
    ("/t/7/change/", "post", 302, 422, 422), ("/t/7/undo/", "post", 302, 200, 200),
    ("/t/7/redo/", "post", 302, 200, 200), ("/t/7/set-up/", "post", 302, 200, 200),
    ("/t/7/order/try/", "post", 302, 200, 200), ("/t/7/order/frames/1/", "get", 302, 200, 200),
    ("/t/7/order/frames/9/", "get", 302, 404, 404), ("/t/7/order/remedies/", "get", 302, 200, 200),
    ("/t/7/order/brakes/", "get", 302, 200, 200), ("/t/7/order/important/", "post", 302, 422, 422),
    ("/t/7/order/search/", "post", 302, 200, 200), ("/t/7/order/why/looking/", "post", 302, 200, 200),
    ("/t/7/order/remedies/stop/", "post", 302, 200, 200), ("/t/7/order/sizes/", "get", 302, 200, 200),
    ("/t/7/order/why/", "get", 302, 200, 200), ("/t/7/order/sheet/", "get", 302, 200, 200),
    ("/t/7/order/space/1/3/", "get", 302, 200, 200), ("/t/7/order/space/1/99/", "get", 302, 404, 404),
    ("/t/7/order/look/", "get", 204, 200, 200),
    ("/t/7/order/take/", "post", 302, 422, 422), ("/t/7/order/limits/", "get", 302, 200, 200),
    ("/t/7/workings/", "get", 302, 200, 200), ("/t/7/card/", "get", 302, 200, 200),
    ("/readings/1/", "get", 302, 404, 404), ("/readings/1/look/", "post", 302, 404, 404),
    ("/tickets/read-in/", "post", 302, 302, 302), ("/t/7/twin/", "post", 302, 302, 302),
    ("/t/7/kit/", "get", 302, 200, 200), ("/t/7/kit/add/", "post", 302, 422, 422),
    ("/t/7/kit/piece/", "post", 302, 404, 404),
    ("/t/7/kit/sizes/", "post", 302, 422, 422), ("/t/7/kit/made/", "post", 302, 404, 404),
    ("/t/7/kit/orders/", "get", 302, 200, 200), ("/t/7/kit/orders/stop/", "post", 302, 200, 200),
    ("/t/7/kit/bought/", "post", 302, 422, 422), ("/t/7/kit/files/dxf/", "get", 302, 200, 200),
    ("/t/7/kit/files/exe/", "get", 302, 404, 404),
    ("/t/7/proved/", "get", 302, 200, 200), ("/t/7/photograph/", "get", 302, 404, 404),
    ("/t/7/photograph/keep/", "post", 302, 302, 302),
    ("/t/7/file/model/", "get", 302, 200, 200),
    ("/t/7/space/", "get", 302, 200, 200), ("/t/7/section/?axis=x", "get", 302, 200, 200),
    ("/t/7/section/?axis=w", "get", 302, 422, 422),
    ("/t/7/measure/?one=L1&other=L3", "get", 302, 200, 200),
    ("/t/7/folded/", "get", 302, 200, 200), ("/t/7/still.svg", "get", 302, 200, 200),
    ("/t/7/file/dxf/", "get", 302, 200, 200),
    ("/t/7/file/pdf/", "get", 302, 200, 200), ("/t/7/marking-out/", "get", 302, 200, 200),
    ("/t/7/file/part/", "get", 302, 200, 200), ("/t/7/file/exe/", "get", 302, 404, 404),
    ("/t/7/bend/", "get", 302, 200, 200), ("/t/7/bend/record/", "post", 302, 404, 404),
    ("/t/7/setup/", "get", 302, 200, 200), ("/t/7/setup/look-over/", "post", 302, 404, 404),
    ("/t/7/setup/structural/", "post", 302, 302, 302),
    ("/t/7/bend/log/", "post", 302, 404, 404), ("/t/7/check/report.csv", "get", 302, 404, 404),
    ("/t/7/check/report.pdf", "get", 302, 404, 404),
    ("/t/7/bend/1/before.svg", "get", 302, 200, 200), ("/t/7/bend/9/before.svg", "get", 302, 404, 404),
    ("/t/7/bend/1/meanwhile.svg", "get", 302, 404, 404), ("/t/7/log/", "get", 302, 404, 404),
    ("/t/7/log.csv", "get", 302, 404, 404), ("/t/7/check/take-k/", "post", 302, 404, 404),
    ("/t/7/check/1/photograph/", "post", 302, 404, 404), ("/t/7/check/photograph/1/", "get", 302, 404, 404),
    ("/practice/order/", "get", 302, 200, 200), ("/practice/order/choose/", "post", 302, 422, 422),
    ("/t/7/check/1/decide/", "post", 302, 404, 404), ("/brakes/1/hands/", "post", 302, 403, 302),
    ("/t/7/check/", "get", 302, 200, 200), ("/t/7/check/save/", "post", 302, 404, 404),
    ("/t/7/release/", "post", 302, 302, 302), ("/t/7/remove/", "post", 302, 403, 302),
    ("/t/7/archive/", "post", 302, 302, 302), ("/t/7/duplicate/", "post", 302, 302, 302),
    ("/t/7/blanks/", "post", 302, 302, 302),
    ("/t/99/", "get", 302, 404, 404), ("/brakes/", "get", 302, 200, 200),
    ("/brakes/1/", "get", 302, 200, 200), ("/brakes/1/change/", "post", 302, 403, 422),
    ("/sections/1/", "post", 302, 403, 422),
    ("/brakes/new/", "get", 302, 403, 200), ("/brakes/begin/", "post", 302, 403, 422),
    ("/brakes/1/try/", "get", 302, 200, 200), ("/brakes/1/try/?thickness=16", "get", 302, 422, 422),
    ("/brakes/1/try/know/", "post", 302, 422, 422), ("/brakes/1/try/doubt/", "get", 302, 200, 200),
    ("/brakes/1/try/limits/looking/", "post", 302, 422, 422),
    ("/brakes/1/again/", "post", 302, 403, 404),
    ("/brakes/1/sizes/", "get", 302, 302, 302), ("/brakes/1/sizes/set/", "post", 302, 403, 302),
    ("/brakes/1/sizes/sheet/", "get", 302, 302, 302), ("/brakes/1/tools/", "get", 302, 200, 200),
    ("/brakes/1/tools/add/", "post", 302, 403, 422), ("/brakes/1/tools/dies/0/", "get", 302, 302, 302),
    ("/brakes/1/tools/dies/99/", "get", 302, 404, 404), ("/brakes/1/tools/rams/0/", "get", 302, 404, 404),
    ("/brakes/1/tools/dies/0/set/", "post", 302, 403, 302), ("/brakes/1/tools/dies/0/sheet/", "get", 302, 302, 302),
    ("/brakes/1/tools/dies/0/act/", "post", 302, 403, 302), ("/brakes/1/tools/dies/0/compare/", "post", 302, 403, 302),
    ("/brakes/1/tools/dies/99/compare/", "post", 302, 403, 404),
    ("/brakes/upload/", "post", 302, 403, 422), ("/brakes/sample/", "post", 302, 403, 302),
    ("/stockroom/", "get", 302, 200, 200),
    ("/brakes/tooling/add/", "post", 302, 403, 422), ("/brakes/tooling/1/remove/", "post", 302, 403, 302),
    ("/stockroom/lots/new/", "post", 302, 422, 422), ("/stockroom/lots/L-1/leftover/", "post", 302, 422, 422),
    ("/stockroom/lots/L-1/measure/", "post", 302, 302, 302), ("/stockroom/materials/", "get", 302, 200, 200),
    ("/stockroom/materials/copper/", "get", 302, 200, 200), ("/stockroom/materials/tin/", "get", 302, 404, 404),
    ("/stockroom/materials/copper/set/", "post", 302, 403, 422), ("/stockroom/materials/new/", "get", 302, 403, 200),
    ("/stockroom/materials/add/", "post", 302, 403, 422), ("/stockroom/gauges/", "get", 302, 200, 200),
    ("/t/7/proof/", "get", 302, 200, 200), ("/t/7/override/", "post", 302, 403, 404),
    ("/t/7/sample/", "get", 302, 404, 404), ("/t/7/sample/save/", "post", 302, 404, 404),
    ("/cutting/", "get", 302, 200, 200), ("/cutting/new/", "post", 302, 422, 422),
    ("/cutting/9/", "get", 302, 404, 404), ("/cutting/9/change/", "post", 302, 404, 404),
    ("/cutting/9/end/", "post", 302, 404, 404), ("/cutting/9/away/", "post", 302, 404, 404),
    ("/cutting/blanks/9/", "get", 302, 404, 404),
    ("/cutting/9/move/", "post", 302, 404, 404), ("/cutting/9/cut/", "post", 302, 404, 404),
    ("/cutting/9/sheet-1.dxf", "get", 302, 404, 404), ("/cutting/9/labels.pdf", "get", 302, 404, 404),
    ("/gate/", "get", 302, 200, 200), ("/gate/ask/", "post", 302, 403, 302),
    ("/t/7/gate/", "get", 302, 200, 200), ("/t/7/gate/act/", "post", 302, 422, 422),
    ("/site/", "get", 302, 200, 200), ("/site/new/", "post", 302, 422, 422), ("/site/1/", "get", 302, 200, 200),
    ("/site/9/", "get", 302, 404, 404), ("/site/1/act/", "post", 302, 422, 422),
    ("/site/1/photograph-9.jpg", "get", 302, 404, 404), ("/site/1/readings.csv", "get", 302, 200, 200),
    ("/suppliers/", "get", 302, 200, 200), ("/suppliers/read-in/", "post", 302, 403, 422),
    ("/suppliers/begin/", "post", 302, 403, 422), ("/suppliers/1/limits/", "get", 302, 200, 200),
    ("/suppliers/9/limits/", "get", 302, 404, 404), ("/suppliers/1/limits/set/", "post", 302, 403, 422),
    ("/suppliers/1/", "get", 302, 200, 200), ("/suppliers/1/profile.json", "get", 302, 200, 200),
    ("/t/7/outside/", "get", 302, 200, 200), ("/t/7/outside/choose/", "post", 302, 302, 302),
    ("/t/7/outside/pack/", "post", 302, 422, 422), ("/t/7/outside/back/", "post", 302, 422, 422),
    ("/t/7/joins/", "get", 302, 200, 200), ("/t/7/joins/choose/", "post", 302, 422, 422),
    ("/t/7/pack/", "get", 302, 200, 200), ("/t/7/pack/printed.pdf", "get", 302, 200, 200),
    ("/day/", "get", 302, 200, 200), ("/day/new/", "post", 302, 422, 422), ("/day/9/fix/", "post", 302, 404, 404),
    ("/day/9/end/", "post", 302, 404, 404), ("/day/crew/", "get", 302, 200, 200),
    ("/day/crew/rates/", "post", 302, 403, 302), ("/day/crew/hours/", "post", 302, 403, 422),
    ("/day/crew/hand/", "post", 302, 403, 404),
    ("/day/crew/away/", "post", 302, 404, 404),
    ("/ledger/", "get", 302, 200, 200), ("/ledger/csv/", "get", 302, 200, 200),
    ("/ledger/read-in/", "post", 302, 422, 422), ("/ledger/rules/", "post", 302, 403, 422),
    ("/ledger/charts/add/", "post", 302, 403, 422), ("/ledger/charts/1/remove/", "post", 302, 403, 302),
    ("/ledger/1/", "get", 302, 200, 200), ("/ledger/9/", "get", 302, 404, 404),
    ("/ledger/1/adopt/", "post", 302, 403, 422), ("/ledger/1/withdraw/", "post", 302, 403, 422),
    ("/ledger/samples/1/mark/", "post", 302, 422, 422), ("/proofs/new/", "get", 302, 200, 200),
    ("/proofs/begin/", "post", 302, 422, 422), ("/proofs/1/", "get", 302, 200, 200),
    ("/proofs/1/strip/", "post", 302, 404, 404),
    ("/practice/", "get", 302, 200, 200), ("/practice/begin/", "post", 302, 422, 422),
    ("/practice/bend/", "post", 302, 302, 302), ("/practice/look/", "post", 302, 302, 302),
    ("/shop/first-hour/", "get", 302, 200, 200), ("/shop/first-hour/leave/", "post", 302, 403, 302),
    ("/shop/bundle/", "get", 302, 403, 200), ("/shop/bundle/shop.zip", "get", 302, 403, 200),
    ("/shop/bundle/read/", "post", 302, 403, 422), ("/t/7/bundle.zip", "get", 302, 200, 200),
    ("/shop/", "get", 302, 403, 200), ("/shop/set/", "post", 302, 403, 422), ("/shop/mark/", "get", 302, 404, 404),
    ("/shop/mark/take/", "post", 302, 403, 422),
    ("/people/", "get", 302, 403, 200), ("/people/add/", "post", 302, 403, 422),
    ("/people/99/change/", "post", 302, 403, 404), ("/people/phrase/", "get", 302, 200, 200),
    ("/people/phrase/take/", "post", 302, 422, 422),
    ("/people/pin/take/", "post", 302, 422, 422), ("/people/take-over/", "get", 302, 302, 302),
    ("/people/devices/trust/", "post", 302, 403, 422), ("/people/devices/9/withdraw/", "post", 302, 403, 404),
    ("/people/units/", "post", 302, 302, 302), ("/people/reading/", "get", 302, 200, 200),
    ("/people/reading/take/", "post", 302, 302, 302), ("/people/sign-in/", "get", 200, 302, 302),
    ("/people/sign-out/", "post", 302, 302, 302), ("/people/first/", "get", 302, 302, 302),
]


def addresses(resolver, prefix=""):
    for pattern in resolver.url_patterns:
        if isinstance(pattern, URLResolver):
            yield from addresses(pattern, prefix + str(pattern.pattern))
        elif isinstance(pattern, URLPattern):
            yield prefix + str(pattern.pattern), pattern


class Access(ShopCase):
    @classmethod
    def setUpTestData(cls):
        super().setUpTestData()
        one_of_each(cls.bench)

    def test_every_address_for_every_role(self):
        for column, who in enumerate((None, self.bench, self.lead), 2):
            for row in TABLE:
                with self.subTest(row[0], who=who), self.left_as_it_was():
                    client = Client()
                    if who:
                        client.force_login(who)
                    answer = getattr(client, row[1])(row[0])
                    self.assertEqual(answer.status_code, row[column])
                    if who is None and row[column] == 302 and "sign-out" not in row[0]:
                        self.assertIn("/people/sign-in/", answer["Location"])
                    if row[0] in ("/people/first/", "/people/take-over/"):  # open to all, each leads to the door here
                        continue
                    if who is None and row[column] == 302 and "sign-out" not in row[0]:
                        redraw = getattr(client, row[1])(row[0], headers={"HX-Request": "true"})
                        self.assertEqual(redraw.status_code, 401)
                    other = "post" if row[1] == "get" else "get"
                    if who and answer.status_code in (200, 302, 422) and "/sign-" not in row[0]:
                        wrong = getattr(client, other)(row[0])
                        if other == "get":  # an old address leads back to a page above it
                            self.assertEqual(wrong.status_code, 302)
                            self.assertTrue(row[0].startswith(wrong["Location"]), wrong["Location"])
                        else:
                            self.assertEqual(wrong.status_code, 405)

    def test_a_bench_hand_changes_nothing_that_is_a_leads_whatever_is_sent(self):
        """Every address, every method, with all that any form of it asks for."""
        self.release()
        kept = (Brake, Revision, Adoption, MaterialValue, Chart, Rules, Tooling)

        def rows():
            return [list(model.objects.order_by("pk").values()) for model in kept] + [list(self.brake.hands.all())]

        before, form = rows(), {"what": "costs", "stroke": "1", "name": "x", "kind": "nose", "size": "1", "k": "0.5",
                                "reason": "because", "hand": str(self.bench.pk), "value": "7", "method": "generic",
                                "enough": "1", "text": "angle,deduction\n90,2\n", "units": "mm", "part": "{}"}
        self.client.force_login(self.bench)
        signed_in = self.client.cookies
        for path in dict.fromkeys(row[0] for row in TABLE):
            for method in ("get", "post", "put", "patch", "delete"):
                self.client.cookies = signed_in.copy()
                with self.left_as_it_was(), self.writes() as written:
                    getattr(self.client, method)(path, form if method in ("get", "post") else json.dumps(form))
                    if written:
                        now = rows()
                        now[1] = now[1][:len(before[1])]  # another revision may follow
                        self.assertEqual(now, before, (method, path))

    @contextmanager
    def writes(self):
        """What is written to a database meanwhile."""
        found = []

        def seen(execute, sql, *rest):
            found.extend([sql] if sql.startswith(("INSERT", "UPDATE", "DELETE")) else [])
            return execute(sql, *rest)
        with connection.execute_wrapper(seen):
            yield found

    @contextmanager
    def left_as_it_was(self):
        point = transaction.savepoint()
        yield
        transaction.savepoint_rollback(point)

    def test_no_address_is_left_out(self):
        reached = {get_resolver().resolve(row[0].partition("?")[0]).route for row in TABLE}
        self.assertEqual({route for route, _ in addresses(get_resolver())} - reached, set())

    def test_a_forged_form_is_refused(self):
        client = Client(enforce_csrf_checks=True)
        client.force_login(self.bench)
        for path, method, *_ in TABLE:
            if method == "post":
                self.assertEqual(client.post(path).status_code, 403, path)

    def test_headers(self):
        answer = self.client.get("/t/7/")
        policy = answer["Content-Security-Policy"]
        self.assertIn("script-src 'self'", policy)
        self.assertNotIn("unsafe", policy)
        self.assertEqual((answer["X-Frame-Options"], answer["X-Content-Type-Options"]), ("DENY", "nosniff"))
        for page in ("/", "/t/7/", "/t/7/stock/", "/t/7/layout/", "/t/7/order/", "/t/7/bend/", "/t/7/check/",
                     "/brakes/", "/stockroom/", "/t/7/proof/",
                     "/t/7/marking-out/", "/ledger/", "/ledger/1/", "/proofs/1/", "/proofs/new/",
                     "/stockroom/materials/copper/"):
            text = self.client.get(page).content.decode()
            self.assertNotRegex(text, r"<script(?![^>]*src=)|\son\w+=|\sstyle=|https?://(?!www\.w3\.org)", page)

    def test_the_key_is_kept_out_of_the_tree(self):
        self.assertFalse(settings.DEBUG)
        self.assertGreater(len(settings.SECRET_KEY), 40)
        self.assertEqual((Path(settings.DATA_DIR) / "secret_key").stat().st_mode & 0o077, 0)

    def test_a_name_cannot_carry_a_script(self):
        self.client.post("/tickets/new/", {"name": "<script>alert(1)</script>"})
        self.assertNotContains(self.client.get("/"), "<script>alert")

    def test_units_go_back_only_to_this_site(self):
        answer = self.client.post("/people/units/", {"back": "https://elsewhere.example/"})
        self.assertEqual(answer["Location"], "/")


class Uploads(ShopCase):
    def upload(self, raw):
        self.client.force_login(self.lead)
        return self.client.post("/brakes/upload/", {"file": SimpleUploadedFile("brake.json", raw)})

    def test_a_brake_file_is_read_in(self):
        self.assertEqual(self.upload(json.dumps(press_file() | {"name": "Second"}).encode()).status_code, 302)
        self.assertEqual(Brake.objects.get(name="Second").press.tonnage_kn, 600)

    def test_bad_brake_files_are_refused(self):
        for raw, words in [(b"{", "not JSON"), (b'{"a":' * 5000, "nested"), (b" " * 1_500_000, "1 MB"),
                           (json.dumps(press_file() | {"stroke": 0}).encode(), "stroke: must be greater than 0")]:
            answer = self.upload(raw)
            self.assertContains(answer, words, status_code=422)
        self.assertEqual(Brake.objects.count(), 1)

    def test_a_lead_takes_off_only_what_was_never_released(self):
        self.client.force_login(self.lead)
        self.release()
        self.client.post("/t/7/remove/")
        self.assertTrue(Ticket.objects.filter(number=7).exists())


class Built(ShopCase):
    def digest(self, files):
        made = hashlib.sha256()
        for file in sorted(files):
            made.update(file.encode() + (ROOT / file).read_bytes())
        return made.hexdigest()

    def test_built_files_are_current(self):
        """The same lists as assets/build.mjs."""
        def under(folder):
            return [p.relative_to(ROOT).as_posix() for p in (ROOT / folder).rglob("*") if p.is_file()]
        out = "dorvan/static/build"
        written = json.loads((ROOT / out / "built.json").read_text())
        sources = [*under("assets"), *(p for p in under("dorvan") if p.endswith(".html")), "package-lock.json"]
        self.assertEqual(written["sources"], self.digest(sources), "stale: run make assets")
        built = [p for p in under(out) if not p.endswith("built.json")]
        self.assertEqual(written["built"], self.digest(built), "changed by hand: run make assets")

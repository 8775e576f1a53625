"""The shop's data as a whole: backups made under load, old shops, full disks, sign-ins guessed at, a TLS front."""

import gzip
import http.cookiejar
import io
import os
import re
import signal
import sqlite3
import ssl
import subprocess
import sys
import tempfile
import threading
import time
import urllib.parse
import urllib.request
from contextlib import closing
from datetime import timedelta
from http.client import HTTPConnection
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from unittest import mock

from django.contrib.sessions.models import Session
from django.core.management import CommandError, call_command
from django.db import OperationalError, connection
from django.test import Client, SimpleTestCase

from dorvan.floor.models import CheckSheet
from dorvan.keeping import health
from dorvan.keeping.copies import Unfit, check, copy, put_back
from dorvan.keeping.models import Taken
from dorvan.people import rest
from dorvan.people.models import User
from tests.core.samples import ROOT
from tests.server import Server
from tests.web.base import ShopCase

OLD = ROOT / "tests" / "data" / "shop-0003.sqlite3.gz"
"""The demo shop as the version before kept it."""


def old_shop(folder: Path) -> Path:
    path = folder / "dorvan.sqlite3"
    path.write_bytes(gzip.decompress(OLD.read_bytes()))
    return path


def rows(path: Path) -> dict[str, list]:
    with closing(sqlite3.connect(path)) as made:
        names = [n for (n,) in made.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        return {name: made.execute(f'SELECT * FROM "{name}" ORDER BY rowid').fetchall() for name in names}


def manage(folder: Path, *words: str, **env) -> subprocess.CompletedProcess:
    return subprocess.run([sys.executable, "manage.py", *words], cwd=ROOT, capture_output=True, text=True,
                          env=os.environ | {"DORVAN_DATA": str(folder), "DORVAN_WORKERS": "0",
                                             "PYTHONWARNINGS": "ignore"} | env)


class Copies(SimpleTestCase):
    def setUp(self):
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.live = old_shop(self.folder)

    def test_a_backup_under_load_is_the_shop_of_one_moment_row_by_row(self):
        """Two rows are always written together; a copy with one of a pair would be of two moments."""
        with closing(sqlite3.connect(self.live)) as base:
            base.execute("PRAGMA journal_mode=WAL")
            base.executescript("CREATE TABLE one (n INTEGER, pad TEXT); CREATE TABLE other (n INTEGER, pad TEXT);")
        stop, written = threading.Event(), []

        def write():
            with closing(sqlite3.connect(self.live, timeout=20)) as own:
                while not stop.is_set():
                    with own:
                        for table in ("one", "other"):
                            own.execute(f"INSERT INTO {table} VALUES (?, ?)", (len(written), "x" * 5000))
                    written.append(1)

        writer = threading.Thread(target=write)
        writer.start()
        try:
            for n in range(5):
                before = len(written)
                copy(self.live, self.folder / f"copy-{n}.sqlite3")
                kept = rows(self.folder / f"copy-{n}.sqlite3")
                self.assertEqual(kept["one"], kept["other"])
                self.assertGreaterEqual(len(kept["one"]), before)
                time.sleep(0.05)
        finally:
            stop.set()
            writer.join()
        self.assertGreater(len(written), 20)
        kept = self.folder / "copy-4.sqlite3"
        before = rows(kept)
        saved = put_back(kept, self.live)
        self.assertEqual(rows(self.live), before)
        self.assertEqual(len(rows(saved)["one"]), len(written))

    def test_what_is_no_sound_copy_is_not_put_back(self):
        bad = self.folder / "bad.sqlite3"
        for content, words in ((b"", "not the database"), (b"words" * 1000, "not the database"),
                               (self.live.read_bytes()[:200_000] + bytes(50_000), "")):
            bad.write_bytes(content)
            with self.assertRaisesRegex(Unfit, words):
                put_back(bad, self.live)
        bad.write_bytes(self.live.read_bytes())
        for app in ("tickets", "site", "day", "suppliers", "an_app_to_come"):
            with closing(sqlite3.connect(bad)) as made, made:
                made.execute("INSERT INTO django_migrations (app, name, applied) "
                             "VALUES (?, '0099_later', '2030-01-01')", [app])
            with self.assertRaisesRegex(Unfit, f"later version of Dorvan .{app} 0099_later"):
                check(bad)
            with closing(sqlite3.connect(bad)) as made, made:
                made.execute("DELETE FROM django_migrations WHERE name = '0099_later'")
        with closing(sqlite3.connect(bad)) as made, made:
            made.execute("UPDATE tickets_edit SET ticket_id = 999999 WHERE id = (SELECT min(id) FROM tickets_edit)")
        with self.assertRaisesRegex(Unfit, "not there"):
            check(bad)
        self.assertEqual(check(self.live), 17)

    def test_a_shop_of_the_version_before_is_brought_up_and_every_ticket_opens(self):
        self.assertEqual(manage(self.folder, "migrate", "-v0").returncode, 0)
        code = """
from django.test import Client
from dorvan.keeping.models import Taken
from dorvan.people import rest
from dorvan.people.models import User
from dorvan.tickets.models import Ticket
from dorvan.tickets.models.history import undo_redo
from django.conf import settings
settings.ALLOWED_HOSTS = ["testserver"]
settings.STORAGES["staticfiles"] = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
client = Client()
client.force_login(User.objects.get(username="otto"))
assert client.get("/").status_code == 200
for ticket in Ticket.objects.all():
    pages = ["", "stock/", "proof/", "layout/", "order/", "bend/", "check/", "kit/", "card/", "file/part/", "file/dxf/"]
    for page in pages:
        answer = client.get(f"/t/{ticket.number}/{page}", follow=True)
        assert answer.status_code == 200, (ticket.number, page, answer.status_code)
changed = Ticket.objects.get(number=144)
assert changed.name == "Changed rail" and undo_redo(changed)[1] and changed.quantity != 7
assert client.post("/t/144/redo/", headers={"HX-Request": "true"}).status_code == 200
assert Ticket.objects.get(number=144).quantity == 7
print(sorted(t.number for t in Ticket.objects.all() if t.is_released), Ticket.objects.count())
"""
        done = manage(self.folder, "shell", "-v0", "-c", code, DORVAN_SEARCH_SECONDS="0.2")
        self.assertEqual(done.stderr, "")
        self.assertEqual(done.stdout.split()[-1], "17")
        before = rows(self.live)
        self.assertIn("copied", manage(self.folder, "backup", str(self.folder / "a.sqlite3")).stdout)
        self.assertIn("choose another", manage(self.folder, "backup", str(self.folder / "a.sqlite3")).stderr)
        with closing(sqlite3.connect(self.live)) as live, live:
            live.execute("UPDATE tickets_ticket SET quantity = 99")
        self.assertIn("17 tickets are back", manage(self.folder, "restore", str(self.folder / "a.sqlite3")).stdout)
        self.assertEqual(rows(self.live)["tickets_ticket"], before["tickets_ticket"])

    def test_the_documented_settings_pass_the_deployment_checks(self):
        done = manage(self.folder, "check", "--deploy", "--fail-level", "WARNING", DORVAN_HTTPS="1",
                      DORVAN_PROXY="127.0.0.1", DORVAN_HOSTS="dorvan.local", DORVAN_ORIGINS="https://dorvan.local")
        self.assertEqual((done.returncode, "no issues" in done.stdout), (0, True), done.stderr)


class Written(ShopCase):
    def test_a_full_disk_or_a_database_that_may_only_be_read_is_said_plainly_and_nothing_is_half_written(self):
        before = (self.ticket.part, self.ticket.edits.count(), self.ticket.version)
        with connection.cursor() as cursor:
            pages = cursor.execute("PRAGMA page_count").fetchone()[0]
        form = {"action": "set", "field": "name", "value": "x" * 100}
        self.client.raise_request_exception = False
        for begin, end, words in (
                ("PRAGMA query_only = ON", "PRAGMA query_only = OFF", "write-protected"),
                (f"PRAGMA max_page_count = {pages}", "PRAGMA max_page_count = 1000000", "disk is full")):
            connection.cursor().execute(begin)
            try:
                with mock.patch.object(connection, "close"):
                    for n in range(60):
                        answer = self.client.post("/t/7/change/", form | {"value": f"{n} " + "x" * 100})
                        if answer.status_code != 200:
                            break
            finally:
                connection.cursor().execute(end)
            with self.subTest(words):
                self.assertEqual(answer.status_code, 503)
                self.assertIn(words, answer.content.decode())
                self.assertEqual(self.client.get("/t/7/").status_code, 200)
        ticket = type(self.ticket).objects.get(number=7)
        self.assertEqual(ticket.edits.filter(place=ticket.place).get(
        ).part if ticket.place else ticket.part, ticket.part)
        self.assertEqual(list(ticket.edits.values_list("place", flat=True)),
                         list(range(ticket.edits.count())))
        self.assertGreaterEqual((ticket.edits.count(), ticket.version), before[1:])

    def test_a_database_is_flushed_at_every_commit(self):
        with connection.cursor() as cursor:
            self.assertEqual(cursor.execute("PRAGMA synchronous").fetchone()[0], 2)


class SigningIn(ShopCase):
    def sign_in(self, word, name="lead"):
        return Client().post("/people/sign-in/", {"username": name, "password": word})

    def test_guesses_are_stopped_for_that_name_and_others_go_on(self):
        for _ in range(7):
            self.assertEqual(self.sign_in("guess").status_code, 200)
        self.assertEqual(self.sign_in("guess").status_code, 429)
        self.assertEqual(self.sign_in("tin-snips-9").status_code, 429)
        self.assertEqual(self.sign_in("tin-snips-9", "bench").status_code, 302)
        with mock.patch("sys.stdin", io.StringIO("seven long brass rules\n")):
            call_command("person", "lead", "--stdin", stdout=io.StringIO())
        self.assertEqual(self.sign_in("seven long brass rules").status_code, 302)

    def test_one_name_after_another_from_one_place_is_stopped_and_elsewhere_goes_on(self):
        for n in range(24):
            self.assertEqual(self.sign_in("guess", f"name{n % 8}").status_code, 200)
        self.assertEqual(self.sign_in("tin-snips-9").status_code, 429)
        elsewhere = Client(REMOTE_ADDR="10.0.0.9")
        form = {"username": "lead", "password": "tin-snips-9"}
        self.assertEqual(elsewhere.post("/people/sign-in/", form).status_code, 302)

    def test_a_shared_tablet_at_rest_for_an_hour_signs_out_and_ones_own_does_not(self):
        now = time.time()
        for own, hours, stays in (({}, 0.9, True), ({}, 1.1, False), ({"own": "on"}, 100, True)):
            client = Client()
            client.post("/people/sign-in/", {"username": "lead", "password": "tin-snips-9"} | own)
            session = client.session
            Session.objects.filter(pk=session.session_key).update(
                expire_date=session.get_expiry_date() - timedelta(hours=hours))
            self.assertEqual(client.get("/").status_code == 200, stays, (own, hours))
        client = Client()
        client.post("/people/sign-in/", {"username": "lead", "password": "tin-snips-9"})
        before = Session.objects.get(pk=client.session.session_key).expire_date
        with mock.patch.object(rest.time, "time", return_value=now + 1800):
            client.get("/")  # who works puts the end off
        self.assertGreaterEqual(Session.objects.get(pk=client.session.session_key).expire_date, before)
        self.assertGreater(client.session["at"], now + 1700)

    def test_what_is_shown_is_kept_nowhere_and_every_page_answers_head(self):
        self.assertEqual(self.client.get("/")["Cache-Control"], "no-store")
        self.assertNotIn("Cache-Control", Client().get("/"))
        for page in ("/", "/t/7/", "/ledger/", "/brakes/", "/people/reading/", "/health/"):
            self.assertEqual(self.client.head(page).status_code, 200, page)

    def test_monitors_ask_whether_it_is_well(self):
        answer = Client().get("/health/")
        self.assertEqual((answer.status_code, answer.content), (200, b"ok"))
        with mock.patch.object(health.connection, "cursor", side_effect=OperationalError):
            self.assertEqual(Client().get("/health/").status_code, 503)

    def test_the_first_person_is_made_by_a_command_with_a_long_pass_phrase(self):
        for word, ok in (("short", False), ("password1234", False), ("two bars and a hammer", True)):
            with mock.patch("sys.stdin", io.StringIO(word + "\n")):
                if ok:
                    call_command("person", "first", "--role", "lead", "--stdin", stdout=io.StringIO())
                else:
                    with self.assertRaises(CommandError):
                        call_command("person", "first", "--role", "lead", "--stdin")
        self.assertTrue(User.objects.get(username="first").is_lead)
        self.assertEqual(self.sign_in("two bars and a hammer", "first").status_code, 302)


class KeptOnDevices(ShopCase):
    """What a device's queue sends, as it sends it."""

    def send(self, piece="1", by="bench", key="11111111-1111-4111-8111-111111111111", **more):
        sizes = {"L1": "30", "L2": "60", "L3": "30", "B1": "90", "B2": "90", "turned": "yes"}
        return self.client.post("/t/7/check/save/", {"piece": piece} | sizes | more, headers={
            "X-Kept-By": by, "X-Kept-Key": key})

    def test_it_is_taken_under_its_own_name_only(self):
        self.release()
        self.assertEqual(self.send(by="lead").status_code, 401)
        self.assertFalse(CheckSheet.objects.exists())
        answer = self.send()
        self.assertEqual((answer.status_code, answer["X-Next"]), (204, "/t/7/check/?piece=1"))
        self.assertEqual(CheckSheet.objects.get().by, self.bench)
        self.client.logout()
        self.assertEqual(self.send(key="21111111-1111-4111-8111-111111111111").status_code, 401)
        self.client.force_login(self.bench)
        told = self.client.post("/people/reading/take/", {"reading": "mm"}, headers={"X-Kept-By": "bench"})
        self.assertEqual(told.status_code, 204)
        self.assertTrue(told.cookies)  # what the next page is to say

    def test_a_key_is_taken_once_and_with_what_it_wrote(self):
        self.release()
        for _ in range(3):
            self.assertEqual(self.send().status_code, 204)
        self.assertEqual(CheckSheet.objects.count(), 1)
        refused = self.send(key="31111111-1111-4111-8111-111111111111", L1="nothing")
        self.assertEqual(refused.status_code, 422)
        self.assertEqual(self.send(key="31111111-1111-4111-8111-111111111111").status_code, 204)  # may come again
        self.assertEqual(CheckSheet.objects.count(), 2)
        with mock.patch.object(CheckSheet.objects, "create", side_effect=OperationalError("disk I/O error")):
            self.client.raise_request_exception = False
            self.send(key="41111111-1111-4111-8111-111111111111")
        self.assertFalse(Taken.objects.filter(key="41111111-1111-4111-8111-111111111111").exists())


class Running(SimpleTestCase):
    def test_the_server_owns_its_data_says_where_its_log_is_and_ends_at_once(self):
        server = Server(demo=False, DORVAN_WORKERS="1")
        try:
            path = server.folder / "dorvan.sqlite3"
            self.assertEqual(path.stat().st_mode & 0o077, 0)
            copied = manage(server.folder, "backup", str(server.folder / "copy"))
            self.assertEqual(copied.returncode, 0, copied.stderr)
            self.assertEqual((server.folder / "copy").stat().st_mode & 0o077, 0)
            refused = manage(server.folder, "restore", str(server.folder / "copy"))
            self.assertIn("Dorvan is running on this shop", refused.stderr)
            urllib.request.urlopen(f"{server.address}/health/", timeout=20).close()
            self.assertIn("GET /health/ 200", (server.folder / "dorvan.log").read_text())
            begun = time.monotonic()
            os.kill(server.process.pid, signal.SIGINT)
            server.process.wait(10)
            self.assertLess(time.monotonic() - begun, 3)
            restored = manage(server.folder, "restore", str(server.folder / "copy"))
            self.assertEqual(restored.returncode, 0, restored.stderr)
        finally:
            server.remove()

    def test_a_folder_that_may_not_be_written_is_one_plain_line(self):
        answer = subprocess.run([sys.executable, "-m", "dorvan.serve"], cwd=ROOT, capture_output=True, text=True,
                                check=False, env=os.environ | {"DORVAN_DATA": "/dev/null/shop"})
        self.assertEqual((answer.returncode, len(answer.stderr.splitlines())), (1, 1), answer.stderr)
        self.assertIn("cannot use its data folder", answer.stderr)


class Front(BaseHTTPRequestHandler):
    """A TLS front: passes on what it gets, and says that it came by https."""

    backend = 0

    def _pass_on(self):
        body = self.rfile.read(int(self.headers.get("Content-Length") or 0))
        headers = {k: v for k, v in self.headers.items() if not k.lower().startswith("x-forwarded")}
        onward = HTTPConnection("127.0.0.1", self.backend)
        try:
            onward.connect()
        except OSError:  # not up yet
            self.send_error(502)
            return
        onward.request(self.command, self.path, body, headers | {"X-Forwarded-Proto": "https",
                                                                 "X-Forwarded-For": self.client_address[0]})
        answer = onward.getresponse()
        content = answer.read()
        self.send_response(answer.status)
        for name, value in answer.getheaders():
            if name.lower() not in ("transfer-encoding", "connection", "content-length", "date", "server"):
                self.send_header(name, value)
        self.send_header("Content-Length", str(len(content)))
        self.end_headers()
        self.wfile.write(content)

    do_GET = do_POST = _pass_on  # noqa: N815

    def log_message(self, *_):
        pass


class BehindTls(SimpleTestCase):
    def test_people_sign_in_and_work_behind_a_real_tls_front(self):
        server = Server(DORVAN_HTTPS="1", DORVAN_PROXY="127.0.0.1")
        Front.backend = server.port
        front = ThreadingHTTPServer(("127.0.0.1", 0), Front)
        keys, certificate = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER), ROOT / "tests" / "data" / "front.pem"
        keys.load_cert_chain(certificate)
        front.socket = keys.wrap_socket(front.socket, server_side=True)
        threading.Thread(target=front.serve_forever, daemon=True).start()
        address = f"https://127.0.0.1:{front.server_address[1]}"
        jar = http.cookiejar.CookieJar()
        web = urllib.request.build_opener(urllib.request.HTTPSHandler(context=ssl.create_default_context(
            cafile=certificate)), urllib.request.HTTPCookieProcessor(jar))
        try:
            page = web.open(f"{address}/people/sign-in/", timeout=20).read().decode()
            token = re.search(r'csrfmiddlewaretoken" value="([^"]+)"', page)[1]
            form = urllib.parse.urlencode(
                {"username": "otto", "password": "honey-lead-1", "csrfmiddlewaretoken": token})
            asked = urllib.request.Request(f"{address}/people/sign-in/", form.encode(), {
                "Origin": address, "Referer": f"{address}/people/sign-in/"})
            answer = web.open(asked, timeout=20)
            self.assertEqual((answer.status, answer.url), (200, f"{address}/"))
            self.assertTrue(all(cookie.secure for cookie in jar))
            self.assertIn("max-age", answer.headers["Strict-Transport-Security"])
            # what does not come by the front is sent there, whatever it claims
            plain = HTTPConnection("127.0.0.1", server.port)
            plain.request("GET", "/people/sign-in/", headers={"Host": f"127.0.0.1:{server.port}"})
            self.assertEqual(plain.getresponse().status, 301)
        finally:
            front.shutdown()
            server.remove()

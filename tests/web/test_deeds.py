"""Who may do what, in one table; what asks less or takes away is on record, with before and after."""

from django.urls import get_resolver

from dorvan.day.models import Away
from dorvan.ledger.models import Sample
from dorvan.people import may
from dorvan.people.models import Deed
from dorvan.tickets.models import BlankCut, Ticket
from tests.web.base import ShopCase
from tests.web.ledgers import one_of_each


def posting_names() -> set[str]:
    """Names of all addresses that answer a post with anything but 405, found by asking."""
    from django.urls import URLPattern

    def walk(resolver, prefix=""):
        for one in resolver.url_patterns:
            if isinstance(one, URLPattern):
                yield f"{prefix}{one.name}", one.callback
            else:
                yield from walk(one, f"{prefix}{one.namespace}:" if one.namespace else prefix)

    class Asked:
        method, path, POST, FILES, META = "POST", "/", {}, {}, {}
        headers = {}

    found = set()
    for name, view in walk(get_resolver()):
        try:
            status = getattr(view(Asked()), "status_code", 200)
        except Exception:  # it went on, and missed what it was to be given
            status = 200
        if status != 405:
            found.add(name)
    return found


class Table(ShopCase):
    def test_every_address_that_takes_a_post_is_in_it_once_and_no_other(self):
        named = [*may.OPEN, *may.EVERYONE, *may.LEADS]
        self.assertEqual(len(named), len(set(named)))
        self.assertEqual(posting_names(), set(named))

    def test_what_is_not_in_it_nobody_may(self):
        for who in (self.bench, self.lead):
            self.client.force_login(who)
            with self.settings(), self.subTest(who):
                for name in ("EVERYONE", "LEADS"):
                    kept = set(getattr(may, name))
                    getattr(may, name).clear()
                    try:
                        self.assertEqual(self.client.post("/tickets/new/", {"name": "x"}).status_code,
                                         405 if name == "EVERYONE" else 302)
                    finally:
                        getattr(may, name).update(kept)

    def test_the_shops_log_is_for_leads(self):
        self.assertEqual(self.client.get("/people/log/").status_code, 403)
        self.client.force_login(self.lead)
        self.assertEqual(self.client.get("/people/log/").status_code, 200)


class Record(ShopCase):
    def deeds(self):
        return [(d.by.username, d.what, d.before, d.after) for d in Deed.objects.order_by("pk")]

    def test_a_kind_of_job_that_asks_less_is_on_record_and_a_leads_once_metal_is_cut(self):
        act = "/t/7/gate/act/"
        self.client.post(act, {"what": "job", "job": "fitted"})
        self.client.post(act, {"what": "job", "job": "fitted"})  # nothing new
        self.client.post(act, {"what": "job", "job": "trial"})
        self.assertEqual(self.deeds(), [("bench", "job", "plain part", "fits a place or another part"),
                                        ("bench", "job", "fits a place or another part", "a piece to try something")])
        self.assertContains(self.client.get("/t/7/gate/"), "plain part → fits a place")
        self.client.post(act, {"what": "job", "job": "fitted"})
        BlankCut.objects.create(ticket=self.ticket, plan="C-1", sheet=1, lot="L", count=1, blank="x", by=self.bench)
        self.assertContains(self.client.post(act, {"what": "job", "job": "trial"}), "a lead must say so",
                            status_code=422)
        self.assertEqual(Ticket.objects.get(number=7).job, "fitted")
        self.client.force_login(self.lead)
        self.assertEqual(self.client.post(act, {"what": "job", "job": "trial"}).status_code, 302)
        self.assertEqual(self.deeds()[-1][:2], ("lead", "job"))

    def test_taking_off_that_it_is_structural_likewise(self):
        self.client.post("/t/7/setup/structural/", {"structural": "on"})
        BlankCut.objects.create(ticket=self.ticket, plan="C-1", sheet=1, lot="L", count=1, blank="x", by=self.bench)
        self.assertContains(self.client.post("/t/7/setup/structural/"), "a lead&#x27;s to take off", status_code=422)
        self.assertTrue(Ticket.objects.get(number=7).structural)
        self.client.force_login(self.lead)
        self.client.post("/t/7/setup/structural/")
        self.assertEqual([d[:2] + d[3:] for d in self.deeds()], [
            ("bench", "structural", "structural or safety part"), ("lead", "structural", "neither")])

    def test_everything_else_that_asks_less_or_takes_away(self):
        one_of_each(self.bench)
        self.client.force_login(self.lead)
        self.client.post("/t/7/archive/")
        self.client.post("/t/7/archive/", {"back": "1"})
        sample = Sample.objects.first()
        self.client.post(f"/ledger/samples/{sample.pk}/mark/", {"do": "drop", "reason": "slipped in the clamp"})
        self.client.post("/gate/ask/", {})  # an empty post is no answer to anything
        self.assertEqual([d[1] for d in self.deeds()], ["archive", "archive", "sample"])
        self.client.post("/gate/ask/", {"asks": "1", "plain-order": "on"})
        self.client.post("/day/crew/rates/", {"cut": "45"})
        self.client.post("/day/crew/hours/", {"stretches": "7:00-15:00", "day0": "on"})
        self.client.post("/day/crew/away/", {"user": self.bench.pk, "begin": "2031-12-01T07:00",
                                             "end": "2031-12-02T07:00", "note": "away"})
        self.client.post("/day/crew/away/", {"remove": Away.objects.get().pk})
        Ticket.objects.create(number=70, part=self.ticket.part, made_by=self.lead)
        self.client.post("/t/70/remove/")
        self.client.post("/people/add/", {"name": "mira", "role": "bench"})
        self.client.post("/people/devices/trust/", {"device": "press bench"})
        self.client.post("/shop/set/", {"field": "name", "value": "Nine Elms Folding"})
        seen = {d[1] for d in self.deeds()}
        self.assertEqual(seen, set(Deed.What.values) - {"job", "structural", "opened"})
        page = self.client.get("/people/log/?by=lead&what=archive&ticket=T-0007")
        self.assertEqual([d.what for d in page.context["page"]], ["archive", "archive"])
        self.assertEqual(len(self.client.get("/people/log/?ticket=99").context["page"]), 0)
        Deed.objects.create(by=self.lead, what="archive", before="a", after="b", ticket="T-0107")  # ends alike
        for asked, count in (("7", 2), ("t-07", 2), ("107", 1), ("0", 0), ("x", 0), ("²", 0)):
            found = self.client.get(f"/people/log/?what=archive&ticket={asked}").context["page"]
            self.assertEqual(len(found), count, asked)

"""What is sent: each way a page, a form or a file comes, with values that could be meant among what could not."""

import random

from tests.fuzz import sweep

BENT = 10
"""So many bent files go straight through the core for each one that is sent."""
STAGES = ("", "stock/", "proof/", "layout/", "card/", "workings/", "marking-out/", "still.svg", "folded/", "space/", "proved/",
          "section/?axis=y", "file/dxf/", "file/stl/", "file/csv/", "sample/", "gate/", "setup/")
"""What is looked at of a part whose sizes were swept."""
SET_UP = ("quantity", "due", "brake", "punch", "die", "lot", "nose", "shim", "slip")


class Sent:
    """What :class:`~tests.fuzz.__main__.Fuzz` sends. It has the ``rng``, ``clients``, ``numbers``, ``texts``, ``corpus``
    and ``fields``, and posts, gets and reads what must hold."""

    def value(self) -> str:
        """What is typed: a nasty, whatever Hypothesis thinks of, or what could be meant."""
        return self.pick([self.pick(self.nasties.VALUES), self.pick(self.texts), f"{self.rng.uniform(-1e4, 1e4)}",
                          str(self.rng.randint(0, 60)), f"{self.rng.uniform(1, 120):.2f}"])

    def pick(self, values):
        return self.rng.choice(values)

    def one(self):
        """One thing that somebody sends."""
        value, pick = self.value, self.pick
        client, number = pick(self.clients), pick(self.numbers)
        way = pick(["field"] * 4 + ["sweep"] * 4 + ["action"] * 4 + ["set-up", "undo", "order", "floor", "kit", "cutting", "shop",
                                                    "site", "site", "outside", "joining", "day", "brake",
                                                    "ledger", "file", "file", "rack"])
        getattr(self, "_" + way.replace("-", "_"))(client, number, value, pick)

    def _field(self, client, number, value, pick):
        """A field that the page of this ticket offers, or any other."""
        import re

        page = client.get(f"/t/{number}/{pick(['', 'stock/', 'proof/'])}").content.decode()
        offered = sorted(set(re.findall(r'data-field="([^"]+)"', page)))
        field = pick(pick([offered or ["name"]] * 3 + [self.fields]))
        self.post(client, f"/t/{number}/change/", {"action": "set", "field": field, "value": value(),
                                                   "stage": pick(["shape", "stock", "proof", "order", "²"])},
                  number)

    def _sweep(self, client, number, value, pick):
        """A field or two at or beyond their limits; then the part as it was."""
        from dorvan.tickets.models import Ticket

        part = Ticket.objects.get(number=number).part
        self.swept(number, part, sweep.at_random(part, self.rng))

    def swept(self, number, part, changes):
        """These fields typed one after the other, every stage looked at where they are taken, the part as it was."""
        from dorvan.tickets.models import Ticket

        before = Ticket.objects.filter(number=number).values("part", "version", "place").get()
        client, taken = self.pick(self.clients), False
        for field, value in changes:
            form = {"action": "set", "field": field, "value": value, "stage": "shape"}
            answer = self.hold(lambda form=form: client.post(f"/t/{number}/change/", form,
                                                             headers={"HX-Request": "true"}),
                               "POST", f"/t/{number}/change/", {"changes": changes})
            taken = taken or answer.status_code == 200
        if taken:
            for page in STAGES:
                self.hold(lambda page=page: client.get(f"/t/{number}/{page}"), "GET", f"/t/{number}/{page}",
                          {"changes": changes})
        Ticket.objects.get(number=number).edits.filter(place__gt=before["place"]).delete()
        Ticket.objects.filter(number=number).update(**before)

    def _action(self, client, number, value, pick):
        form = {"action": pick([*self.actions, "nonsense"]),
                "index": pick(["", "0", "1", "2", "0.0", "1.1", "²", "-1", "9" * 20]), "value": value(),
                "field": pick(self.fields), "side": pick(["L1", "length", "x"]),
                "way": pick(["around", "into", ""]), "clearance": pick(["", "0.5", "x"]),
                "points": pick(["", "[[0,0],[40,0],[40,60]]", "[[0,0],[NaN,1]]", "[1]", "{"])}
        self.post(client, f"/t/{number}/change/", form, number)

    def _set_up(self, client, number, value, pick):
        self.post(client, f"/t/{number}/set-up/", {pick(SET_UP): value()}, number)

    def _undo(self, client, number, value, pick):
        self.post(client, f"/t/{number}/{pick(['undo', 'redo'])}/", {"seen": pick(["", "0" * 16])}, number)

    def _order(self, client, number, value, pick):
        self.post(client, f"/t/{number}/order/try/", {"names": pick(
            ["", "B1", "B1,B2", "B2,B1", "B1,B1,B2", "HS,B1", "x", "," * 50]) or value()}, number)

    def _floor(self, client, number, value, pick):
        what = pick(["release/", "bend/record/", "bend/record/", "bend/log/", "check/save/", "check/1/decide/",
                     "setup/look-over/", "setup/structural/", "override/", "twin/"])
        form = {key: value() for key in ("angle", "leg", "depth", "leg_name",
                           "piece", "step", "L1", "B1", "length", "reason")}
        form |= {"code": pick(["leg", "radius", "clash"]), "where": pick(["L1", "B1"]), "key": value(),
                 "what": pick(["undone", "scrapped", "guard muted", "closed", "save", "x"]), "words": value(),
                 "L1~1": value(), "B1~2": value(), "blank~L1": value(), "brake": pick(["1", "2", "²"]), "jogged": "on"}
        form |= {f"point-{n}": "on" for n in range(9) if pick([True] * 9 + [False])}
        self.post(client, f"/t/{number}/{what}", form, number)
        self.get(client, f"/t/{number}/bend/?piece={number}&step={pick(['²', '2', '0', '99999999999'])}")
        self.post(client, f"/practice/{pick(['begin', 'bend', 'look'])}/", {
            "lesson": pick(["hat", "box", "own-k", "x"]), "ticket": str(number), "to-0": value(), "stop-0": value(),
            "way-0": "nearer", "what": pick(["hint", "shown", "end"]), "k": value()})
        for page in (f"t/{number}/setup", f"t/{number}/check", "practice"):
            self.get(client, f"/{page}/")

    def _kit(self, client, number, value, pick):
        what = pick(["add", "piece", "made", "bought"])
        form = {"what": pick(["mate:cap", "mate:lid", "mate:side", "tray", "profile", "T-0150", "T-²", "x"]),
                "piece": pick([str(number), "0", "²", ""]), "kind": pick(
                    ["pieces", "length", "lining", "x"])}
        form |= {key: value() for key in ("name", "each", "clearance", "amount", "length", "width", "remove")}
        if pick([True, False]):
            form.pop("remove")
        self.post(client, f"/t/{number}/kit/{what}/", form, number)
        self.get(client, f"/t/{number}/kit/orders/")
        self.post(client, f"/t/{number}/kit/orders/stop/", {}, number)
        table = pick([f"name,count,{pick(['length', 'legs[0]', 'flange.width', 'x'])}\na,{value()},{value()}",
                      value(), "name\tlength\na\t90\n", "name,count\na,²\n"])
        self.post(client, f"/t/{number}/kit/sizes/", {"table": table}, number)

    def _cutting(self, client, number, value, pick):
        way = pick(["shear", "saw", "x"])  # nesting takes its seconds
        form = {f"t{pick([number, 142, 160, '²', ''])}": pick(["1", "3", value()]), "way": way, "margin": pick(["", "5", value()]),
                "kerf": pick(["", "1", value()]), "stock": pick(["", "", "", "galvanised 0.7", value()]),
                "all": pick(["", "", "", value()])}
        answer = self.post(client, "/cutting/new/", form)
        plan = answer["Location"] if answer.status_code == 302 and "/cutting/" in answer["Location"] else "/cutting/1/"
        self.get(client, plan)
        self.post(client, f"{plan}move/", {"piece": pick([f"T-{number:04d}.1", value()]), "sheet": pick(["1", value()]),
                                           "x": value(), "y": value(), "turned": value()})
        self.post(client, f"{plan}cut/", {"what": pick(["cut", "undone", "x"]), "sheet": pick(["1", "2", value()])})
        self.post(client, f"{plan}{pick(['end', 'away'])}/", {"what": pick(["", "back", value()])})
        self.get(client, f"/cutting/blanks/{number}/")
        for page in (plan, "/cutting/", f"{plan}sheet-1.dxf", f"{plan}sheet-999999999.dxf", f"{plan}labels.pdf"):
            self.get(client, page)

    def _site(self, client, number, value, pick):
        """What is done at a site sheet; readings and rules that could be meant among what could not."""
        here = pick(["/site/1/", "/site/2/", "/site/²/", "/site/99999999999/"])
        form = {"what": pick(["thing", "waiting", "forget-thing", "reading", "reading", "strike", "rule", "rule", "forget-rule", "use",
                              "take-over", "forget-use", "sizes", "stroke", "rub-out", "x"]),
                "kind": pick(["opening", "sides", "angle", "given", "edge", "dimension", "x"]), "to": pick(["", "edge", value()]),
                "thing": pick(["1", "2", "3", "²", value()]), "rule": pick(["", "1", "2", "99", value()]), "use": pick(["1", "2", value()]),
                "reading": pick(["250", "1/2 in", "4;5;6", value()]), "ticket": pick([str(number), "170", value()]),
                "text": pick(["niche width", "half of shelf depth less 2", "box length plus box length", "(" * 99, value()]),
                "field": pick(["length", "width", "legs[0]", "walls.left.height", value()]), "name": pick(["niche width", "a b", value()]),
                "table": pick(["name,length\na,shelf depth less 4\n", f"name,count,length\n{value()},{value()},{value()}", value()])}
        form |= {key: value() for key in ("allowed", "awaits", "until", "who", "x0", "y0", "x1", "y1", "n")}
        self.post(client, f"{here}act/", form)
        self.post(client, "/site/new/", {"name": value(), "on": pick(["2026-01-01", value()]), "place": value()})
        for page in (here, "/site/", f"{here}readings.csv", f"{here}?ticket={number}", f"{here}photograph-1.jpg"):
            self.get(client, page)
        self.post(client, f"/t/{number}/gate/act/", {"what": pick(["job", "mock-up", "open", "x"]), "job": pick(["fitted", "trial", value()]),
                                                     "note": value(), "point": pick(["order", "measured", value()]), "reason": value()})
        self.post(client, "/gate/ask/", {"asks": "1", f"{pick(['plain', 'batch', 'x'])}-{pick(['order', 'x'])}": "on"})
        self.get(client, "/gate/")

    def _outside(self, client, number, value, pick):
        from django.core.files.uploadedfile import SimpleUploadedFile

        content = pick(self.corpus["supplier"])[1]
        if pick([True, True, False]):
            content = self.nasties.bent(content, self.rng)
        self.post(client, "/suppliers/read-in/", {"file": SimpleUploadedFile("supplier.json", content), "text": value()})
        self.post(client, "/suppliers/begin/", {"name": value()})
        self.post(client, f"/suppliers/{pick(['1', '2', '3', '9'])}/limits/set/", pick([
            {"field": pick(["kerf", "largest.length", "angles.most", "parallel", "stocks[0].k", "stocks[0].thickness",
                            "stocks[7].k", "stocks[0]", value()]), "value": value(), "action": pick(["", "set", "remove"])},
            {"table": pick(["metal,t,r,k,flange\n" + value(), value()])}, {"action": "add"}]))
        self.post(client, f"/t/{number}/outside/choose/", {"supplier": pick(["", "1", "2", value()]), "what": pick(["", "figures", value()])})
        self.post(client, f"/t/{number}/outside/pack/", {"note": value()})
        self.post(client, f"/t/{number}/outside/back/", {"piece": pick(["1", value()])} | {f"r-{n}": value() for n in range(3)})
        for page in ("/suppliers/", "/suppliers/1/", "/suppliers/9/", "/suppliers/2/profile.json", f"/t/{number}/outside/"):
            self.get(client, page)

    def _joining(self, client, number, value, pick):
        form = {"piece": pick([str(number), value()]), "key": pick(["", "corner:front", "seam", "rivets", value()]),
                "kind": pick(["weld", "rivet", "cleat", "x"]), "remove": pick(["", "", "1", value()]), "sealed": pick(["on", ""])}
        form |= {key: value() for key in ("place", "length", "times", "count", "pitch", "end")}
        self.post(client, f"/t/{number}/joins/choose/", form)
        for page in (f"/t/{number}/joins/", f"/t/{number}/pack/", f"/t/{number}/pack/printed.pdf?{pick(['tag', 'check', 'x'])}=on"):
            self.get(client, page)

    def _day(self, client, number, value, pick):
        self.post(client, "/day/new/", {"all": pick(["", "", value()]), f"t{number}": "on",  # a whole rack takes its half minute
                                        f"m{number}": pick(["", "30", value()]), f"t{value()}": "on"})
        self.post(client, f"/day/{pick(['1', '2', '99'])}/fix/", {
            "task": pick([f"T-{number:04d}", f"T-{number:04d} cut", value()]), "minute": pick(["", value()]), "at": pick(["", value()]),
            "free": pick(["", "1"]), "by": pick(["", "*", "ines", value()]), "brake": pick(["", "2 m leaf brake", value()])})
        what, form = pick([("hours", {"stretches": pick(["7:00-12:00", value()]), "day1": "on"}),
                           ("hand", {"user": pick(["1", "2", value()]), "planned": "on"}),
                           ("rates", {"cut": value(), "mark": pick(["", value()]), "walk": pick(["", "60", value()])}),
                           ("away", {"user": pick(["1", "2", value()]), "begin": pick(["2026-12-01T08:00", value()]),
                                     "end": pick(["2026-12-01T10:00", value()]), "note": value(), "remove": pick(["", "", "1"])})])
        self.post(client, f"/day/crew/{what}/", form)
        for page in ("/day/", "/day/crew/"):
            self.get(client, page)

    def _shop(self, client, number, value, pick):
        what, names = pick([
            ("stockroom/lots/new/", ("code", "material", "thickness", "length", "width", "count", "readings", "grain", "note")),
            ("stockroom/lots/L-031/measure/", ("count", "readings")),
            ("stockroom/lots/L-031/leftover/", ("length", "width", "count")),
            ("stockroom/materials/mild-steel/set/", ("key", "value", "source", "status")),
            ("stockroom/materials/add/", ("name", "source", "yield_mpa")),
            ("brakes/tooling/add/", ("name", "kind", "size", "rated")),
            ("shop/set/", ("field", "value", "seen")), ("shop/mark/take/", ("mark", "without")),
            ("shop/bundle/read/", ("bundle",)), ("people/pin/take/", ("old_for_pin", "pin", "pin_again")),
            ("people/devices/trust/", ("device",)), ("people/take-over/", ("name", "pin", "next")),
            ("people/units/", ("back",))])
        self.post(client, f"/{what}", {name: value() for name in names})
        self.get(client, f"/{what.split('/')[0]}/" if not what.startswith("people") else "/")
        self.get(client, pick(["/shop/", "/shop/mark/", "/shop/bundle/", f"/t/{number}/bundle.zip"]))

    def _brake(self, client, number, value, pick):
        brake, tool = self.rng.randint(0, 7), f"{pick(['punches', 'dies', 'rams'])}/{self.rng.randint(0, 8)}"
        kinds = ["press", "leaf", "finger", "bars", "tongs", "straight", "acute", "offset", "v", "flat", value()]
        sizes = ["length", "nose_angle", "finger_height", "beam_front", "stop_most", "capacity", "land", "tip", "v", "angle",
                 "pieces", "again", "turnable", "max_kn_per_m", value()]
        self.post(client, "/brakes/begin/", {"kind": pick(kinds), "name": value()})
        for where in (f"{brake}/sizes", f"{brake}/tools/{tool}"):
            self.post(client, f"/brakes/{where}/set/", {"field": pick(sizes), "value": value()})
            self.get(client, f"/brakes/{where}/")
        self.post(client, f"/brakes/{brake}/tools/add/", {"kind": pick(kinds), "name": value()})
        self.post(client, f"/brakes/{brake}/tools/{tool}/act/", {
            "what": pick(["copy", "lend", "rename", "off", "up", "x"]), "name": value(), "to": pick(["1", "6", value()])})
        for page in ("/brakes/new/", f"/brakes/{brake}/sizes/sheet/", f"/brakes/{brake}/tools/{tool}/sheet/",
                     f"/brakes/{brake}/tools/"):
            self.get(client, page)

    def _ledger(self, client, number, value, pick):
        pk, proof = self.rng.randint(0, 6), self.rng.randint(0, 3)
        what, names = pick([
            ("proofs/begin/", ("ticket", "material", "lot", "thickness", "tool", "angle", "strips", "what")),
            (f"proofs/{proof}/strip/", ("strip_number", "do", "shank", "strip", "leg_a", "leg_b", "angle", "thickness",
                                              "inside_radius", "note", "sets")),
            (f"ledger/samples/{pk}/mark/", ("do", "reason")), (f"ledger/{pk}/adopt/", ("k", "reason")),
            (f"ledger/{pk}/withdraw/", ("reason",)), ("ledger/rules/", ("method", "k", "group", "enough")),
            ("ledger/charts/add/", ("name", "text", "units"))])
        self.post(client, f"/{what}", {name: value() for name in names})
        self.get(client, pick(["/ledger/", f"/ledger/{pk}/", f"/proofs/{proof}/?strip=²", "/ledger/csv/"]))

    def _file(self, client, number, value, pick):
        from django.core.files.uploadedfile import SimpleUploadedFile

        kind = pick(list(self.corpus))
        name, content = pick(self.corpus[kind])
        seed = self.rng.randint(0, 2 ** 32)
        if seed % 5:
            content = self.nasties.bent(content, random.Random(seed))
        if kind in ("part", "drawing"):
            for more in range(BENT):
                self.read(self.nasties.bent(content, random.Random(seed + more)), name)
        if kind in ("part", "supplier"):
            return
        if kind == "chart":
            self.post(client, "/ledger/charts/add/", {"name": "fuzz", "text": content.decode("utf-8", "replace")})
            return
        where, field = {"drawing": ("/tickets/read-in/", "file"), "picture": (f"/t/{number}/photograph/keep/", "photograph"),
                        "brake": ("/brakes/upload/", "file"), "ledger": ("/ledger/read-in/", "file")}[kind]
        answer = self.post(client, where, {field: SimpleUploadedFile(name, content)})
        if kind == "drawing" and answer.status_code == 302 and "/t/" in answer["Location"]:
            self.visit(int(answer["Location"].split("/")[2]))

    def _rack(self, client, number, value, pick):
        self.post(client, "/tickets/new/", {"name": value(), "family": pick(["tray", "profile", "x"])})
        for where in ("/", "/?page=²", "/?page=2", "/brakes/", "/stockroom/", "/stockroom/materials/", "/ledger/"):
            self.get(client, where)

"""What can be done at a site sheet, by its word: each reads its form, writes, and lets the tickets follow."""

from collections.abc import Callable
from contextlib import contextmanager

from django.db import transaction

from bendcore.errors import Refusal
from bendcore.formats.size_table import MOST_TEXT
from dorvan import fields, pictures
from dorvan.keeping.taken import take
from dorvan.spreadsheet import brought
from dorvan.tickets import kits
from dorvan.tickets.models import Ticket

from .forms import read_many, read_reading, read_rule, read_stroke, read_thing, read_waiting
from .models import SizeRule, Thing, Use, Visit
from .moving import Follows, follow
from .table import sizes_from

MOST_THINGS, MOST_RULES, MOST_READINGS, MOST_PICTURES, MOST_STROKES = 120, 200, 20, 12, 200
MOST_USES = 260


TOUCHES = {"rule": ("rule", "name"), "forget-rule": ("rule", "name"), "thing": ("thing", "name"),
           "waiting": ("thing", "name"), "forget-thing": ("thing", "name"), "use": ("use", "field"),
           "forget-use": ("use", "field")}
"""By act what it touches, named by the key that is there, or as it will be called."""


def touched(form) -> list[str]:
    """What of a sheet a form touches. A reading touches nothing that another could: who reads the same thing again
    takes nothing from anybody."""
    what = form.get("what", "")
    if what == "rub-out":
        return ["sketch"]
    if what not in TOUCHES:
        return []
    thing, called = TOUCHES[what]
    return [f"{thing} {form.get(thing) or form.get(called, '')}"[:80]]


@contextmanager
def moving_on(visit: Visit, request, said: str, **values):
    """A transaction in which the sheet comes to its next version, with what a form touches."""
    with transaction.atomic():
        take(request)
        visit.move_on(request.user, touched(request.POST), said, **values)
        yield


def _thing(visit: Visit, request) -> Follows:
    if visit.things.count() >= MOST_THINGS:
        raise Refusal("name", f"is one too many: a sheet holds {MOST_THINGS}")
    found = read_thing(request.POST, visit, request.user.units)
    with moving_on(visit, request, f"named {found['name']}"):
        Thing.objects.create(visit=visit, **found)
    return follow(visit, request.user)


def _waiting(visit, request):
    thing, found = _row(visit.things, request, "thing"), read_waiting(request.POST)
    with moving_on(visit, request, f"said what {thing.name} waits for"):
        Thing.objects.filter(pk=thing.pk).update(**found)
    return follow(visit, request.user)


def _forget_thing(visit, request):
    thing = _row(visit.things, request, "thing")
    using = visit.sheet().using(thing.name)
    if using:
        raise Refusal("thing", f"cannot go: {using[0]} hangs on it")
    if thing.readings.exists():
        raise Refusal("thing", "was read already: strike its readings out instead; the record stays")
    with moving_on(visit, request, f"took {thing.name} off"):
        thing.delete()
    return follow(visit, request.user)


def _reading(visit, request):
    thing = _row(visit.things.prefetch_related("readings"), request, "thing")
    if thing.readings.count() >= MOST_READINGS:
        raise Refusal("reading", f"is one too many: {MOST_READINGS} were taken")
    who = fields.words(request.POST.get("who"), 60) or request.user.username
    found = read_reading(request.POST, thing, request.user.units) | {"who": who, "by": request.user}
    key = fields.key(request.POST.get("key"))
    if key is not None and thing.readings.filter(key=key).exists():
        return follow(visit, request.user)  # it came before, and its answer was lost
    with moving_on(visit, request, f"read {thing.name}"):
        thing.readings.create(**found | ({"key": key} if key else {}))
    return follow(visit, request.user)


def _readings(visit, request):
    things = list(visit.things.prefetch_related("readings"))
    found = read_many(brought(request, "readings", MOST_TEXT), things, request.user.units)
    who = fields.words(request.POST.get("who"), 60) or request.user.username
    for thing in things:
        if sum(one.pk == thing.pk for one, _ in found) + thing.readings.count() > MOST_READINGS:
            raise Refusal("readings", f"are too many of {thing.name}: {MOST_READINGS} are kept")
    with moving_on(visit, request, f"read {len(found)} at once"):
        for thing, reading in found:
            thing.readings.create(**reading | {"who": who, "by": request.user})
    return follow(visit, request.user)


def _strike(visit, request):
    thing = _row(visit.things, request, "thing")
    reading = fields.row(thing.readings.filter(struck_by=None), request.POST.get("reading"))
    with moving_on(visit, request, f"struck out a reading of {thing.name}"):
        thing.readings.filter(pk=reading.pk).update(struck_by=request.user)
    return follow(visit, request.user)


def _rule(visit, request):
    """A new rule, or one changed: looked through with all others before it is kept."""
    form = request.POST
    old = _row(visit.rules, request, "rule") if form.get("rule") else None
    if old is None and visit.rules.count() >= MOST_RULES:
        raise Refusal("name", f"is one too many: a sheet holds {MOST_RULES}")
    found = read_rule(form, visit, request.user.units, old)
    hangs = visit.sheet().using(old.name) if old and old.name != found["name"] else ()
    if hangs:
        raise Refusal("name", f"cannot change: {hangs[0]} hangs on {old.name}")
    new = SizeRule(visit=visit, pk=old and old.pk, **found)
    visit.sheet([new]).check()
    with moving_on(visit, request, f"set {new.name} to “{new.text[:60]}”"):
        new.save()
    return follow(visit, request.user)


def _forget_rule(visit, request):
    rule = _row(visit.rules, request, "rule")
    hangs = visit.sheet().using(rule.name)
    if hangs:
        raise Refusal("rule", f"cannot go: {hangs[0]} hangs on it")
    with moving_on(visit, request, f"took the rule {rule.name} off"):
        rule.delete()
    return follow(visit, request.user)


def _use(visit, request):
    """Let a rule set a size of a ticket."""
    rule = _row(visit.rules, request, "rule")
    ticket = fields.row(Ticket.objects, request.POST.get("ticket"), number=None)
    field = request.POST.get("field", "")[:80]
    if field not in kits.sizable(ticket.part):
        raise Refusal("field", f"is no size of {ticket.tag}")
    taken = Use.objects.filter(ticket=ticket, field=field).select_related("rule__visit").first()
    if taken:
        raise Refusal("field", f"of {ticket.tag} follows {taken.rule.name} of {taken.rule.visit} already")
    if Use.objects.filter(rule__visit=visit).count() >= MOST_USES:
        raise Refusal("field", "is one too many for this sheet")
    with moving_on(visit, request, f"had {rule.name} set {field} of {ticket.tag}"):
        Use.objects.get_or_create(ticket=ticket, field=field, defaults={"rule": rule})
    return follow(visit, request.user)


def _take_over(visit, request):
    use = _row(Use.objects.filter(rule__visit=visit), request, "use")
    return follow(visit, request.user, only=use)


def _forget_use(visit, request):
    use = _row(Use.objects.filter(rule__visit=visit), request, "use")
    with moving_on(visit, request, f"let {use.field} of {use.ticket.tag} go"):
        use.delete()
    return follow(visit, request.user)


def _sizes(visit, request):
    lead = fields.row(Ticket.objects.filter(lead=None), request.POST.get("ticket"), number=None)
    if visit.rules.count() >= MOST_RULES:
        raise Refusal("table", f"has no room: a sheet holds {MOST_RULES} rules")
    count = sizes_from(visit, lead, brought(request, "table", MOST_TEXT), request.user, request.user.units)
    told = follow(visit, request.user)
    return Follows((f"{count} sizes of {lead.tag}: each", *told.moved), told.could_not)


def _picture(visit, request):
    if visit.pictures.count() >= MOST_PICTURES:
        raise Refusal("photograph", f"is one too many: a sheet holds {MOST_PICTURES}")
    jpeg, caption = pictures.sent(request), fields.words(request.POST.get("caption"), 120)
    with transaction.atomic():
        take(request)
        visit.pictures.create(jpeg=jpeg, caption=caption, by=request.user)
    return Follows()


def _forget_picture(visit, request):
    _row(visit.pictures, request, "picture").delete()
    return Follows()


def _stroke(visit, request):
    stroke = read_stroke(request.POST, visit)
    return _sketched(visit, request, [*visit.sketch, stroke], "drew a line")


def _rub_out(visit, request):
    n = fields.whole(request.POST.get("n"), "n", 0, MOST_STROKES)
    return _sketched(visit, request, visit.sketch[:n] + visit.sketch[n + 1:], "rubbed a line out")


def _sketched(visit, request, sketch: list, said: str):
    if len(sketch) > MOST_STROKES:
        raise Refusal("kind", f"is one too many: a sketch has {MOST_STROKES} lines")
    with moving_on(visit, request, said, sketch=sketch):
        pass
    return Follows()


def _row(rows, request, name):
    return fields.row(rows, request.POST.get(name))


ACTS: dict[str, Callable[[Visit, object], Follows]] = {
    "thing": _thing, "waiting": _waiting, "forget-thing": _forget_thing, "reading": _reading,
    "readings": _readings, "strike": _strike,
    "rule": _rule, "forget-rule": _forget_rule, "use": _use, "take-over": _take_over, "forget-use": _forget_use,
    "sizes": _sizes, "picture": _picture, "forget-picture": _forget_picture, "stroke": _stroke, "rub-out": _rub_out}
"""By what a form says is done."""

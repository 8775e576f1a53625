"""Settings of the shop on one page, each with where it is used; what is set elsewhere is shown with the way there."""

from collections.abc import Callable
from dataclasses import dataclass

from django.db import transaction
from django.http import Http404
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.day.calendar import Hours
from bendcore.errors import Refusal
from bendcore.tolerance import CLASS_TITLES, UP_TO, length_tolerance
from dorvan import fields, pictures
from dorvan.brakes.models import Brake
from dorvan.day.models import ShopHours, kept_hours
from dorvan.ledger.models import Rules
from dorvan.people.deeds import record
from dorvan.people.models import Deed, User
from dorvan.people.views import READINGS
from dorvan.shop.models import Shop, zones
from dorvan.tickets.file.changes import METHODS
from dorvan.versions.doing import retried, status_of

OF_EACH = ""
"""New people read as whoever takes them on does."""


@dataclass(frozen=True)
class Setting:
    """A ``title``, what it is ``used`` for, its ``choices`` (value, words), how a value is ``read`` into columns."""

    title: str
    used: str
    read: Callable[[str], dict]
    choices: tuple[tuple[str, str], ...] = ()


def _name(text: str) -> dict:
    return {"name": fields.words(text, 80)}


def _reading(text: str) -> dict:
    if text == OF_EACH:
        return {"unit": "", "tape": 32}
    value = fields.one_of(text, READINGS, "reading")
    return {"unit": READINGS[value][0], "tape": 32 if value == "mm" else int(value)}


def _tolerance(text: str) -> dict:
    return {"general_tolerance": fields.one_of(text, CLASS_TITLES, "tolerance")}


def _zone(text: str) -> dict:
    if text and text not in zones():
        raise Refusal("zone", "is none that is known here: choose one of the list, as Europe/Vienna")
    return {"zone": text}


SETTINGS = {
    "name": Setting("Name of the shop", "at the head of job packs, check reports, suppliers' drawings, labels and "
                    "printed pages", _name),
    "reading": Setting("New people read", "by whoever is taken on, until they choose for themselves under “you”",
                       _reading, ((OF_EACH, "as whoever takes them on"), *((key, title) for key, (_, title)
                                                                          in READINGS.items()))),
    "tolerance": Setting("Lengths where a drawing is silent", "for every new ticket, which can say another under "
                         "Stock; check sheets, suppliers' notes and rules of thumb go by it", _tolerance,
                         tuple((key, f"ISO 2768-{key}, {title}") for key, title in CLASS_TITLES.items())),
    "zone": Setting("Clock", "on every page: when something was done, shifts, the day's plan", _zone)}


@require_safe
def settings(request):
    """All of them."""
    return _page(request)


def _page(request, error: Refusal | None = None):
    shop, form = Shop.objects.first() or Shop(), request.POST if error else {}
    now = {"name": shop.name, "tolerance": shop.general_tolerance, "zone": shop.zone,
           "reading": OF_EACH if not shop.unit else "mm" if shop.unit == "mm" else str(shop.tape)}
    rows = [{"field": field, "setting": one, "wrong": error if error and error.path == field else None,
             "value": form.get("value", "")[:80] if form.get("field") == field else now[field]}
            for field, one in SETTINGS.items()]
    rules = Rules.now()
    return render(request, "office/settings.html", {
        "at": "shop", "shop": shop, "rows": rows, "error": error, "zones": zones(), "server_zone": Shop().clock.key,
        "steps": [(upto, length_tolerance(upto, shop.general_tolerance)) for upto in UP_TO[:-1]],
        "hours": ShopHours.objects.last() or ShopHours(**kept_hours(Hours())),
        "method": dict(METHODS).get(rules.default.get("method"), ""),
        "enough": rules.enough, "brakes": Brake.objects.order_by("name"), "people": User.objects.count(),
    }, status=status_of(error))


@require_POST
@retried
def put(request):
    """One setting as it was typed or chosen."""
    field, text = request.POST.get("field", ""), fields.words(request.POST.get("value"), 80)
    try:
        if field not in SETTINGS:
            raise Refusal("field", "must be one of " + ", ".join(SETTINGS))
        shop = Shop.row()
        shop.refuse_clash(request.POST, [field])
        values = SETTINGS[field].read(text)
        before = {name: getattr(shop, name) for name in values}
        if before != values:
            with transaction.atomic():
                shop.put(request.user, field, f"set {SETTINGS[field].title.lower()}", **values)
                record(request.user, Deed.What.SHOP, _said(field, before), _said(field, values))
    except Refusal as refusal:
        return _page(request, refusal)
    return redirect("office:settings")


def _said(field, values) -> str:
    said = ", ".join(str(value) for value in values.values() if value != "")
    return f"{SETTINGS[field].title}: {said or 'not said'}"


@require_POST
@retried
def take_mark(request):
    """A picture as the shop's mark, or none any more."""
    try:
        jpeg = b"" if request.POST.get("without") else pictures.sent(request, "mark")
        shop = Shop.row()
        with transaction.atomic():
            before = "a mark" if shop.mark else "no mark"
            shop.put(request.user, "mark", "set the shop's mark", mark=jpeg)
            record(request.user, Deed.What.SHOP, before, "another mark" if jpeg else "no mark")
    except Refusal as refusal:
        return _page(request, refusal)
    return redirect("office:settings")


@require_safe
def mark(request):
    """The shop's mark."""
    jpeg = bytes(Shop.now().mark or b"")
    if not jpeg:
        raise Http404
    return pictures.shown(jpeg)

"""Who works here: a lead takes people on, names them, gives them their role, stops them and lets them in again;
everybody changes a phrase of his own. Nothing that somebody did goes with him."""

from axes.utils import reset
from django.contrib.auth import update_session_auth_hash
from django.db import transaction
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from dorvan import fields
from dorvan.drawings.qr import qr
from dorvan.reached import HERE
from dorvan.shop.models import Shop

from .deeds import record
from .joining import join
from .models import Deed, Device, User
from .phrases import LASTS, give


@require_safe
def people(request):
    """Everybody, those who were stopped last."""
    return page(request)


def page(request, error: Refusal | None = None, **told):
    """The list, with what was refused at its field, or the phrase that is shown this once."""
    address = request.build_absolute_uri("/")
    everybody = User.objects.order_by("-is_active", "username")
    return render(request, "people/people.html", {
        "at": "people", "everybody": everybody, "error": error, "typed": request.POST if error else {},
        "devices": Device.objects.filter(withdrawn=None).select_related("by"),
        "here": request.session.get("device", ""),
        "roles": User.Role.choices, "days": LASTS.days, "address": address, "code": qr(address),
        "here_only": request.get_host().partition(":")[0] in (HERE, "localhost"), **told}, status=422 if error else 200)


@require_POST
def add(request):
    """Somebody new, with a phrase for once."""
    form = request.POST
    try:
        person = User(username=_name(form), role=fields.one_of(form.get("role"), User.Role.values, "role"))
        shop = Shop.now()
        person.unit, person.tape = (shop.unit, shop.tape) if shop.unit else (request.user.unit, request.user.tape)
        with transaction.atomic():
            phrase = give(person)
            record(request.user, Deed.What.PERSON, "", f"{person}: taken on, {person.get_role_display().lower()}")
    except Refusal as refusal:
        return page(request, refusal)
    return page(request, phrase=phrase, whose=person)


def _name(form) -> str:
    """A name that nobody has, nor had: entries on devices go by the name that made them."""
    name = fields.words(form.get("name"), 150)
    if not name or User.objects.filter(username__iexact=name).exists() or User.objects.filter(
            known_as__iexact=name).exists():
        raise Refusal("name", "must be given, and be nobody's here, nor have been")
    return name


@require_POST
def change(request, pk: int):
    """Another name or role, no way in any more or one again, a new phrase for once."""
    person, what = get_object_or_404(User, pk=pk), request.POST.get("what", "")
    try:
        act = ACTS.get(what)
        if act is None:
            raise Refusal("what", "must be " + ", ".join(ACTS))
        with transaction.atomic():
            before = _said(person)
            phrase = act(request, person)
            record(request.user, Deed.What.PERSON, before, f"{_said(person)}{', a new phrase' if phrase else ''}")
    except Refusal as refusal:
        return page(request, refusal, about=pk)
    return page(request, phrase=phrase, whose=person) if phrase else redirect("people:people")


def _said(person) -> str:
    return f"{person}: {person.get_role_display().lower()}{'' if person.is_active else ', stopped'}"


def _rename(request, person) -> None:
    name = fields.words(request.POST.get("name"), 150)
    if name != person.username:
        person.known_as = person.known_as or person.username
        person.username = name if name.casefold() == person.known_as.casefold() else _name(request.POST)
        person.save(update_fields=["username", "known_as"])


def _role(request, person) -> None:
    person.role = fields.one_of(request.POST.get("role"), User.Role.values, "role")
    _one_lead_is_left(person)
    person.save(update_fields=["role"])


def _stop(request, person) -> None:
    if person == request.user:
        raise Refusal("person", "is you: another lead stops you")
    person.is_active = False
    _one_lead_is_left(person)
    person.save(update_fields=["is_active"])


def _let_in(request, person) -> str:
    person.is_active = True
    return _phrase(request, person)


def _phrase(request, person) -> str:
    reset(username=person.username)
    return give(person)


def _one_lead_is_left(person) -> None:
    """Whoever else there is, somebody must be able to take people on."""
    others = User.objects.filter(role=User.Role.LEAD, is_active=True).exclude(pk=person.pk)
    if not (person.is_lead and person.is_active) and not others.exists():
        raise Refusal("person", "is the only lead: make somebody else a lead first")


ACTS = {"rename": _rename, "role": _role, "stop": _stop, "let-in": _let_in, "phrase": _phrase}


@require_safe
def phrase(request):
    """One's own pass phrase."""
    return render(request, "people/phrase.html", {"at": "people"})


@require_POST
def own_phrase(request):
    """Take another pass phrase; the one so far is asked for, so that nobody does it at a tablet left open."""
    form, person = request.POST, request.user
    try:
        if not person.check_password(form.get("old", "")[:200]):
            raise Refusal("old", "is not your phrase so far")
        if form.get("phrase") != form.get("again"):
            raise Refusal("again", "is not the same: type the new phrase twice")
        if form.get("phrase") == form.get("old"):
            raise Refusal("phrase", "is the one so far: choose another")
        person.phrase_ends = None
        join(person, form.get("phrase", "")[:200])
    except Refusal as refusal:
        return render(request, "people/phrase.html", {"at": "people", "error": refusal}, status=422)
    update_session_auth_hash(request, person)
    return redirect("tickets:rack")

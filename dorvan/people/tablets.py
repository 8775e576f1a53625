"""Shared tablets: a lead trusts a device; there people take over from each other with name and PIN."""

import hashlib
import secrets

from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from bendcore.errors import Refusal
from dorvan import fields

from . import pins, rest, staff
from .deeds import record
from .models import Deed, Device, User

COOKIE, LASTS = "dorvan_device", 365 * 24 * 3600
"""A device is known by a secret of its own, kept here as its hash only; it is trusted for a year."""
LEAST_BETWEEN = 300
"""That a device was used is noted so often, s."""


def _hash(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


def device_of(request: HttpRequest) -> Device | None:
    """The trusted device that asks, or None."""
    secret = request.COOKIES.get(COOKIE, "")[:100]
    found = Device.objects.filter(secret=_hash(secret), withdrawn=None).first() if secret else None
    if found and (timezone.now() - found.trusted).total_seconds() > LASTS:
        return None
    return found


def signed_in(request: HttpRequest, device: Device | None, by_pin: bool) -> None:
    """What a session knows of where and how it began: ``device``, the name of a trusted one, and ``by_pin``."""
    request.session["device"], request.session["by_pin"] = device.name if device else "", by_pin
    if device and (timezone.now() - device.seen).total_seconds() > LEAST_BETWEEN:
        Device.objects.filter(pk=device.pk).update(seen=timezone.now())


@require_POST
def trust(request):
    """The device that asks becomes one where people take over with a PIN."""
    name = fields.words(request.POST.get("device"), 60)
    try:
        if not name:
            raise Refusal("device", "must be given: where it hangs or lies, as people would say it")
        if Device.objects.filter(name__iexact=name, withdrawn=None).exists():
            raise Refusal("device", "is another trusted device's name: withdraw that one or choose another")
    except Refusal as refusal:
        return staff.page(request, refusal)
    secret = secrets.token_urlsafe(32)
    with transaction.atomic():
        if before := device_of(request):
            _withdraw(request.user, before)
        device = Device.objects.create(name=name, secret=_hash(secret), by=request.user)
        record(request.user, Deed.What.DEVICE, "", f"{name}: trusted, people take over there with a PIN")
    signed_in(request, device, by_pin=False)
    answer = redirect("people:people")
    answer.set_cookie(COOKIE, secret, max_age=LASTS, httponly=True, samesite="Lax",
                      secure=settings.SESSION_COOKIE_SECURE)
    return answer


def _withdraw(by: User, device: Device) -> None:
    device.withdrawn = timezone.now()
    device.save(update_fields=["withdrawn"])
    record(by, Deed.What.DEVICE, f"{device.name}: trusted", f"{device.name}: not any more")


@require_POST
def withdraw(request, pk: int):
    """PINs do not work on that device any more; who is signed in there stays so until the hour is over."""
    with transaction.atomic():
        _withdraw(request.user, get_object_or_404(Device, pk=pk, withdrawn=None))
    return redirect("people:people")


@login_not_required
@require_http_methods(["GET", "HEAD", "POST"])
def take_over(request):
    """Name and PIN, at a trusted device; on with what was on the page. Elsewhere this leads to the door."""
    device, onward = device_of(request), fields.way(request, request.POST.get("next") or request.GET.get("next"))
    if device is None:
        return redirect("people:sign-in")
    error, name = None, fields.words(request.POST.get("name"), 150)
    people = User.objects.filter(is_active=True).exclude(pin="").order_by("username")
    if request.method == "POST":
        person = people.filter(username__iexact=name).first()
        if person and pins.fits(person, request.POST.get("pin", "")[:20]):
            login(request, person, backend="django.contrib.auth.backends.ModelBackend")
            rest.begin(request, own=False)
            signed_in(request, device, by_pin=True)
            return redirect(onward or "tickets:rack")
        rests = person and User.objects.filter(pk=person.pk, pin_wrong__gte=pins.MOST_WRONG).exists()
        error = Refusal("pin", "rests after too many wrong ones: sign in with the pass phrase once, and it works again"
                        if rests else "and name do not go together. Check both and try again")
    return render(request, "people/take_over.html", {
        "device": device, "people": people, "error": error, "name": name, "next": onward, "digits": pins.DIGITS},
        status=422 if error else 200)


@require_POST
def own_pin(request):
    """A PIN of one's own, another, or none; the pass phrase is asked for, so that nobody does it at a tablet left
    open."""
    form, person = request.POST, request.user
    try:
        if not person.check_password(form.get("old_for_pin", "")[:200]):
            raise Refusal("old_for_pin", "is not your phrase")
        pins.set_pin(person, form.get("pin", "")[:20], form.get("pin_again", "")[:20])
    except Refusal as refusal:
        return render(request, "people/phrase.html", {"at": "people", "error": refusal}, status=422)
    return redirect("people:phrase")

"""A PIN: six digits that let somebody take over at a tablet the shop trusts, and nowhere else.

Six digits are a million guesses. So they work on trusted devices only, five wrong ones in a row put the PIN to rest
until its owner signs in with the pass phrase, and what hangs on more than the bench's work asks for the phrase.
"""

import re

from django.contrib.auth.hashers import check_password, make_password
from django.db.models import F

from bendcore.errors import Refusal

from .models import User

DIGITS, MOST_WRONG = 6, 5
_PIN = re.compile(rf"[0-9]{{{DIGITS}}}", re.ASCII)
BY_PHRASE = {"people:people", "people:add", "people:change", "people:own-phrase", "people:own-pin", "people:trust",
             "people:withdraw", "office:bundles", "office:whole",
             "office:read-bundle"}
"""Addresses where who took over with a PIN signs in with the pass phrase first."""


def set_pin(person: User, pin: str, again: str) -> None:
    """Give a person this PIN, or none where it is empty; refuses at ``pin`` what others would try first, and at
    ``pin_again`` what differs."""
    pin = pin.strip()
    if pin and not _PIN.fullmatch(pin):
        raise Refusal("pin", f"must be {DIGITS} digits")
    if pin and _is_plain(pin):
        raise Refusal("pin", "is one that others would try first: no runs, no repeats")
    if pin != again.strip():
        raise Refusal("pin_again", "is not the same: type the PIN twice")
    person.pin, person.pin_wrong = make_password(pin) if pin else "", 0
    person.save(update_fields=["pin", "pin_wrong"])


def _is_plain(pin: str) -> bool:
    """A digit or two or three over and over, or digits one after another: 777777, 474747, 123123, 345678, 987654."""
    steps = {(int(b) - int(a)) % 10 for a, b in zip(pin, pin[1:], strict=False)}
    return steps in ({1}, {9}) or any(pin == pin[:n] * (DIGITS // n) for n in (1, 2, 3))


def fits(person: User, pin: str) -> bool:
    """Whether this is the person's PIN. The try is counted before it is looked at, so that many at once are no more
    than one after another; a right one takes the count back."""
    tried = User.objects.filter(pk=person.pk, is_active=True, pin_wrong__lt=MOST_WRONG).exclude(pin="").update(
        pin_wrong=F("pin_wrong") + 1)
    if not tried or not _PIN.fullmatch(pin.strip()) or not check_password(pin.strip(), person.pin):
        return False
    wake(person)
    return True


def wake(person: User) -> None:
    """The pass phrase was given, or the right PIN: wrong ones before it are forgotten."""
    User.objects.filter(pk=person.pk, pin_wrong__gt=0).update(pin_wrong=0)

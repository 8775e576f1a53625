"""What people post, read by typed fields with their limits: whole numbers, words, choices, and rows by number.

Python's own ``isdigit`` and ``int`` take more for a number than a person would (``²``, digits of other
scripts, five thousand of them); these do not. What is wrong is refused at the field, by name.
"""

import datetime
import re
import unicodedata
import uuid

from django.http import Http404
from django.shortcuts import get_object_or_404
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme

from bendcore.errors import Refusal

_WHOLE = re.compile(r"[0-9]{1,9}", re.ASCII)


def told(error: Refusal | None) -> dict | None:
    """A refusal as a page tells it: at its ``field`` its ``message``; None for none."""
    return {"field": error.path, "message": error.message} if error else None


def number(text, otherwise: int | None = None) -> int | None:
    """A whole number of at most nine digits, or ``otherwise``."""
    text = str(text or "").strip()
    return int(text) if _WHOLE.fullmatch(text) else otherwise


def whole(text, field: str, low: int, high: int) -> int:
    """A whole number from ``low`` to ``high``; refuses anything else at the field."""
    found = number(text)
    if found is None or not low <= found <= high:
        raise Refusal(field, f"must be a whole number from {low} to {high}")
    return found


def day(text, field: str) -> datetime.date | None:
    """A day as a date input sends it, None where it is empty; refuses anything else at the field."""
    text = str(text or "").strip()
    try:
        return datetime.date.fromisoformat(text) if text else None
    except ValueError:
        raise Refusal(field, "is not a day: write it as 2026-11-30") from None


def moment(text, field: str) -> datetime.datetime:
    """A day and a time as such an input sends it, by the shop's clock unless it says another; refuses anything else."""
    try:
        at = datetime.datetime.fromisoformat(str(text or "")[:32])
    except ValueError:
        raise Refusal(field, "must be a day and a time") from None
    try:
        return timezone.make_aware(at) if timezone.is_naive(at) else at.astimezone(timezone.get_current_timezone())
    except (OverflowError, ValueError):
        raise Refusal(field, "is too far away") from None


def words(text, most: int) -> str:
    """A line of text: at most so long, without control characters and halves of characters."""
    kept = "".join(" " if unicodedata.category(c) in ("Cc", "Cs", "Zl", "Zp")
                   else c for c in str(text or "")[:4 * most])
    return kept.strip()[:most]


def key(text) -> uuid.UUID | None:
    """The key a page was given, by which what it sends is kept once; None where it has none."""
    try:
        return uuid.UUID(str(text or "")[:40])
    except ValueError:
        return None


def way(request, text) -> str:
    """An address of this site to go on to; empty for any other."""
    text = str(text or "")
    return text if url_has_allowed_host_and_scheme(text, allowed_hosts={request.get_host()}) else ""


def one_of(text, choices, field: str, otherwise: str | None = None) -> str:
    """One of the choices; ``otherwise`` where it is none of them, or refused at the field."""
    if text in choices:
        return text
    if otherwise is None:
        raise Refusal(field, "must be one of " + ", ".join(map(str, choices)))
    return otherwise


def row(rows, text, **names):
    """The row with the number ``text`` under the one name given (``pk=None`` or ``number=None``), or 404."""
    (name,) = names or ("pk",)
    found = number(text)
    if found is None:
        raise Http404
    return get_object_or_404(rows, **{name: found})

"""What is read at the brake as it is typed, in the reader's units; empty where nothing was measured."""

import math
from dataclasses import dataclass

from django.http import QueryDict

from bendcore.errors import Refusal
from bendcore.floor.slips import Doubt
from bendcore.units import Reading, read_angle, read_length, show_angle, show_length
from dorvan import fields


def angle(text: str, units: Reading, path: str = "angle") -> float | None:
    """A bend angle, degrees from flat; refuses what is none at its field."""
    if not text.strip():
        return None
    found = read_angle(text, path, units)
    if not 0 < found <= 180:
        raise Refusal(path, "must be a bend angle between 0 and 180")
    return found


def length(text: str, units: Reading, path: str = "leg") -> float | None:
    """A length, mm; refuses what is none at its field."""
    if not text.strip():
        return None
    mm = read_length(text, units, path)
    if not 0 < mm < math.inf:
        raise Refusal(path, "must be greater than 0")
    return mm


SO = "so"
"""Answers what is asked of a reading: it was taken again, and is so."""


def answered(form: QueryDict, field: str) -> tuple[str, bool]:
    """(what is typed at a field, whether it was taken again and found so); what was asked of it may be answered by what
    it may be instead."""
    typed, answer = form.get(field, "").strip()[:60], form.get(f"answer~{field}", "").strip()[:60]
    return (typed, answer == SO) if answer in ("", SO) else (answer, False)


@dataclass(frozen=True)
class Asked:
    """A question at a ``field``, and what it ``may_be`` as it would be typed, empty where nothing fits."""

    field: str
    question: str
    may_be: str = ""

    @classmethod
    def of(cls, field: str, doubt: Doubt, unit: str, units: Reading) -> "Asked":
        """A doubt for the page, in the reader's units."""
        if doubt.may_be is None:
            return cls(field, doubt.question)
        shown = show_length(doubt.may_be, units) if unit == "mm" else show_angle(doubt.may_be, units).rstrip("°")
        return cls(field, doubt.question, shown)


TRIES = {"": None, "yes": 1.0, "no": 0.0}


def tried(text: str, units: Reading, path: str) -> float | None:
    """What is tried and not measured: 1 as it should be, 0 not, None where it was not tried."""
    if text not in TRIES:
        raise Refusal(path, "must be yes or no")
    return TRIES[text]


def within(text: str | None, otherwise: int, low: int, high: int) -> int:
    """A whole number brought within its limits, or ``otherwise``."""
    found = fields.number(text)
    return otherwise if found is None else min(max(found, low), high)

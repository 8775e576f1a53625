"""Reading what is posted of site sheets. Refusals name the field."""

import re
from collections.abc import Sequence

from bendcore.errors import Refusal
from bendcore.site.measured import ANGLE, KINDS, TO, as_many
from bendcore.site.rules import MOST_TEXT, check_name
from bendcore.units import MM_PER, read_angle, read_length
from dorvan import fields

from .models import Thing, Visit

MOST_SIDES, MOST_TYPED = 40, 400
MOST_LINES = 200
"""Readings brought at once."""
GRID = (100.0, 70.0)
"""A sketch is so wide and high, in steps of its grid."""
_SIDES = re.compile(r"\s*[;+]\s*")


def read_thing(form, visit: Visit, units: str) -> dict:
    """Something to be measured."""
    names = [*visit.things.values_list("name", flat=True), *visit.rules.values_list("name", flat=True)]
    name = check_name(form.get("name", "")[:80], names)
    kind = fields.one_of(form.get("kind"), KINDS, "kind")
    to = fields.one_of(form.get("to", ""), ("", *TO), "to")
    text, allowed = form.get("allowed", "").strip(), None
    if text:
        allowed = read_angle(text, "allowed") if KINDS[kind].dimension == ANGLE else read_length(text, units, "allowed")
        if not 0 < allowed <= 50:
            raise Refusal("allowed", "must be greater than 0 and no more than 50 mm, or degrees")
    return {"name": name, "kind": kind, "to": to, "allowed": allowed} | read_waiting(form)


def read_waiting(form) -> dict:
    """What something measured waits for, and until when."""
    awaits, until = fields.words(form.get("awaits"), 120), fields.day(form.get("until"), "until")
    if until and not awaits:
        raise Refusal("awaits", "must say what it waits for, if there is a day for it")
    return {"awaits": awaits, "until": until}


def read_reading(form, thing: Thing, units: str) -> dict:
    """A reading: one size, or its sides with semicolons between, in the reader's units."""
    text = form.get("reading", "").strip()
    if len(text) > MOST_TYPED:
        raise Refusal("reading", f"is longer than {MOST_TYPED} characters")
    parts = [part for part in _SIDES.split(text) if part] if thing.sort.several else [text]
    if len(parts) > MOST_SIDES:
        raise Refusal("reading", f"has more than {MOST_SIDES} sides")
    angle = thing.sort.dimension == ANGLE
    values = [read_angle(part, "reading", units) if angle else read_length(part, units, "reading") for part in parts]
    if any(value < 0 or value == 0 and not thing.sort.given for value in values):
        raise Refusal("reading", "must be greater than 0")
    as_many([reading.values for reading in thing.kept], values, thing.sort)
    shown = text if angle or re.search(r"[a-z\"'°]", text, re.IGNORECASE) else f"{text} {units}"
    return {"values": values, "typed": shown[:MOST_TYPED]}


def read_many(text: str, things: Sequence[Thing], units: str) -> list[tuple[Thing, dict]]:
    """Readings from lines: the name of a thing, then its reading as it is typed in its field; a colon, an equals sign,
    a comma, a semicolon or a tab may stand between. Refuses, at ``readings`` and with its line, what is no reading of
    a thing that is there, and then takes none."""
    named = sorted(things, key=lambda thing: -len(thing.name))
    found: list[tuple[Thing, dict]] = []
    for n, line in enumerate(text.splitlines(), 1):
        line = " ".join(line.split())
        if not line:
            continue
        if len(found) >= MOST_LINES:
            raise Refusal("readings", f"are more than {MOST_LINES}")
        thing = next((one for one in named if re.match(rf"{re.escape(one.name)}(?!\w)", line, re.IGNORECASE)), None)
        if thing is None:
            raise Refusal("readings", f"line {n} names nothing of this sheet: {line[:40]}")
        typed = line[len(thing.name):].strip(" :=,;")
        try:
            reading = read_reading({"reading": typed}, thing, units)
            as_many([other["values"] for one, other in found if one.pk == thing.pk], reading["values"], thing.sort)
        except Refusal as refusal:
            raise Refusal("readings", f"line {n}, {thing.name}: {refusal.message}") from None
        found.append((thing, reading))
    if not found:
        raise Refusal("readings", "are none: write one to a line, the name first")
    return found


def read_rule(form, visit: Visit, units: str, rule=None) -> dict:
    """A rule, its name another than all there are; bare numbers in it are in the units it was written in."""
    others = [*visit.things.values_list("name", flat=True), *visit.rules.exclude(pk=rule and rule.pk).values_list(
        "name", flat=True)]
    text = fields.words(form.get("text"), MOST_TEXT + 1)
    written = fields.one_of(form.get("in"), MM_PER, "in", str(units))
    return {"name": check_name(form.get("name", "")[:80], others), "text": text, "units": written}


def read_stroke(form, visit: Visit) -> dict:
    """An edge, or the dimension of something measured, between two points of the sketch's grid."""
    kind = fields.one_of(form.get("kind"), ("edge", "dimension"), "kind")
    found = {"kind": kind, "name": ""}
    for key, most in (("x0", GRID[0]), ("y0", GRID[1]), ("x1", GRID[0]), ("y1", GRID[1])):
        try:
            value = float(form.get(key, ""))
        except ValueError:
            value = -1.0
        if not 0 <= value <= most:
            raise Refusal(key, f"must be a number from 0 to {most:g}")
        found[key] = round(value, 2)
    if (found["x0"], found["y0"]) == (found["x1"], found["y1"]):
        raise Refusal("x1", "needs a second point somewhere else")
    if kind == "dimension":
        found["name"] = fields.one_of(form.get("name"), visit.things.values_list("name", flat=True), "name")
    return found

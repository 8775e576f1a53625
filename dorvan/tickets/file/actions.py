"""What a form may ask of a part file, by the name it calls it.

Most is the same for every family and names a field: ``set`` it, ``toggle`` a group, ``add`` to a list, ``remove``.
What more a strip knows, or every part, stands beside them. Each gives (the part after it, the note kept with it).
"""

import json
import re
from collections.abc import Callable, Iterable, Mapping
from typing import Any

from django.http import Http404

from bendcore import edits
from bendcore.errors import Refusal
from bendcore.families import FAMILIES
from bendcore.fields import Group, Many, steps
from bendcore.part import holding
from bendcore.part_file import field_at
from bendcore.units import read_length
from dorvan.fields import number, words

from ..results.derived import figures

Action = Callable[[dict, Mapping[str, str], str], tuple[dict, str]]
"""(part, what was posted, the reader's units) → (part, note)."""


def act_on(part: dict, action: str, form: Mapping[str, str], units: str) -> tuple[dict, str]:
    """(the part after the action, the note kept with it); 404 for one that is not known."""
    if action not in ACTIONS:
        raise Http404
    after, note = ACTIONS[action](part, form, units)
    found = holding(after)
    if action == "set" and found is not after and at(found, form["field"]) != at(after, form["field"]):
        raise Refusal(form["field"], "gives way to an overall size: change that, or take it off first")
    return found, note


def with_fields(part: dict, rows: Iterable[tuple[str, str]], units: str) -> dict:
    """A part with (field, value) set, as they were typed; what comes and goes as a whole is left off."""
    for field, value in ((field[:80], value) for field, value in rows):
        place = field_at(field, part["shape"]["kind"])
        if place and isinstance(place.field, Group) and at(part, field):
            part = edits.toggled(part, field, _now(part))
        else:
            part = edits.set_field(part, field, value[:40], units)
    return part


def at(part: dict, path: str) -> object:
    """What stands at a path of a part file."""
    found: Any = part
    for step in steps(path):
        found = found[step] if isinstance(found, list) else found.get(step) if isinstance(found, dict) else None
    return found


def _named(part, field: str) -> str:
    """A field as people call it, for the note of a change; a list by what it holds."""
    place = field_at(field[:80], part["shape"]["kind"])
    if place is None:
        return field[:60]
    one = re.sub(r"\s*\w*\{n\}", "", place.field.words) if isinstance(place.field, Many) else ""
    return ", ".join(filter(None, (place.name, one.lower() if place.name else one)))


def _set(part, form, units):
    field = form.get("field", "")
    return edits.set_field(part, field, words(form.get("value"), 120), units), _named(part, field)


def _toggle(part, form, units):
    field = form.get("field", "")
    return edits.toggled(part, field, _now(part)), _named(part, field)


def _add(part, form, units):
    field = form.get("field", "")
    return edits.added(part, field, _now(part), number(form.get("index"))), f"{_named(part, field)} added"


def _remove(part, form, units):
    field = form.get("field", "")
    return edits.removed(part, field), f"{_named(part, field)} out"


def _copy(part, form, units):
    field = form.get("field", "")
    before = _minded(part)
    return edits.copied(part, field, lambda found: _minded(found) == before), f"{_named(part, field)} copied"


def _minded(part) -> list[tuple[str, str]] | None:
    """What is to be said of a part; None of one that cannot be read."""
    try:
        return [(notice.code, notice.severity) for notice in figures(part).notices]
    except Refusal:
        return None


def _fit(part, form, units):
    return edits.fit(part, form.get("value", "")[:120], form.get("way", ""), form.get("clearance", "")[:40],
                     units), "made to fit"


def _rescale(part, form, units):
    return edits.rescaled(part, form.get("side", ""), form.get("value", "")[:60], units,
                          _now(part)), "as large as the sample"


def _jog(part, form, units):
    return _made(part, "jog", read_length(form.get("value", "")[:60], units, "jog")), "step added"


def _points(part, form, units):
    try:
        points = json.loads(form.get("points", "")[:20_000])
    except (ValueError, RecursionError):
        raise Refusal("points", "is not a line") from None
    return _made(part, "points", points), "drawn"


def _panels(part, form, units):
    return edits.as_panels_part(part, lambda: figures(part).part), "opened as panels"


def _made(part, what: str, value) -> dict:
    """The part with a change of its family's own."""
    family = FAMILIES[part["shape"]["kind"]]
    if what not in family.makes:
        raise Refusal("shape.kind", f"is a {family.title.lower()}: that belongs to another kind of part")
    return part | {"shape": family.makes[what](part["shape"], value, part["units"])}


def _now(part):
    return lambda: figures(part).part.shape


ACTIONS: dict[str, Action] = {"set": _set, "toggle": _toggle, "add": _add, "remove": _remove, "copy": _copy,
                              "fit": _fit, "rescale": _rescale, "jog": _jog, "points": _points, "panels": _panels}

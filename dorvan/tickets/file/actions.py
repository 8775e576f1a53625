"""Changes of a part that are not one field, by the name a form calls them.

Each is (the families it belongs to, the note kept with the edit, function of part, form and reader's
units → part). A form that asks another family for it is refused.
"""

import json

from django.http import Http404

from bendcore.errors import Refusal
from dorvan.fields import number

from . import changes, plate, tray


def _index(form) -> int:
    return number(form.get("index"), -1)


def _points(part, form, _):
    try:
        points = json.loads(form.get("points", "")[:20_000])
    except (ValueError, RecursionError):
        raise Refusal("points", "is not a line") from None
    return changes.from_points(part, points)


def _of_tray(action):
    return ("tray",), action, lambda part, form, _: tray.change_tray(
        part, action, **{key: form.get(key, "")[:40] for key in ("side", "rim", "index")})


def _of_plate(action):
    families = ("plate", "guard") if action.endswith("-corner") else ("plate",)
    return families, action, lambda part, form, _: plate.change_plate(part, action, form.get("index", "")[:40])


EVERY = ("profile", "tray", "plate", "sleeve", "flat", "guard")
STRIP = ("profile",)
ACTIONS = {
    "tool-radius": (EVERY, "radius by the tool", lambda part, form, units: changes.tool_radius(part)),
    "add-bend": (STRIP, "bend added", lambda part, form, units: changes.add_bend(part)),
    "remove-bend": (STRIP, "bend out", lambda part, form, units: changes.remove_bend(part, _index(form))),
    "remove-line": (("flat",), "no bend", lambda part, form, units: changes.remove_line(part, _index(form))),
    "jog": (STRIP, "step added", lambda part, form, units: changes.add_jog(part, form.get("value", "")[:60], units)),
    "hem": (STRIP, "hem", lambda part, form, units: changes.toggle_hem(part, form.get("end", ""))),
    "flange": (("sleeve", "guard"), "flanges",
               lambda part, form, units: changes.toggle_flange(part, form.get("side", ""))),
    "fit": (("tray", "sleeve"), "made to fit", lambda part, form, units: changes.fit(
        part, form.get("value", "")[:120], form.get("way", ""), form.get("clearance", "")[:40], units)),
    "rescale": (EVERY, "as large as the sample", lambda part, form, units: changes.rescale(
        part, form.get("side", ""), form.get("value", "")[:60], units)),
    "points": (STRIP, "drawn", _points),
} | {action: _of_tray(action) for action in tray.ACTIONS} | {
    action: _of_plate(action) for action in plate.ACTIONS}


def act_on(part: dict, action: str, form, units: str) -> tuple[dict, str]:
    """(the part after the action, the note kept with it); 404 for one that is not known."""
    if action not in ACTIONS:
        raise Http404
    families, note, act = ACTIONS[action]
    if part["shape"]["kind"] not in families:
        raise Refusal("shape.kind", f"is a {part['shape']['kind']}: that belongs to a " + " or ".join(families))
    return act(part, form, units), note

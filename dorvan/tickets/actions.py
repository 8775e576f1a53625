"""Changes of a part that are not one field, by the name a form calls them.

Each is (the note kept with the edit, function of part, form and reader's units → part).
"""

import json

from bendcore.errors import Refusal

from . import edits, plate_edits, tray_edits


def _index(form) -> int:
    return int(form["index"]) if form.get("index", "").isdigit() else -1


def _points(part, form, _):
    try:
        points = json.loads(form.get("points", "")[:20_000])
    except (ValueError, RecursionError):
        raise Refusal("points", "is not a line") from None
    return edits.from_points(part, points)


def _of_tray(action):
    return action, lambda part, form, _: tray_edits.change_tray(
        part, action, **{key: form.get(key, "") for key in ("side", "rim", "index")})


def _of_plate(action):
    return action, lambda part, form, _: plate_edits.change_plate(part, action, form.get("index", ""))


ACTIONS = {
    "tool-radius": ("radius by the tool", lambda part, form, units: edits.tool_radius(part)),
    "add-bend": ("bend added", lambda part, form, units: edits.add_bend(part)),
    "remove-bend": ("bend out", lambda part, form, units: edits.remove_bend(part, _index(form))),
    "remove-line": ("no bend", lambda part, form, units: edits.remove_line(part, form.get("index", ""))),
    "jog": ("step added", lambda part, form, units: edits.add_jog(part, form.get("value", "")[:60], units)),
    "hem": ("hem", lambda part, form, units: edits.toggle_hem(part, form.get("end", ""))),
    "flange": ("flanges", lambda part, form, units: edits.toggle_flange(part, form.get("side", ""))),
    "fit": ("made to fit", lambda part, form, units: edits.fit(
        part, form.get("value", "")[:120], form.get("way", ""), form.get("clearance", "")[:40], units)),
    "rescale": ("as large as the sample", lambda part, form, units: edits.rescale(
        part, form.get("side", ""), form.get("value", "")[:60], units)),
    "points": ("drawn", _points),
} | {action: _of_tray(action) for action in tray_edits.ACTIONS} | {
    action: _of_plate(action) for action in plate_edits.ACTIONS}

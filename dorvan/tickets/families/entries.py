"""Inputs as the Shape pages show them: the field, its label, what stands in it, and where on the drawing."""

import math
from collections.abc import Callable

import numpy as np

from bendcore.part_file import field_at
from bendcore.sizes import shown
from bendcore.units import read_length
from dorvan.drawings.places import LABEL_H, LABEL_W, NAME_H, places

REACHES = (0, 46, 66, 90, 116)
"""How far off its face an input may stand, pixels."""
MOST = 12
"""More inputs than these are easier to read as rows."""


def sizer(ticket, units: str) -> Callable[..., dict]:
    """``size(path, raw, label, mm)`` → an entry for a field below ``shape``, called as the field is unless ``label``
    says otherwise; ``mm`` is worked out from ``raw`` where the part has not got it already."""
    own, kind = ticket.part["units"], ticket.kind

    def size(path: str, raw, label: str = "", mm: float | None = None) -> dict:
        mm = read_length(raw, own) if mm is None else mm
        field = f"shape.{path}"
        return {"field": field, "label": label or field_at(field, kind).field.title, "unit": units,
                "value": shown(raw, mm, units, own)}

    return size


def placed(entry: dict, view: dict, face: str, dx: float = 0.0, dy: float = 0.0) -> dict:
    """The entry as an input that best stands over the middle of a face, or ``dx``, ``dy`` off it."""
    (x, y), (cx, cy) = view["faces"][face], (view["width"] / 2, view["height"] / 2)
    return entry | {"face": face, "wide": wide_enough(entry),
                    "at": (x + dx, y + dy - NAME_H / 2), "away": math.atan2(y - cy, x - cx)}


def wide_enough(entry: dict) -> int:
    """How wide its input must be, pixels."""
    return LABEL_W if len(entry["value"]) < 10 else 176


def drawn_in(labels: list[dict]) -> set[str]:
    """The fields whose inputs stand on the drawing, or in a list of their own where it has no room."""
    return {label["field"] for label in labels}


def spread_out(labels: list[dict], view: dict, off: float = 0.0) -> dict:
    """Inputs on the drawing, each with a place to itself, clear of openings and numbers where there is room, and a
    leader where that is off its face. Where there is no room for all of them they are ``rows`` of the bench sheet, and
    on the drawing stand their ``names`` only, ``off`` the middle of the face outwards."""
    sizes = [(label["wide"], LABEL_H + NAME_H) for label in labels]
    stage = np.array([4, 48, view["width"] - 4, view["height"] - 22])
    found = places(labels, sizes, REACHES, stage, view["taken"]()) if len(labels) <= MOST else None
    if found is None:
        return {"labels": [], "rows": labels, "names": [_name(label, view, off) for label in labels]}
    for label, (left, top, right, bottom) in zip(labels, found, strict=True):
        x, y = (left + right) / 2, (top + NAME_H + bottom) / 2
        moved = math.dist((x, y - NAME_H / 2), label["at"]) > LABEL_H / 2
        label |= {"left": left, "top": round(top + NAME_H, 1),
                  "leader": (x, y, *view["faces"][label["face"]]) if moved else None}
    return {"labels": labels}


def _name(label: dict, view: dict, off: float) -> dict:
    x, y = view["faces"][label["face"]]
    return {"text": label.get("short", label["face"]), "x": round(x + off * math.cos(label["away"]), 1),
            "y": round(y + off * math.sin(label["away"]), 1)}

"""Inputs as the Shape pages show them: the field, its label, what stands in it, and where on the drawing."""

from collections.abc import Callable

from bendcore.units import read_length

from .sizes import shown


def sizer(ticket, units: str) -> Callable[..., dict]:
    """``size(path, raw, label, mm)`` → an entry for a field below ``shape``; ``mm`` is worked out
    from ``raw`` where the part has not got it already."""
    own = ticket.part["units"]

    def size(path: str, raw, label: str = "", mm: float | None = None) -> dict:
        mm = read_length(raw, own) if mm is None else mm
        return {"field": f"shape.{path}", "label": label, "value": shown(raw, mm, units, own)}

    return size


def placed(entry: dict, view: dict, face: str, dx: float = 0.0, dy: float = 0.0) -> dict:
    """The entry as an input over the middle of a face, kept within the drawing."""
    x, y = view["faces"][face]
    wide = 92 if len(entry["value"]) < 10 else 176
    left = min(max(x + dx - wide / 2, 4), view["width"] - wide - 4)
    return entry | {"wide": wide, "middle": wide / 2, "left": round(left, 1),
                    "top": round(min(max(y + dy - 22, 64), view["height"] - 66), 1)}

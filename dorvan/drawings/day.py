"""A day's plan on the page: a row for each brake or person, a bar for each task, over the shop's working minutes."""

from collections.abc import Callable, Mapping, Sequence

from bendcore.day.calendar import Calendar
from bendcore.day.work import Placed

LEFT, ROW, TOP, WIDTH, LEAST = 150, 56, 44, 1180, 240
CHARACTER, SMALL, UPRIGHT = 7.2, 6.0, 13
"""Wide as a letter along and upright; a bar of at least so many pixels has its number upright where it has no room
for it along."""


def board(placed: Sequence[Placed], calendar: Calendar, rows: Sequence[str], row_of: Callable[[Placed], Sequence[str]],
          real: tuple[Mapping[str, float], Mapping[str, tuple[int, int]]], now: int | None = None) -> dict:
    """What is drawn, in pixels; ``scale`` is pixels to a minute, ``real`` the share of a task that is ticked and the
    minutes from its first tick to its last, ``now`` the minute it is."""
    last = max([one.end for one in placed] + [LEAST])
    scale = (WIDTH - LEFT - 12) / last
    bars = []
    for one in placed:
        for name in row_of(one):
            if name in rows:
                bars.append(_bar(one, LEFT + one.start * scale, TOP + rows.index(name) * ROW, scale, real))
    return {"width": WIDTH, "height": TOP + ROW * len(rows) + 8, "scale": scale, "left": LEFT, "bars": bars,
            "row": ROW, "rows": [{"name": name, "short": name[:20], "y": TOP + n * ROW,
                                  "mid": TOP + n * ROW + ROW / 2 + 4} for n, name in enumerate(rows)],
            "ticks": _ticks(calendar, last, scale), "now": None if now is None or now > last else LEFT + now * scale}


def _bar(one: Placed, x: float, y: float, scale: float, real) -> dict:
    done, spans = real
    wide, setting = (one.end - one.start) * scale, one.setting * scale
    names, room = (one.task.id, one.task.id.lstrip("T-0")), wide - setting - 6
    words = next((text for text in names if len(text) * CHARACTER < room), "")
    upright = next((text for text in names if len(text) * SMALL < ROW - 12), "")
    first, last = spans.get(one.task.id, (0, 0))
    span = {"x": round(LEFT + first * scale, 1), "wide": round(max(3.0, (last - first) * scale), 1),
            "y": y + 2} if one.task.id in spans else None
    return {"id": one.task.id, "really": span, "by": bool(one.task.by), "start": one.start,
            "x": round(x, 1), "y": y + 6, "wide": round(wide, 1),
            "high": ROW - 12, "setting": round(setting, 1), "words": words, "text_x": round(x + setting + 5, 1),
            "done": round((wide - setting) * done.get(one.task.id, 0.0), 1),
            "late": one.late > 0, "fixed": one.task.fixed is not None, "two": one.task.hands > 1,
            "upright": "" if words or wide < UPRIGHT else upright, "middle": round(x + wide / 2 + 4, 1),
            "text_y": y + ROW / 2 + 4, "bent_x": round(x + setting, 1), "ticked_y": y + ROW - 12}


def _ticks(calendar: Calendar, last: int, scale: float) -> list[dict]:
    """Days, and whole hours where there is room."""
    found, every = [], next(step for step in (30, 60, 120, 240, 10_000) if step * scale > 46)
    for day, start, end in calendar.days(last):
        found.append({"x": round(LEFT + start * scale, 1), "words": f"{day:%a} {day.day}", "day": True})
        for minute in range(start, min(end, last)):
            at = calendar.moment(minute)
            if (at.hour * 60 + at.minute) % every == 0 and (minute - start) * scale > 54:
                found.append({"x": round(LEFT + minute * scale, 1), "words": f"{at:%H:%M}", "day": False})
    return found

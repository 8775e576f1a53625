"""The shop's working time as minutes on end: breaks, nights and days off are not counted."""

from bisect import bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from functools import cached_property

from ..errors import Refusal

MOST_DAYS = 3650
"""No work is planned farther ahead."""


@dataclass(frozen=True)
class Hours:
    """Working time of a day: stretches (from, to), and on which weekdays (Monday is 0). Refuses what is no such."""

    stretches: tuple[tuple[time, time], ...] = ((time(7, 30), time(12)), (time(12, 30), time(16, 30)))
    weekdays: tuple[int, ...] = (0, 1, 2, 3, 4)

    def __post_init__(self):
        flat = [moment for stretch in self.stretches for moment in stretch]
        if not flat or flat != sorted(set(flat)):
            raise Refusal("hours", "must run on through the day: each begins after the one before ends")
        if not self.weekdays:
            raise Refusal("weekdays", "needs a working day at least")


@dataclass(frozen=True)
class Calendar:
    """Working minutes from ``begin`` on: before it they are 0."""

    begin: datetime
    hours: Hours = Hours()

    @cached_property
    def _known(self) -> list[tuple[datetime, datetime, int]]:
        """(from, to, working minutes before it) of the stretches looked up so far."""
        return []

    def _until(self, enough: Callable[[tuple[datetime, datetime, int]], bool]) -> list[tuple[datetime, datetime, int]]:
        """The stretches from the beginning on, as many as it takes until one is ``enough``."""
        found = self._known
        day = found[-1][1].date() + timedelta(days=1) if found else self.begin.date()
        last = day + timedelta(days=MOST_DAYS)
        while day < last and not (found and enough(found[-1])):
            for start, end in self.hours.stretches if day.weekday() in self.hours.weekdays else ():
                start, end = (datetime.combine(day, moment, self.begin.tzinfo) for moment in (start, end))
                start = max(start, self.begin)
                if end > start:
                    before = found[-1][2] + _minutes(*found[-1][:2]) if found else 0
                    found.append((start, end, before))
            day += timedelta(days=1)
        return found

    def minute(self, at: datetime) -> int:
        """Working minutes from the beginning to a moment; in a break, those up to it."""
        done = 0
        for start, end, before in self._until(lambda last: last[1] >= at):
            if at <= start:
                break
            done = before + _minutes(start, min(at, end))
        return done

    def moment(self, minute: int, ends: bool = False) -> datetime:
        """When a working minute is; where a stretch ends and another begins, the end of the one for what ``ends``."""
        stretches = self._until(lambda last: last[2] > minute)
        if not stretches:
            return self.begin
        n = bisect_right(stretches, minute, key=lambda row: row[2]) - 1
        if ends and n > 0 and stretches[n][2] == minute:
            n -= 1
        start, _, before = stretches[n]
        return start + timedelta(minutes=minute - before)

    def end_of(self, day: date) -> int:
        """Working minutes up to the end of a day."""
        return self.minute(datetime.combine(day, time.max, self.begin.tzinfo))

    def start_of(self, day: date) -> int:
        """Working minutes up to the beginning of a day."""
        return self.minute(datetime.combine(day, time.min, self.begin.tzinfo))

    def days(self, until: int) -> Sequence[tuple[date, int, int]]:
        """(day, from, to) of the working days until a minute."""
        found: dict[date, list[int]] = {}
        for start, end, before in self._until(lambda last: last[2] > until):
            if before > until and start.date() not in found:
                break
            row = found.setdefault(start.date(), [before, before])
            row[1] = before + _minutes(start, end)
        return [(day, *row) for day, row in found.items()]


def _minutes(start: datetime, end: datetime) -> int:
    return int((end - start).total_seconds() // 60)

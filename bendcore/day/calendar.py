"""The shop's working time as minutes on end: breaks, nights and days off are not counted."""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from functools import cached_property

from ..errors import Refusal

MOST_DAYS = 60
"""So far ahead is planned."""


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
    def stretches(self) -> list[tuple[datetime, datetime, int]]:
        """(from, to, working minutes before it) of every stretch from the beginning on."""
        found, before = [], 0
        for n in range(MOST_DAYS):
            day = self.begin.date() + timedelta(days=n)
            if day.weekday() not in self.hours.weekdays:
                continue
            for start, end in self.hours.stretches:
                start, end = (datetime.combine(day, moment, self.begin.tzinfo) for moment in (start, end))
                start = max(start, self.begin)
                if end > start:
                    found.append((start, end, before))
                    before += int((end - start).total_seconds() // 60)
        return found

    @cached_property
    def _starts(self) -> list[int]:
        return [before for _, _, before in self.stretches]

    def minute(self, at: datetime) -> int:
        """Working minutes from the beginning to a moment; in a break, those up to it."""
        done = 0
        for start, end, before in self.stretches:
            if at <= start:
                break
            done = before + int((min(at, end) - start).total_seconds() // 60)
        return done

    def moment(self, minute: int, ends: bool = False) -> datetime:
        """When a working minute is; where a stretch ends and another begins, the end of the one for what ``ends``."""
        if not self.stretches:
            return self.begin
        n = bisect_right(self._starts, minute) - 1
        if ends and n > 0 and self._starts[n] == minute:
            n -= 1
        start, _, before = self.stretches[n]
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
        for start, end, before in self.stretches:
            if before > until and start.date() not in found:
                break
            row = found.setdefault(start.date(), [before, before])
            row[1] = before + int((end - start).total_seconds() // 60)
        return [(day, *row) for day, row in found.items()]

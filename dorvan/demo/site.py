"""The demo's site sheets."""

from datetime import date, timedelta

from django.utils import timezone

from dorvan.site.forms import read_reading
from dorvan.site.models import SizeRule, Thing, Use, Visit
from dorvan.site.moving import follow
from dorvan.tickets.models import Ticket


def in_days(days: int | None) -> date | None:
    """The day so many days from today; None for None."""
    return None if days is None else timezone.localdate() + timedelta(days=days)


def fill_site(rows: list[dict], people: dict) -> None:
    """Visits with what was measured, the rules and the sketch."""
    for number, row in enumerate(rows, 1):
        who = people[row["who"]]
        visit = Visit.objects.create(number=number, name=row["name"], place=row["place"], on=in_days(row["on"]),
                                     sketch=row["sketch"], made_by=who)
        for one in row["things"]:
            thing = Thing.objects.create(visit=visit, name=one["name"], kind=one["kind"], to=one.get("to", ""),
                                         awaits=one.get("awaits", ""), until=in_days(one.get("until")))
            for text in one["readings"]:
                thing.readings.create(who=who.username, by=who, **read_reading({"reading": text}, thing, "mm"))
        for rule in row["rules"]:
            SizeRule.objects.create(visit=visit, name=rule["name"], text=rule["text"])
        for use in row["uses"]:
            Use.objects.create(rule=visit.rules.get(name=use["rule"]), field=use["field"],
                               ticket=Ticket.objects.get(number=use["ticket"]))
        follow(visit, who)

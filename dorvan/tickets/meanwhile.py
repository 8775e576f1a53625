"""Two people at one ticket: what changed since a page was drawn, and what to do about it.

Every form carries the stamp of the ticket it was drawn from. When the ticket has moved
on, a change of something nobody else touched goes in and the person is told; a change
of the same thing goes nowhere until the person has seen both.
"""

from dataclasses import dataclass

from bendcore.edits import standing

from .file import changes
from .models import Edit, Ticket

ANYTHING = "*"
"""The field of a change that touches whatever was changed last: undo and redo."""


@dataclass(frozen=True)
class Meanwhile:
    """``changes`` are (words, before, after); ``base`` the edit the page was drawn from, if known."""

    who: str
    changes: tuple[tuple[str, object, object], ...]
    fields: frozenset[str]
    base: Edit | None

    def touches(self, ticket: Ticket, field: str) -> bool:
        """Whether a change of ``field`` could undo or misplace another's."""
        if field == ANYTHING or self.base is None or standing(self.base.part) != standing(ticket.part):
            return True
        return any(field == f or field.startswith((f + ".", f + "[")) or f.startswith((field + ".", field + "["))
                   for f in self.fields)


def meanwhile(ticket: Ticket, stamp: str, reader) -> Meanwhile | None:
    """What happened since the page with this stamp; None when nothing did."""
    if not stamp or stamp == ticket.stamp:
        return None
    base = ticket.edits.filter(stamp=stamp).last()
    since = ticket.edits.select_related("by").filter(place__lte=ticket.place)
    since = since.filter(place__gt=base.place) if base else since
    names = dict.fromkeys("you, elsewhere" if e.by == reader else str(e.by) for e in since)
    found = []
    if base:
        found = changes.differences(base.part, ticket.part) + changes.differences(
            {k.removesuffix("_id"): v for k, v in base.choices.items()},
            {k.removesuffix("_id"): v for k, v in ticket.choices.items()})
    return Meanwhile(" and ".join(names) or "Someone", tuple((changes.in_words(f, ticket.kind), _plain(b), _plain(a))
                                                             for f, b, a in found),
                     frozenset(f for f, _, _ in found), base)


def _plain(value) -> str:
    if value is None or value == "":
        return "nothing"
    if isinstance(value, dict):
        return ", ".join(f"{k} {v}" for k, v in value.items())[:80]
    if isinstance(value, list):
        return f"{len(value)} of them" if value and isinstance(value[0], dict) else ", ".join(map(str, value))[:80]
    return str(value)

"""What a site sheet does to tickets: sizes that follow from it are set, and what is not measured holds them."""

from dataclasses import dataclass

from django.db import transaction

from bendcore import edits
from bendcore.errors import Refusal
from bendcore.families import FAMILIES
from bendcore.fields import Angle, Count, leaves
from bendcore.said import Said, packed
from bendcore.site.measured import LENGTH
from bendcore.site.rules import Value
from bendcore.site.sheet import ALIKE, Sheet
from bendcore.units import read_angle, read_length
from dorvan.tickets import kits
from dorvan.tickets.models import Hold, Ticket, write
from dorvan.versions.doing import TRIES, Moved

from .models import Use, Visit


@dataclass(frozen=True)
class Follows:
    """What became of the tickets of a site sheet: those ``moved``, and what could not follow, both in words."""

    moved: tuple[str, ...] = ()
    could_not: tuple[str, ...] = ()


def follow(visit: Visit, by, only: Use | None = None) -> Follows:
    """Set every size whose rule comes to another than it gave last (or the ``only`` one, whatever it gave), and hold
    the tickets whose sizes are not settled."""
    sheet = visit.sheet()
    values = sheet.values
    uses = list(Use.objects.filter(rule__visit=visit).select_related("rule", "ticket"))
    by_ticket: dict[int, list[Use]] = {}
    for use in uses:
        value = values.get(use.rule.name)
        asked = only is None or use.pk == only.pk
        if value and asked and (only or use.given is None or abs(use.given - value.one) > ALIKE):
            by_ticket.setdefault(use.ticket_id, []).append(use)
    hold(visit, sheet, uses)
    moved, could_not = [], []
    leads_first = sorted(by_ticket.items(), key=lambda row: (row[1][0].ticket.lead_id is not None, row[0]))
    for pk, rows in leads_first:
        ticket = rows[0].ticket
        try:
            if _set(pk, {use.field: values[use.rule.name] for use in rows}, str(visit), by):
                moved.append(f"{ticket.tag} {ticket.name}")
            for use in rows:
                Use.objects.filter(pk=use.pk).update(given=values[use.rule.name].one)
        except Refusal as refusal:
            could_not.append(Said("{tag} {name}: {said}", tag=ticket.tag, name=ticket.name, said=refusal.message))
    return Follows(tuple(moved), tuple(could_not))


def hold(visit: Visit, sheet: Sheet, uses: list[Use]) -> None:
    """Hold each ticket for what its sizes still lack, and let go of those that lack nothing."""
    until = {thing.name: thing.until for thing in visit.things.all() if thing.awaits}
    rows = {}
    for use in uses:
        for name in sorted(sheet.hangs_on.get(use.rule.name, ())):
            lacks = sheet.measured[name].lacks
            if lacks:
                said = Said("{sheet}: {name} {what}", sheet=str(visit), name=name, what=lacks)
                rows[use.ticket_id, name] = Hold(ticket_id=use.ticket_id, source=str(visit), what=packed(said),
                                                 until=until.get(name))
        failed = sheet.failed.get(use.rule.name)
        if failed:
            said = Said("{sheet}: the rule of {name} {what}", sheet=str(visit), name=use.rule.name, what=failed)
            rows[use.ticket_id, use.rule.name] = Hold(ticket_id=use.ticket_id, source=str(visit), what=packed(said))
    with transaction.atomic():
        Hold.objects.filter(source=str(visit)).delete()
        Hold.objects.bulk_create(rows.values())


def _set(pk: int, sizes: dict[str, Value], source: str, by) -> bool:
    """Set these sizes of a ticket; whether that changed it. Raises Refusal when its part cannot have them."""
    for _ in range(TRIES):
        ticket = Ticket.objects.select_related("lead").get(pk=pk)
        try:
            return _set_once(ticket, {field: typed(value) for field, value in sizes.items()
                                      if not same(present(ticket, field), value)}, source, by)
        except Moved:
            continue
    raise Refusal("ticket", "is being changed by others right now: take it over again")


def _set_once(ticket, texts: dict[str, str], source: str, by) -> bool:
    if not texts:
        return False
    note = f"measured: {source}"
    if ticket.role == kits.SIZE and ticket.lead:
        ticket.sizes = ticket.sizes | {field: [text, "mm"] for field, text in texts.items()}
        edit = ticket.drafted(kits.drawn(ticket), note, by, follows=True)
        with transaction.atomic():
            ticket.keep("sizes")
            write(*filter(None, [edit]))
        return True
    part = ticket.part
    for field, text in texts.items():
        part = edits.set_field(part, f"shape.{field}", text, "mm")
    ticket.change(part, note, by)
    return True


def typed(value: Value) -> str:
    """A size as it is typed into a part."""
    return f"{round(value.one, 4):.10g}" + (" mm" if value.dimension == LENGTH else "")


def present(ticket, field: str) -> float | None:
    """What a size of a ticket's part is now, mm, degrees or a count; None where it cannot be read."""
    shape, units = ticket.part["shape"], ticket.part["units"]
    one, raw = next(((one, value) for one, path, value in leaves(FAMILIES[shape["kind"]].fields, shape)
                     if path == field), (None, None))
    raw = raw.get("length") if isinstance(raw, dict) else raw
    try:
        if isinstance(one, Angle):
            return read_angle(raw, field)
        return float(raw) if isinstance(one, Count) else read_length(raw, units, field)
    except (Refusal, TypeError, ValueError):
        return None


def same(now: float | None, value: Value) -> bool:
    """Whether a part has this size already, to what is typed into it."""
    return now is not None and abs(now - value.one) < 1e-4

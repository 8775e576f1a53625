"""One part in a table of sizes whose cells are rules: each becomes a rule of the sheet and sets its size."""

import re

from django.db import transaction

from bendcore.errors import Refusal
from bendcore.formats.size_table import Sized, read_sizes
from bendcore.said import Said
from bendcore.site.rules import NAME, check_name
from dorvan.tickets.models import Ticket
from dorvan.tickets.pages.sizes import make_sizes

from .models import SizeRule, Use, Visit
from .moving import typed

MOST_NAME = 40


def sizes_from(visit: Visit, lead: Ticket, text: str, by, units: str) -> int:
    """Make the lead in every size of the table; how many. Refuses at ``table`` with the row what cannot be, and then
    nothing is changed."""
    rows = read_sizes(text)
    rules = {rule.name: rule for rule in visit.rules.all()}
    drafts: dict[tuple[str, str], SizeRule] = {}
    for n, row in enumerate(rows, 2):
        for field, cell in row.fields.items():
            drafts[row.name, field] = _drafted(visit, rules, row.name, field, cell, units, n)
    whole = visit.sheet(drafts.values())
    try:
        whole.check()
    except Refusal as refusal:
        raise Refusal("table", refusal.message) from None
    values = whole.values
    sized = [Sized(row.name, row.count, {field: typed(values[drafts[row.name, field].name]) for field in row.fields
                                         if drafts[row.name, field].name in values}) for row in rows]
    with transaction.atomic():
        visit.move_on(by, [visit.ALL], f"had sizes of {lead.tag} follow from a table")
    made = {piece.name: piece for piece in make_sizes(lead, sized, by, "mm")}
    with transaction.atomic():
        for (name, field), rule in drafts.items():
            rule.save()
            Use.objects.update_or_create(ticket=made[name], field=field, defaults={
                "rule": rule, "given": values[rule.name].one if rule.name in values else None})
    return len(rows)


def _drafted(visit, rules, name, field, cell, units, n) -> SizeRule:
    words = re.sub(r"[^A-Za-z0-9]+", " ", f"{name} {field}").strip()[:MOST_NAME].strip()
    if not NAME.fullmatch(words):
        words = f"Size {words}"[:MOST_NAME]
    rule = rules.get(words)
    try:
        if rule is None:
            words = check_name(words, [*visit.things.values_list("name", flat=True), *rules], "table")
            rule = rules[words] = SizeRule(visit=visit, name=words)
        rule.text, rule.units = cell[:201], str(units)
        _ = rule.core(tuple(visit.things.values_list("name", flat=True)) + tuple(rules)).tree
    except Refusal as refusal:
        raise Refusal("table", Said("row {n}, {field}: {said}", n=n, field=field, said=refusal.message)) from None
    return rule

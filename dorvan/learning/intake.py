"""Samples that come from a file, into the ledger."""

import datetime

from bendcore.formats.samples import Entry
from dorvan.fields import number as number_of
from dorvan.ledger.models import Mark, Pair, Sample
from dorvan.stockroom.models import Lot
from dorvan.tickets.models import Ticket

from .forms import kept_readings


def take_in(entry: Entry, by) -> bool:
    """Add one entry unless the same readings are there."""
    words, sample = entry.words, entry.sample
    pair, _ = Pair.objects.get_or_create(material=words["material"], thickness=entry.nominal, tool=words["tool"][:120],
                                         hem=sample.proof.is_hem)
    kept = kept_readings(sample.proof, sample.held)
    if any(s.readings == kept for s in pair.samples.all()):
        return False
    try:
        on = datetime.date.fromisoformat(words["date"])
    except ValueError:
        on = datetime.date.today()
    new = Sample.objects.create(
        pair=pair, kind=words["kind"] or "proof", readings=kept, who=words["who"][:60] or by.username, on=on,
        note=words["note"], lot=Lot.objects.filter(code=words["lot"]).first(),
        ticket=Ticket.objects.filter(number=number_of(words["ticket"].removeprefix("T-"), 0)).first())
    if words["dropped"]:
        Mark.objects.create(sample=new, drop=True, reason=words["dropped"], by=by)
    return True

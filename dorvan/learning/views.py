"""The ledger: pairs of stock and tool, their samples and fits, and the shop's schools."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db import transaction
from django.db.models import Count, prefetch_related_objects
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.formats.samples import MOST_BYTES, Entry, read_samples, write_samples
from bendcore.schools.charts import read_chart
from dorvan import fields
from dorvan.drawings.charts import k_chart, residuals
from dorvan.floor.depths import degree_worth
from dorvan.ledger import fits
from dorvan.ledger.models import Chart, Mark, Pair, Proof, Rules, Sample
from dorvan.ledger.schools import standing
from dorvan.people.deeds import record
from dorvan.stockroom.models import MaterialValue
from dorvan.tickets.file.changes import METHODS
from dorvan.versions.doing import retried

from .adoption import adopt_fit, affected, reached, withdraw_fit
from .forms import read_default
from .intake import take_in

ON_A_PAGE, DRAWN, TICKETS_ON_A_PAGE = 15, 80, 10
"""Samples on a page, the newest that are drawn in the chart, and tickets whose blanks are worked out for it."""


@require_safe
def ledger(request):
    return ledger_page(request)


def ledger_page(request, error: Refusal | None = None):
    """Every pair with its fit, the proofs in hand, and the shop's schools."""
    pairs = list(Pair.objects.annotate(proof_count=Count("proofs")))
    known = fits.known_of(pairs)
    rows = [{"pair": pair, "learnt": known[pair.pk] and known[pair.pk].learnt, "adopted": pair.adopted,
             "standing": standing(pair), "proofs": pair.proof_count} for pair in pairs]
    rules = Rules.now()
    return render(request, "ledger/ledger.html", {
        "at": "ledger", "units": request.user.units, "rows": rows, "charts": Chart.objects.all(), "rules": rules,
        "proofs": Proof.objects.select_related("pair")[:8], "methods": METHODS, "typed": request.POST if error else {},
        "error": fields.told(error)}, status=422 if error else 200)


@require_safe
def pair(request, pk: int):
    return pair_page(request, get_object_or_404(Pair, pk=pk))


def pair_page(request, pair: Pair, error: Refusal | None = None):
    """One stock under one tool: chart, fit, samples a page at a time, what is proposed, adoption and its history."""
    known = fits.known(pair)
    learnt, kept = (known.learnt, known.places) if known else (None, {})
    order = list(pair.samples.values_list("pk", flat=True))
    number = {pk: n for n, pk in enumerate(order, 1)}
    pages = Paginator(order, ON_A_PAGE)
    page = pages.get_page(request.GET.get("page", "")[:9] or pages.num_pages)
    drawn = pair.samples.in_bulk({*order[-DRAWN:], *page})
    prefetch_related_objects([drawn[pk] for pk in page], "marks__by", "proof", "lot", "ticket")
    places = {pk: {"n": number[pk], "dropped": pk not in kept, "proposed": bool(known and known.reason(pk))}
              for pk in drawn}
    shown = [pk for pk in page if pk in kept]
    bars = {bar["n"]: bar for bar in residuals([drawn[pk].core for pk in shown], learnt,
                                               [places[pk] for pk in shown])} if learnt else {}
    rows = [{"sample": drawn[pk], "core": drawn[pk].core, "reason": known.reason(pk) if known else "",
             "weight": known.weight(pk) if known else 0.0, "place": places[pk], "dropped": drawn[pk].dropped,
             "field": f"sample-{pk}"} for pk in page]
    newest = [pk for pk in order[-DRAWN:] if pk in drawn]
    alloy = MaterialValue.known().get(pair.material)
    tickets = Paginator(reached(pair) if learnt and not pair.hem else [], TICKETS_ON_A_PAGE).get_page(
        request.GET.get("tickets", "1")[:9])
    return render(request, "ledger/pair.html", {
        "at": "ledger", "units": request.user.units, "pair": pair, "rows": rows, "page": page, "learnt": learnt,
        "fit_key": f"{learnt.k.value:.4f}" if learnt else "", "bars": bars, "left_out": len(order) - len(newest),
        "adopted": pair.adopted, "standing": standing(pair),
        "history": pair.adoptions.select_related("by").order_by("-id"),
        "enough": Rules.now().enough, "tickets": tickets, "affected": affected(tickets, known) if known else [],
        "chart": k_chart([drawn[pk].core for pk in newest], learnt, pair.adopted,
                         alloy.handbook_group if alloy else "medium", [places[pk] for pk in newest]),
        "depth": degree_worth(pair), "error": fields.told(error)}, status=422 if error else 200)


@require_POST
def mark(request, pk: int):
    """Drop a sample, or take it back, with a reason. Only a person does either."""
    sample = get_object_or_404(Sample.objects.select_related("pair"), pk=pk)
    drop, reason = request.POST.get("do") == "drop", fields.words(request.POST.get("reason"), 200)
    if len(reason) < 3:
        return pair_page(request, sample.pair, Refusal(f"sample-{pk}", "needs a reason, in a few words"))
    with transaction.atomic():
        if drop != bool(sample.dropped):
            Mark.objects.create(sample=sample, drop=drop, reason=reason, by=request.user)
            which = f"{sample.pair}, sample {sample.pk}"
            record(request.user, "sample", f"{which}: {'kept' if drop else 'dropped'}",
                   f"{which}: {'dropped' if drop else 'kept'}", sample.ticket.tag if sample.ticket else "", reason)
    return redirect("ledger:pair", pk=sample.pair_id)


@require_POST
@retried
def adopt(request, pk: int):
    """A lead takes the fit as it stands; open tickets that follow the shop take it over."""
    pair = get_object_or_404(Pair, pk=pk)
    reason = fields.words(request.POST.get("reason"), 200)
    known = fits.known(pair)
    if known is None:
        return pair_page(request, pair, Refusal("adopt", "there is no sample to adopt a fit from"))
    if request.POST.get("k", "") != f"{known.learnt.k.value:.4f}":
        return pair_page(request, pair, Refusal("adopt", "the fit changed since you looked: look again, then adopt"))
    told(request, adopt_fit(pair, known, reason, request.user))
    return redirect("ledger:pair", pk=pk)


def told(request, tickets: list) -> None:
    if tickets:
        names = ", ".join(t.tag for t in tickets)
        messages.success(request, f"Taken over by {names}. A ticket that should not follow takes a school of its own "
                                  "at Proof.")


@require_POST
@retried
def withdraw(request, pk: int):
    """A lead takes an adoption back; the shop's default school holds again."""
    pair, reason = get_object_or_404(Pair, pk=pk), fields.words(request.POST.get("reason"), 200)
    if len(reason) < 3:
        return pair_page(request, pair, Refusal("withdraw", "needs a reason, in a few words"))
    if pair.adopted:
        told(request, withdraw_fit(pair, reason, request.user))
    return redirect("ledger:pair", pk=pk)


@require_safe
def export(request):
    """Every sample as CSV, dropped ones too, with the reason."""
    entries = []
    for s in Sample.objects.select_related("pair", "lot", "ticket").prefetch_related("marks"):
        entries.append(Entry(s.core, s.pair.thickness, {
            "date": s.on.isoformat(), "who": s.who, "ticket": s.ticket.tag if s.ticket else "",
            "lot": s.lot.code if s.lot else "", "material": s.pair.material, "tool": s.pair.tool, "kind": s.kind,
            "note": s.note, "dropped": s.dropped.reason if s.dropped else ""}))
    response = HttpResponse(write_samples(entries), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="ledger.csv"'
    return response


@require_POST
def read_in(request):
    """Add the samples of a CSV file; all of them or none."""
    file = request.FILES.get("file")
    if not file:
        return ledger_page(request, Refusal("file", "Choose a CSV file first"))
    try:
        entries = read_samples(_text(file))
        known = MaterialValue.known()
        for n, entry in enumerate(entries, 2):
            if entry.words["material"] not in known:
                raise Refusal("file", f"row {n}: “{entry.words['material'][:30]}” is not in the stockroom")
        with transaction.atomic():
            added = sum(take_in(entry, request.user) for entry in entries)
    except Refusal as refusal:
        return ledger_page(request, refusal)
    messages.success(request, f"{added} samples read in, {len(entries) - added} were there already.")
    return redirect("ledger:ledger")


def _text(file) -> str:
    if file.size > MOST_BYTES:
        raise Refusal("file", f"is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        return file.read(MOST_BYTES + 1).decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal("file", "is not UTF-8 text") from None


@require_POST
def rules(request):
    """The shop's default school, and how many samples are enough."""
    try:
        default = read_default(request.POST)
        enough = fields.whole(request.POST.get("enough"), "enough", 2, 100)
    except Refusal as refusal:
        return ledger_page(request, refusal)
    with transaction.atomic():
        row = Rules.objects.first() or Rules()
        row.default, row.enough = default, enough
        row.save()
    messages.success(request, "Kept. Tickets that follow the shop take it when they are next changed.")
    return redirect("ledger:ledger")


@require_POST
def add_chart(request):
    """A chart pasted as CSV; one of the same name is replaced."""
    form = request.POST
    name, text = fields.words(form.get("name"), 60), form.get("text", "")
    units = form.get("units") if form.get("units") in ("mm", "in") else "mm"
    try:
        if not name:
            raise Refusal("chart-name", "must be given: where the chart comes from")
        found = read_chart(text, units)
    except Refusal as refusal:
        return ledger_page(request, refusal)
    Chart.objects.update_or_create(name=name, defaults={"text": text, "units": units, "by": request.user})
    messages.success(request, f"{name}: {len(found.rows)} rows.")
    return redirect("ledger:ledger")


@require_POST
def remove_chart(request, pk: int):
    """Take a chart down; tickets laid out by it keep the rows they took."""
    get_object_or_404(Chart, pk=pk).delete()
    return redirect("ledger:ledger")

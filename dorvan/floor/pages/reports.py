"""What is printed and handed on of a revision: check sheets as PDF and CSV, and its log."""

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from bendcore.formats.report import Checked
from bendcore.formats.report import report as printed
from bendcore.said import in_units
from dorvan.shop.models import Shop
from dorvan.spreadsheet import plain, table
from dorvan.tickets.pages.lookup import released_or_404

from ..history import events, times
from ..models import standing
from .check import verdict_of


@require_safe
def report_pdf(request, number: int):
    """The same printed, a page for each sheet, with what it came from and what was decided."""
    ticket, revision = released_or_404(number)
    pieces, stands = [], standing(revision)
    for sheet in revision.sheets.select_related("by"):
        lines = [f"Measured by {sheet.by.username}, {sheet.at:%d %b %Y %H:%M}."]
        told = verdict_of(revision, sheet)
        lines += [": ".join(in_units(text, request.user.units) for text in (cause.cause, cause.correction))
                  for cause in told["causes"]]
        if told["decision"]:
            lines.append(f"Decided by {told['decision'].by.username}: {told['decision'].get_what_display()}, because "
                         f"{told['decision'].words}.")
        title = f"Piece {sheet.piece} of {ticket.quantity}, {'good' if sheet.good else 'out of tolerance'}"
        if stands[sheet.piece] != sheet:
            title += " (measured again: a later sheet stands)"
        pieces.append(Checked(title, sheet.measured, lines))
    return HttpResponse(printed(f"{ticket.tag} {ticket.name}, revision {revision.letter}", pieces, request.user.units,
                                Shop.now().letterhead),
                        content_type="application/pdf", headers={
                            "Content-Disposition": f'inline; filename="{ticket.tag}-{revision.letter}-checks.pdf"'})


@require_safe
def report(request, number: int):
    """Every check sheet of the newest revision as CSV: a line a reading, in mm and degrees."""
    ticket, revision = released_or_404(number)
    answer, rows = table(f"{ticket.tag}-{revision.letter}-checks")
    rows.writerow(["piece", "dimension", "unit", "nominal", "tolerance", "measured", "elsewhere", "verdict", "by",
                   "at", "stands"])
    stands = standing(revision)
    for sheet in revision.sheets.select_related("by"):
        for row in sheet.measured:
            d = row.dimension
            sizes = [f"{size:.3f}" for size in (d.nominal, d.tolerance, row.measured, *row.others)]
            rows.writerow([sheet.piece, d.title, d.unit, *sizes[:3], " ".join(sizes[3:]), row.verdict,
                           sheet.by.username, sheet.at.isoformat(timespec="minutes"),
                           "yes" if stands[sheet.piece] == sheet else "no"])
    return answer


@require_safe
def log_page(request, number: int):
    """Everything that happened to the newest revision, newest first, and how long each stage took."""
    ticket, revision = released_or_404(number)
    found = events(revision)
    return render(request, "floor/log.html", {
        "ticket": ticket, "at": "rack", "revision": revision, "units": request.user.units, "events": found[::-1],
        "times": [(stage, took.total_seconds() / 60) for stage, took in times(found).items()]})


@require_safe
def log_csv(request, number: int):
    """The same as CSV: a line an entry, readings in mm and degrees."""
    ticket, revision = released_or_404(number)
    answer, rows = table(f"{ticket.tag}-{revision.letter}-log")
    rows.writerow(["at", "by", "what", "piece", "step", "more", "readings"])
    for event in events(revision):
        rows.writerow([event.at.isoformat(timespec="seconds"), event.by, event.what,
                       "" if event.piece is None else event.piece, event.step or "", plain(event.more),
                       "; ".join(f"{name} {value:.3f}" for name, value, _ in event.readings)])
    return answer

"""Check sheets: what a finished piece measures, what a wrong one came from, and what was decided on it."""

import csv

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from bendcore.errors import Refusal
from bendcore.floor.causes import separating, told, ways_to_save
from bendcore.floor.diagnosis import END, MIDDLE, OTHER, Readings
from bendcore.formats.report import Checked
from bendcore.formats.report import report as printed
from bendcore.quality.checksheet import CheckRow
from bendcore.said import in_units
from dorvan import fields
from dorvan.tickets.pages import bench
from dorvan.tickets.pages.lookup import released_or_404, ticket_or_404

from .. import readings
from ..models import CheckSheet, Decision
from ..readings import within
from ..run import Progress, diagnosis_of, ties_of

PLACES = {"mm": (END, OTHER), "°": (MIDDLE, END, OTHER)}
"""Where along the bend a dimension is read, first the reading that is always asked for."""
ELSEWHERE = {OTHER: "other end", END: "one end"}
LEAST_K = 0.003
"""A K that differs by less is not worth a new blank."""
EVERY = 10
"""So many pieces are bent between two that are checked (*start*)."""


@require_GET
def check(request, number: int):
    return check_page(request, ticket_or_404(number))


def field_of(name: str, place: int) -> str:
    """The input of a dimension's reading, by its place."""
    return name if not place else f"{name}~{place}"


def check_page(request, ticket, typed=None, errors=None):
    """The list of finished dimensions, to be filled in or as saved."""
    revision, typed, errors = ticket.revision, typed or {}, errors or {}
    figures = revision.figures if revision else ticket.figures
    piece = within(request.POST.get("piece") or request.GET.get("piece"), 1, 1, ticket.quantity)
    along = diagnosis_of(revision).names if revision else ()
    sheet = revision.sheets.filter(piece=piece).last() if revision else None
    context = {
        "ticket": ticket, "at": "rack", "stage": "check", "ruler": bench.ruler(ticket, "check"),
        "units": request.user.units, "revision": revision, "sheet": sheet, "piece": piece,
        "rows": [_row(d, typed, errors, d.name in along) for d in figures.dimensions],
        "blanks": _blanks(revision, typed, errors) if revision else [],
        "again": bool(typed) or request.GET.get("again"), "errors": errors, "figures": figures, "shaped": figures.part,
        "part": figures.part, "body": "floor/_check.html", "sheets": revision.sheets.all() if revision else [],
        "due": _due(revision, ticket) if revision else []}
    if sheet and not context["again"]:
        k = Progress(revision).k_for_blank
        context |= _verdict(revision, sheet) | {"k": k if k and abs(k) >= LEAST_K else None}
    return render(request, "tickets/ticket.html", context, status=422 if errors else 200)


def _row(dimension, typed, errors, along) -> dict:
    places = PLACES[dimension.unit] if along else (END,)
    return {"dimension": dimension, "places": [
        {"field": name, "typed": typed.get(name, ""), "error": errors.get(name), "first": not n,
         "words": ELSEWHERE.get(place, "") if n else ""}
        for n, place in enumerate(places) for name in (field_of(dimension.name, n),)]}


def _blanks(revision, typed, errors) -> list[dict]:
    """The blank along each row of bends that runs from edge to edge."""
    found = []
    for row in ties_of(revision).rows:
        if all(row.legs):
            name = f"blank~{row.legs[0]}"
            found.append({"field": name, "long": row.long, "legs": (row.legs[0], row.legs[-1]),
                          "typed": typed.get(name, ""), "error": errors.get(name)})
    return found


def _due(revision, ticket) -> list[int]:
    """Pieces to be checked: the first, every nth, the last; those not checked yet."""
    checked = {sheet.piece for sheet in revision.sheets.all()}
    due = {1, ticket.quantity, *range(EVERY, ticket.quantity, EVERY)}
    return sorted(due - checked)


def _verdict(revision, sheet) -> dict:
    """What a wrong piece came from, and what of it can be saved."""
    diagnosis, off = diagnosis_of(revision), {}
    ties = diagnosis.ties
    for row in sheet.measured:
        if row.dimension.name in ties.dimensions:
            for place, size in zip(PLACES[row.dimension.unit], (row.measured, *row.others), strict=False):
                off[row.dimension.name, place] = size - row.dimension.nominal
    drawn = {row.legs[0]: row.long for row in ties.rows}
    verdict = diagnosis.of(Readings(off, {name: long - drawn[name] for name, long in sheet.blank.items()
                                           if name in drawn}))
    return {"closing": ties.closes_on, "verdict": verdict, "causes": [told(cause, ties) for cause in verdict.causes],
            "separate": separating(verdict.separate, ties) if verdict.separate else "",
            "save": _saved(sheet, revision.figures.part, diagnosis.names),
            "decision": sheet.decisions.select_related("by").last(), "choices": Decision.What.choices}


def _saved(sheet, part, names) -> list[dict]:
    """What can be done about legs and angles that are out, those alike together."""
    found: dict[tuple, list[str]] = {}
    for row in sheet.measured:
        if row.dimension.name in names and (ways := ways_to_save(row, part)):
            found.setdefault(tuple(ways), []).append(row.dimension.title)
    return [{"titles": titles, "ways": ways} for ways, titles in found.items()]


@require_POST
def save_check(request, number: int):
    """Save a check sheet: every row that was measured, with its verdict."""
    ticket, revision = released_or_404(number)
    typed, errors, rows = {}, {}, []

    def read(field, unit):
        text = typed[field] = request.POST.get(field, "")[:60].strip()
        try:
            return (readings.angle if unit == "°" else readings.length)(text, request.user.units, field)
        except Refusal as refusal:
            errors[field] = refusal.message
            return None

    for d in revision.figures.dimensions:
        found = [read(field_of(d.name, n), d.unit) for n in range(len(PLACES[d.unit]))]
        first, *others = found
        if first is None and any(value is not None for value in others) and d.name not in errors:
            errors[d.name] = "is measured here first"
        elif first is not None:
            if others[0] is None and len(others) > 1 and others[1] is not None:
                errors[field_of(d.name, 1)] = "is measured at one end first"
            rows.append(CheckRow(d, first, tuple(value for value in others if value is not None)).written())
    blank = {row["field"].removeprefix("blank~"): read(row["field"], "mm") for row in _blanks(revision, {}, {})}
    if not rows and not errors:
        errors["form"] = "Measure at least one dimension before saving."
    if errors:
        return check_page(request, ticket, typed, errors)
    piece = within(request.POST.get("piece"), 1, 1, ticket.quantity)
    CheckSheet.objects.create(revision=revision, piece=piece, rows=rows, by=request.user,
                              blank={name: long for name, long in blank.items() if long is not None})
    return redirect(f"{reverse('floor:check', args=[number])}?piece={piece}")


@require_POST
def decide(request, number: int, pk: int):
    """What is done with a piece that is out, and why."""
    ticket = ticket_or_404(number)
    sheet = get_object_or_404(CheckSheet, pk=pk, revision__ticket=ticket)
    words = fields.words(request.POST.get("words"), 300)
    try:
        what = fields.one_of(request.POST.get("what"), Decision.What.values, "what")
        if not words:
            raise Refusal("words", "must say why")
    except Refusal as refusal:
        return check_page(request, ticket, {"words": words}, {refusal.path: refusal.message})
    Decision.objects.create(sheet=sheet, what=what, words=words, by=request.user)
    return redirect(f"{reverse('floor:check', args=[number])}?piece={sheet.piece}")


@require_GET
def report_pdf(request, number: int):
    """The same printed, a page for each sheet, with what it came from and what was decided."""
    ticket, revision = released_or_404(number)
    pieces = []
    for sheet in revision.sheets.select_related("by"):
        lines = [f"Measured by {sheet.by.username}, {sheet.at:%d %b %Y %H:%M}."]
        told = _verdict(revision, sheet)
        lines += [": ".join(in_units(text, request.user.units) for text in (cause.cause, cause.correction))
                  for cause in told["causes"]]
        if told["decision"]:
            lines.append(f"Decided by {told['decision'].by.username}: {told['decision'].get_what_display()}, because "
                         f"{told['decision'].words}.")
        title = f"Piece {sheet.piece} of {ticket.quantity}, {'good' if sheet.good else 'out of tolerance'}"
        pieces.append(Checked(title, sheet.measured, lines))
    return HttpResponse(printed(f"{ticket.tag} {ticket.name}, revision {revision.letter}", pieces, request.user.units),
                        content_type="application/pdf", headers={
                            "Content-Disposition": f'inline; filename="{ticket.tag}-{revision.letter}-checks.pdf"'})


@require_GET
def report(request, number: int):
    """Every check sheet of the newest revision as CSV: a line a reading, in mm and degrees."""
    ticket, revision = released_or_404(number)
    answer = HttpResponse(content_type="text/csv; charset=utf-8", headers={
        "Content-Disposition": f'attachment; filename="{ticket.tag}-{revision.letter}-checks.csv"'})
    rows = csv.writer(answer)
    rows.writerow(["piece", "dimension", "unit", "nominal", "tolerance", "measured", "elsewhere", "verdict", "by",
                   "at"])
    for sheet in revision.sheets.select_related("by"):
        for row in sheet.measured:
            d = row.dimension
            sizes = [f"{size:.3f}" for size in (d.nominal, d.tolerance, row.measured, *row.others)]
            rows.writerow([sheet.piece, d.title, d.unit, *sizes[:3], " ".join(sizes[3:]), row.verdict,
                           sheet.by.username, sheet.at.isoformat(timespec="minutes")])
    return answer

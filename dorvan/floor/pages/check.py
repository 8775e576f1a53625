"""Check sheets: what a finished piece measures, and what a wrong one came from."""

from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from bendcore.errors import Refusal
from bendcore.floor.causes import separating, told, ways_to_save
from bendcore.floor.diagnosis import END, MIDDLE, OTHER, Readings
from bendcore.floor.drifting import drift_of
from bendcore.quality.checksheet import TRIED, CheckRow
from dorvan.drawings.charts import drift
from dorvan.tickets.pages import bench
from dorvan.tickets.pages.lookup import released_or_404, ticket_or_404

from .. import readings
from ..models import CheckSheet, Decision
from ..readings import within
from ..run import Progress, diagnosis_of, ties_of

PLACES = {"mm": (END, OTHER), "°": (MIDDLE, END, OTHER), TRIED: (END,)}
"""Where along the bend a dimension is read, first the reading that is always asked for."""
ELSEWHERE = {OTHER: "other end", END: "one end"}
TRY_WORDS = (("", ""), ("yes", "✓ yes"), ("no", "■ no"))
LEAST_K = 0.003
"""A K that differs by less is not worth a new blank."""
READ = {"mm": readings.length, "°": readings.angle, TRIED: readings.tried}
"""How what is typed for a dimension is read, by its unit."""


@require_GET
def check(request, number: int):
    return check_page(request, ticket_or_404(number))


def field_of(name: str, place: int) -> str:
    """The input of a dimension's reading, by its place."""
    return name if not place else f"{name}~{place}"


def check_page(request, ticket, typed=None, errors=None, piece=None):
    """The list of finished dimensions, to be filled in or as saved."""
    revision, typed, errors = ticket.revision, typed or {}, errors or {}
    figures = revision.figures if revision else ticket.figures
    piece = piece or within(request.POST.get("piece") or request.GET.get("piece"), 1, 1, ticket.quantity)
    along = diagnosis_of(revision).names if revision and revision.is_bent else ()
    sheet = revision.sheets.filter(piece=piece).last() if revision else None
    run = Progress(revision) if revision else None
    context = {
        "ticket": ticket, "at": "rack", "stage": "check", "ruler": bench.ruler(ticket, "check"),
        "units": request.user.units, "revision": revision, "sheet": sheet, "piece": piece,
        "rows": [_row(d, typed, errors, d.name in along) for d in figures.dimensions],
        "blanks": _blanks(revision, typed, errors) if revision else [],
        "again": bool(typed) or request.GET.get("again"), "errors": errors, "figures": figures, "shaped": figures.part,
        "part": figures.part, "body": "floor/_check.html", "sheets": revision.sheets.all() if revision else [],
        "tries": TRY_WORDS,
        "due": run.due if run else [], "drifts": _drifts(revision) if revision else []}
    if sheet and not context["again"]:
        k = run.k_for_blank
        context |= verdict_of(revision, sheet) | {"k": k if k and abs(k) >= LEAST_K else None}
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
    for row in ties_of(revision).rows if revision.is_bent else ():
        if all(row.legs):
            name = f"blank~{row.legs[0]}"
            found.append({"field": name, "long": row.long, "legs": (row.legs[0], row.legs[-1]),
                          "typed": typed.get(name, ""), "error": errors.get(name)})
    return found


def _drifts(revision) -> list[dict]:
    """Of each dimension measured on several pieces how it went; first those that wander off."""
    found: dict[str, list] = {}
    newest = {sheet.piece: sheet for sheet in revision.sheets.all()}
    for piece, sheet in sorted(newest.items()):
        for row in sheet.measured:
            if row.dimension.unit != TRIED:
                found.setdefault(row.dimension.name, []).append((piece, row))
    rows = []
    for measured in found.values():
        one = measured[-1][1].dimension
        pieces, off = [piece for piece, _ in measured], [row.measured - one.nominal for _, row in measured]
        if len(pieces) > 1:
            rows.append({"dimension": one, "drift": drift_of(pieces, off, one.tolerance),
                         "chart": drift([(str(piece), away) for piece, away in zip(pieces, off, strict=True)],
                                        one.tolerance)})
    return sorted(rows, key=lambda row: (row["drift"] is None, row["drift"] is None or row["drift"].out_in is None))


def verdict_of(revision, sheet) -> dict:
    """What a wrong piece came from, and what of it can be saved."""
    after = {"decision": sheet.decisions.select_related("by").last(), "choices": Decision.What.choices,
             "photographs": sheet.photographs.values_list("pk", flat=True)}
    if not revision.is_bent:
        return after | {"causes": []}
    diagnosis, off = diagnosis_of(revision), {}
    ties = diagnosis.ties
    for row in sheet.measured:
        if row.dimension.name in ties.dimensions:
            for place, size in zip(PLACES[row.dimension.unit], (row.measured, *row.others), strict=False):
                off[row.dimension.name, place] = size - row.dimension.nominal
    drawn = {row.legs[0]: row.long for row in ties.rows}
    verdict = diagnosis.of(Readings(off, {name: long - drawn[name] for name, long in sheet.blank.items()
                                           if name in drawn}))
    return after | {"closing": ties.closes_on, "verdict": verdict,
                    "causes": [told(cause, ties) for cause in verdict.causes],
                    "separate": separating(verdict.separate, ties) if verdict.separate else "",
                    "save": _saved(sheet, revision.figures.part, diagnosis.names)}


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
            return READ[unit](text, request.user.units, field)
        except Refusal as refusal:
            errors[field] = refusal.message
            return None

    for d in revision.figures.dimensions:
        found = [read(field_of(d.name, n), d.unit) for n in range(len(PLACES[d.unit]))]
        first, *others = found
        if first is None and any(value is not None for value in others) and d.name not in errors:
            errors[d.name] = "is measured here first"
        elif first is not None:
            if len(others) > 1 and others[0] is None and others[1] is not None:
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

"""Check sheets: what a finished piece measures, and what a wrong one came from."""

from django.db import transaction
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from bendcore.checks.good_side import where_good
from bendcore.errors import Refusal
from bendcore.floor.causes import told, ways_to_save, where_read
from bendcore.floor.diagnosis import END, OTHER
from bendcore.floor.drifting import drift_of
from bendcore.floor.reach import nonsense_k
from bendcore.floor.slips import doubt_of_blank, doubts_of_sheet
from bendcore.quality.checksheet import TRIED, CheckRow
from bendcore.quality.spreads import K
from dorvan.drawings.charts import drift
from dorvan.drawings.checked import checked_view
from dorvan.keeping.taken import take
from dorvan.tickets.pages import bench
from dorvan.tickets.pages.lookup import released_or_404, ticket_or_404

from .. import readings
from ..models import CheckSheet, Decision
from ..readings import within
from ..run import LATEST, PLACES, Progress, diagnosis_of, readings_of, ties_of

ELSEWHERE = {OTHER: "other end", END: "one end"}
TRY_WORDS = (("", ""), ("yes", "✓ yes"), ("no", "■ no"))
LEAST_K = 0.003
"""A K that differs by less is not worth a new blank."""
READ = {"mm": readings.length, "°": readings.angle, TRIED: readings.tried}
"""How what is typed for a dimension is read, by its unit."""


@require_safe
def check(request, number: int):
    return check_page(request, ticket_or_404(number))


def field_of(name: str, place: int) -> str:
    """The input of a dimension's reading, by its place."""
    return name if not place else f"{name}~{place}"


def check_page(request, ticket, typed=None, errors=None, piece=None, asks=None):
    """The list of finished dimensions, to be filled in or as saved."""
    revision, typed, errors = ticket.revision, typed or {}, errors or {}
    figures = revision.figures if revision else ticket.figures
    piece = piece or within(request.POST.get("piece") or request.GET.get("piece"), 1, 1, ticket.quantity)
    along = diagnosis_of(revision).names if revision and revision.is_bent else ()
    run = Progress(revision) if revision else None
    stands = run.sheets if run else {}
    sheet = stands.get(piece)
    context = {
        "ticket": ticket, "at": "rack", "stage": "check", "ruler": bench.ruler(ticket, "check"),
        "units": request.user.units, "revision": revision, "sheet": sheet, "piece": piece,
        "rows": [_row(d, typed, errors, d.name in along, asks or {}) for d in figures.dimensions],
        "blanks": _blanks(revision, typed, errors, asks or {}) if revision else [],
        "again": bool(typed) or request.GET.get("again"), "errors": errors, "figures": figures, "shaped": figures.part,
        "part": figures.part, "body": "floor/_check.html", "tries": TRY_WORDS,
        "sheets": [(one, stands[one.piece] != one) for one in revision.sheets.all()] if revision else [],
        "where_good": where_good(figures.part), "due": run.due if run else [], "drifts": _drifts(stands),
        "seen": checked_view(figures.part, sheet.measured if sheet and not (typed or request.GET.get("again")) else ())}
    if sheet and not context["again"]:
        k = run.k_for_blank
        k = k if k and abs(k) >= LEAST_K else None
        nonsense = nonsense_k(figures.part, k) if k else None
        context |= verdict_of(revision, sheet) | {"k": None if nonsense else k, "nonsense": nonsense}
    return render(request, "tickets/ticket.html", context, status=422 if errors else 200)


def _row(dimension, typed, errors, along, asks) -> dict:
    places = PLACES[dimension.unit] if along else (END,)
    return {"dimension": dimension, "places": [
        {"field": name, "typed": typed.get(name, ""), "error": errors.get(name), "asks": asks.get(name),
         "first": not n,
         "words": ELSEWHERE.get(place, "") if n else ""}
        for n, place in enumerate(places) for name in (field_of(dimension.name, n),)]}


def _blanks(revision, typed, errors, asks) -> list[dict]:
    """The blank along each row of bends that runs from edge to edge."""
    found = []
    for row in ties_of(revision).rows if revision.is_bent else ():
        if all(row.legs):
            name = f"blank~{row.legs[0]}"
            found.append({"field": name, "long": row.long, "legs": (row.legs[0], row.legs[-1]),
                          "typed": typed.get(name, ""), "error": errors.get(name), "asks": asks.get(name)})
    return found


def _drifts(stands: dict[int, CheckSheet]) -> list[dict]:
    """Of each dimension measured on several pieces how it went; first those that wander off."""
    found: dict[str, list] = {}
    for piece, sheet in sorted(stands.items()):
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
    diagnosis = diagnosis_of(revision)
    ties = diagnosis.ties
    verdict = diagnosis.of(readings_of(sheet, ties))
    return after | {"closing": ties.closes_on, "verdict": verdict,
                    "causes": [told(cause, ties) for cause in verdict.causes],
                    "besides": told(verdict.besides, ties) if verdict.besides else None,
                    "allowance": any(cause.kind == K for cause in verdict.causes),
                    "separate": where_read(verdict.separate, ties) if verdict.separate else "",
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
    typed, errors, rows, sure = {}, {}, [], []

    def read(field, unit):
        typed[field], again = readings.answered(request.POST, field)
        if again:
            sure.append(field)
        try:
            return READ[unit](typed[field], request.user.units, field)
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
            rows.append(CheckRow(d, first, tuple(value for value in others if value is not None)))
    blank = {row["field"].removeprefix("blank~"): read(row["field"], "mm") for row in _blanks(revision, {}, {}, {})}
    if not rows and not errors:
        errors["form"] = "Measure at least one dimension before saving."
    piece = within(request.POST.get("piece"), 1, 1, ticket.quantity)
    asks = {} if errors else _asked(revision, piece, rows, blank, request.user.units)
    open_ = {field: one for field, one in asks.items() if field not in sure}
    if errors or open_:
        return check_page(request, ticket, typed, errors | {field: one.question for field, one in open_.items()},
                          piece, open_)
    with transaction.atomic():
        take(request)
        CheckSheet.objects.create(revision=revision, piece=piece, rows=[row.written() for row in rows], by=request.user,
                                  blank={name: long for name, long in blank.items() if long is not None},
                                  sure=sorted({field.partition("~")[0] for field in asks}))
    revision.count_checked()
    return redirect(f"{reverse('floor:check', args=[number])}?piece={piece}")


def _asked(revision, piece: int, rows: list[CheckRow], blank: dict, units) -> dict[str, readings.Asked]:
    """By field what is to be asked before a sheet is kept."""
    run, thickness = Progress(revision), revision.figures.part.stock.thickness
    foreseen = (run.ties, run.known(LATEST, 1), run.settings_of(piece)) if revision.is_bent else ()
    found = {field_of(*at): one for at, one in doubts_of_sheet(rows, thickness, *foreseen).items()}
    for row in _blanks(revision, {}, {}, {}):
        size = blank.get(row["legs"][0])
        if size is not None and (asks := doubt_of_blank(row["long"], size)):
            found[row["field"]] = asks
    unit = {row.dimension.name: row.dimension.unit for row in rows}
    return {field: readings.Asked.of(field, one, unit.get(field.partition("~")[0], "mm"), units)
            for field, one in found.items()}

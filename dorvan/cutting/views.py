"""Cutting: which blanks wait, plans laid out, looked at, moved by hand, cut."""

from collections import defaultdict

from django.contrib import messages
from django.db import transaction
from django.db.models import Max
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.cutting.plan import freed, hard_to_hold, needed
from bendcore.errors import Refusal
from bendcore.formats.labels import labels
from bendcore.formats.nest import to_nest
from dorvan.drawings.nest import sheet_view
from dorvan.fields import one_of, told, whole
from dorvan.keeping.taken import take
from dorvan.longwork.desk import Working
from dorvan.shop.models import Shop
from dorvan.stockroom.models import Lot
from dorvan.tickets.models import Ticket
from dorvan.tickets.models.cut import blank_key
from dorvan.versions.doing import retried, status_of

from .cutting import cut_sheet, take_back
from .forms import read_move, read_new, read_way
from .labelling import labels_of
from .laying import KERF, drawn, groups, held_on, laid, lay_out, moved, sheets_of, wrong
from .models import CuttingPlan

LATEST, MOST_LISTED, MOST_SHEETS = 15, 60, 8
"""Plans, tickets and sheets of a stock that are listed."""


@require_safe
def plans(request):
    return plans_page(request)


def plans_page(request, error: Refusal | None = None):
    """What waits to be cut, by stock, and the plans so far."""
    waiting = groups(Ticket.objects.filter(archived=False).order_by("-number")[:MOST_LISTED])
    lots = defaultdict(list)
    for lot in Lot.objects.filter(count__gt=0, material__in={group["material"] for group in waiting}).only(
            "code", "material", "thickness", "readings", "length", "width", "count", "cut_from"):
        lots[lot.material].append(lot)
    for group in waiting:
        found = sheets_of(group["thickness"], lots[group["material"]])
        group |= {"sheets": found[-MOST_SHEETS:], "left_out": len(found[:-MOST_SHEETS])}
    return render(request, "cutting/plans.html", {
        "at": "cutting", "units": request.user.units, "groups": waiting,
        "plans": CuttingPlan.objects.counted()[:LATEST],
        "ways": CuttingPlan.Way.choices, "wishes": CuttingPlan.Wish.choices, "typed": request.POST if error else {},
        "error": told(error)}, status=422 if error else 200)


@require_POST
def new(request):
    """A plan for each stock of the blanks chosen; it is laid out when its page asks for it."""
    try:
        plans = read_new(request.POST, request.user.units)
    except Refusal as refusal:
        return plans_page(request, refusal)
    with transaction.atomic():
        last = CuttingPlan.objects.aggregate(last=Max("number"))["last"] or 0
        made = [CuttingPlan.objects.create(number=last + n, made_by=request.user, **fields)
                for n, fields in enumerate(plans, 1)]
    if len(made) > 1:
        messages.success(request, f"{len(made)} plans, one for each stock: {', '.join(map(str, made))}.")
        return redirect("cutting:plans")
    return redirect("cutting:plan", number=made[0].number)


@require_safe
def plan(request, number: int):
    return plan_page(request, get_object_or_404(CuttingPlan, number=number))


def plan_page(request, plan: CuttingPlan, error: Refusal | None = None):
    """Every sheet with its blanks, cuts and leftovers; or that it is being worked out."""
    units, working, refused, ahead = request.user.units, False, None, 0
    if plan.laid is None:
        try:
            found = lay_out(plan)
            CuttingPlan.objects.filter(pk=plan.pk, laid__isnull=True).update(laid=found)
            plan.refresh_from_db()
        except Working as going_on:
            working, ahead = True, going_on.ahead
        except Refusal as refusal:
            refused = refusal
    context = {"at": "cutting", "units": units, "plan": plan, "working": working, "ahead": ahead, "refused": refused,
               "ways": CuttingPlan.Way.choices, "wishes": CuttingPlan.Wish.choices,
               "typed": request.POST if error else {}, "kerf_usual": KERF[plan.way], "changed": _changed(plan),
               "error": told(error)}
    if plan.laid is not None:
        context |= _laid_out(plan, units)
    return render(request, "cutting/plan.html", context, status=status_of(error))


def _laid_out(plan: CuttingPlan, units) -> dict:
    found = laid(plan)
    bad, cut = wrong(plan, found), plan.cut_sheets
    held = held_on(found, [n for n in range(len(found.sheets)) if n not in cut])
    lots = Lot.objects.filter(code__in=[sheet.id for sheet in found.sheets])
    surfaces = {lot.code: lot.get_surface_display() for lot in lots}
    sheets = []
    for n, sheet in enumerate(found.sheets):
        own = [one for one in found.placed if one.sheet == n]
        sheets.append({"n": n + 1, "stock": sheet, "surface": surfaces.get(sheet.id, ""),
                       "view": sheet_view(found, n, units), "cut": n in cut,
                       "needed": needed(found.placed, n, plan.margin),
                       "pieces": sorted(own, key=lambda one: one.piece.id),
                       "cuts": [(cut, freed(found.placed, n, cut, plan.kerf)) for cut in found.cuts[n]],
                       "hard": {i + 1 for i in hard_to_hold(found.cuts[n])},
                       "held": held.get(n, []),
                       "wrong": [words for at, words in bad if at == n],
                       "leftovers": [row for row in found.leftovers if row[0] == n]})
    return {"sheets": sheets, "found": found, "best": found.is_best(plan.wish),
            "whole": len(found.sheets) - found.opened, "cut_count": sum(map(len, found.cuts))}


def _changed(plan: CuttingPlan) -> list[str]:
    """Tickets whose blank is no longer the one on the plan."""
    found = []
    for ticket in Ticket.objects.filter(number__in=[int(number) for number in plan.blanks]):
        blank = plan.blanks[str(ticket.number)]
        try:
            same = blank.get("key") in (None, blank_key(ticket))
        except Refusal:
            same = False
        if not same:
            found.append(ticket.tag)
    return found


@require_POST
@retried
def change(request, number: int):
    """Another way, kerf or margin: laid out anew, as long as nothing is cut."""
    plan = get_object_or_404(CuttingPlan, number=number)
    try:
        plan.refuse_clash(request.POST, [plan.ALL])
        fields = read_way(request.POST, request.user.units)
        if plan.cut_sheets:
            raise Refusal("way", "cannot change any more: a sheet of it is cut. Make a new plan of the rest")
    except Refusal as refusal:
        return plan_page(request, plan, refusal)
    with transaction.atomic():
        plan.move_on(request.user, [plan.ALL], "had the plan laid out anew", **fields, laid=None, by_hand=False)
    return redirect("cutting:plan", number=number)


@require_POST
@retried
def move(request, number: int):
    """One piece laid elsewhere by hand."""
    plan = get_object_or_404(CuttingPlan, number=number, laid__isnull=False)
    try:
        name, sheet, x, y, turned = read_move(request.POST, request.user.units)
        plan.refuse_clash(request.POST, [f"piece {name}"])
        before = next((row for row in plan.laid["placed"] if row[0] == name), None)
        if before and plan.cut_sheets & {before[1], sheet}:
            raise Refusal("piece", "lies on a sheet that is cut")
        now = moved(plan, name, sheet, x, y, turned)
    except Refusal as refusal:
        return plan_page(request, plan, refusal)
    touched = {f"piece {name}", *(f"sheet {n + 1}" for n in {sheet, before[1] if before else sheet})}
    with transaction.atomic():
        plan.move_on(request.user, touched, f"moved {name} on sheet {sheet + 1}", laid=now, by_hand=True)
    return redirect("cutting:plan", number=number)


@require_POST
@retried
def cut(request, number: int):
    """A sheet ticked as cut, or that taken back."""
    plan = get_object_or_404(CuttingPlan, number=number, laid__isnull=False)
    try:
        what = one_of(request.POST.get("what"), ("cut", "undone"), "what")
        sheet = whole(request.POST.get("sheet"), "sheet", 1, 999) - 1
        plan.refuse_clash(request.POST, [f"sheet {sheet + 1}"])
        if what == "cut":
            codes = cut_sheet(plan, sheet, request.user, lambda: take(request))
            messages.success(request, f"Sheet {sheet + 1} is cut and taken out of the stockroom."
                             + (f" Put back: {', '.join(codes)}." if codes else ""))
        else:
            take_back(plan, sheet, request.user, lambda: take(request))
            messages.success(request, f"Sheet {sheet + 1} was not cut: it is back in the stockroom.")
    except Refusal as refusal:
        return plan_page(request, plan, refusal)
    return redirect("cutting:plan", number=number)


@require_safe
def printed_labels(request, number: int):
    """Labels for the blanks of a plan, and for the leftovers put back."""
    plan = get_object_or_404(CuttingPlan, number=number, laid__isnull=False)
    found = labels(str(plan), list(labels_of(plan, request.user.units)), Shop.now().name)
    answer = HttpResponse(found, content_type="application/pdf")
    answer["Content-Disposition"] = f'inline; filename="{plan}-labels.pdf"'
    return answer


@require_safe
def drawing(request, number: int, sheet: int):
    """One sheet with its blanks as DXF, in true outlines."""
    plan = get_object_or_404(CuttingPlan, number=number, laid__isnull=False)
    found = laid(plan)
    if not 1 <= sheet <= len(found.sheets):
        raise Http404
    try:
        text = to_nest(found, sheet - 1, drawn(plan))
    except Refusal as refusal:
        return plan_page(request, plan, refusal)
    answer = HttpResponse(text, content_type="image/vnd.dxf")
    answer["Content-Disposition"] = f'attachment; filename="{plan}-sheet-{sheet}.dxf"'
    return answer

"""Cutting: sheets to be cut, which blanks wait, plans laid out, looked at, moved by hand, cut."""

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
from dorvan.longwork import desks
from dorvan.longwork.watch import stop
from dorvan.shop.models import Shop
from dorvan.stockroom.models import Lot
from dorvan.tickets.models import Asks, Ticket
from dorvan.tickets.models.cut import blank_key
from dorvan.tickets.pages.cards import keep_card
from dorvan.versions.doing import retried, status_of

from .cutting import cut_sheet, take_back
from .forms import read_move, read_new, read_way
from .labelling import labels_of
from .laying import KERF, asked_for, drawn, held_on, laid, lay_out, moved, wrong
from .models import CuttingPlan
from .solving import name_for
from .waiting import counted, fresh, groups, on_plans, wanted

LATEST, MOST_IN_HAND = 15, 6
"""Plans that are listed, and of those in hand that are drawn."""


@require_safe
def plans(request):
    return plans_page(request)


def plans_page(request, error: Refusal | None = None):
    """The sheets that are still to be cut, what waits to be laid out, by stock, and the plans so far."""
    rows, last = groups(), CuttingPlan.objects.values("way", "wish").first() or {}
    typed = request.POST if error else {}
    with desks.plans.patient_once():
        in_hand = [_next_sheet(plan, request.user.units) for plan in CuttingPlan.objects.in_hand()[:MOST_IN_HAND]]
    due = [one for group in rows for one in group.ready if one.ticket.due]
    return render(request, "cutting/plans.html", {
        "at": "cutting", "units": request.user.units, "groups": rows, "in_hand": in_hand,
        "working": any(row["standing"].working for row in in_hand),
        "due": due, "due_count": sum(one.wanted for one in due),
        "way": typed.get("way") or last.get("way"), "wish": typed.get("wish") or last.get("wish"),
        "plans": CuttingPlan.objects.counted()[:LATEST],
        "ways": CuttingPlan.Way.choices, "wishes": CuttingPlan.Wish.choices, "typed": typed,
        "error": told(error)}, status=422 if error else 200)


def _next_sheet(plan: CuttingPlan, units) -> dict:
    """A plan with the next of its sheets to be cut, drawn; or how it stands."""
    standing = lay_out(plan)
    row = {"plan": plan, "standing": standing}
    if plan.laid is None:
        return row
    found, cut = laid(plan), plan.cut_sheets
    left = [n for n in range(len(found.sheets)) if n not in cut]
    if left:
        row |= {"n": left[0] + 1, "of": len(found.sheets), "left": len(left), "stock": found.sheets[left[0]],
                "view": sheet_view(found, left[0], units),
                "blanks": sum(one.sheet == left[0] for one in found.placed)}
    return row


@require_safe
def blank(request, number: int):
    """What wants cutting of one ticket, its picture made."""
    ticket = get_object_or_404(Ticket, number=number)
    keep_card(ticket)
    return render(request, "cutting/_blank.html", {"one": wanted(ticket, on_plans(), Asks.now()),
                                                   "units": request.user.units})


@require_POST
def new(request):
    """A plan for each stock of the blanks chosen, of one stock, or of all that is due; it is laid out when a page asks
    for it."""
    form, left_out = request.POST, []
    try:
        if form.get("stock"):
            form = _of_stock(form)
        elif form.get("all"):
            one_of(form["all"], ("due",), "all")
            form, left_out = _due(form)
        plans = read_new(form, request.user.units)
    except Refusal as refusal:
        return plans_page(request, refusal)
    with transaction.atomic():
        last = CuttingPlan.objects.aggregate(last=Max("number"))["last"] or 0
        made = [CuttingPlan.objects.create(number=last + n, made_by=request.user, **fields)
                for n, fields in enumerate(plans, 1)]
    if left_out:
        messages.warning(request, f"Left out: {', '.join(left_out)}.")
    if len(made) > 1:
        messages.success(request, f"{len(made)} plans, one for each stock: {', '.join(map(str, made))}.")
        return redirect("cutting:plans")
    return redirect("cutting:plan", number=made[0].number)


def _way_of(form) -> dict:
    return {key: form[key] for key in ("way", "wish", "kerf", "margin") if key in form}


def _of_stock(form) -> dict:
    """The form with what is typed of one stock, else with all of it that is wanted."""
    rows = fresh(lambda group, _: group.key == form["stock"])
    own = next((group for group in rows if group.key == form["stock"]), None)
    if own is None:
        raise Refusal("tickets", "of that stock are none on the rack any more")
    fields = [f"t{one.ticket.number}" for one in own.wanted]
    typed = {key: form[key] for key in fields if form.get(key, "").strip()}
    return _way_of(form) | (typed or counted(own.ready))


def _due(form) -> tuple[dict, list[str]]:
    """(the form with all that is due, what is due and left out of it, with why)."""
    rows = fresh(lambda _, one: bool(one.ticket.due))
    found = counted(one for group in rows for one in group.ready if one.ticket.due)
    if not found:
        raise Refusal("tickets", "have none that is due, has a sheet and is not held")
    left = [f"{one.ticket.tag} ({'no sheet' if not group.sheets else one.held_by or 'in another go'})"
            for group in rows for one in group.wanted
            if one.ticket.due and one.wanted and f"t{one.ticket.number}" not in found]
    return _way_of(form) | found, left


@require_safe
def plan(request, number: int):
    return plan_page(request, get_object_or_404(CuttingPlan, number=number))


def plan_page(request, plan: CuttingPlan, error: Refusal | None = None):
    """Every sheet with its blanks, cuts and leftovers; or that it is being worked out."""
    units, standing = request.user.units, lay_out(plan)
    context = {"at": "cutting", "units": units, "plan": plan, "standing": standing,
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
    return {"sheets": sheets, "found": found, "cut_all": len(cut) == len(found.sheets),
            "best": found.is_best(plan.wish),
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
def end(request, number: int):
    """End the search with the best so far."""
    plan = get_object_or_404(CuttingPlan, number=number)
    stop(name_for(*asked_for(plan)))
    return redirect("cutting:plan", number=number)


@require_POST
@retried
def away(request, number: int):
    """A plan nobody cuts any more is put away, or taken up again: what is not cut of it wants cutting again."""
    plan = get_object_or_404(CuttingPlan, number=number)
    is_back = request.POST.get("what") == "back"
    with transaction.atomic():
        plan.move_on(request.user, [plan.ALL], "took the plan up again" if is_back else "put the plan away",
                     is_done=not is_back)
    messages.success(request, f"{plan} is in hand again." if is_back else
                     f"{plan} is put away: what is not cut of it wants cutting again.")
    return redirect("cutting:plan" if is_back else "cutting:plans", *([number] if is_back else []))


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
        plan.move_on(request.user, [plan.ALL], "had the plan laid out anew", **fields, laid=None, by_hand=False,
                     is_done=False)
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

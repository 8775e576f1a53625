"""A sheet is cut: taken out of the stockroom, what is left put back with its label; or that is taken back."""

from collections import Counter
from collections.abc import Callable

from django.db import transaction

from bendcore.cutting.pieces import Stock
from bendcore.cutting.plan import Plan
from bendcore.errors import Refusal
from dorvan.stockroom.models import Lot, put_in
from dorvan.tickets.models import BlankCut, Ticket, number_in

from .laying import held_on, laid, wrong
from .models import CuttingPlan, SheetDone


def cut_sheet(plan: CuttingPlan, sheet: int, by, beside: Callable[[], object] = bool) -> list[str]:
    """Tick a sheet as cut; the codes of the leftovers put back. Refuses a sheet that is cut, that the stockroom has no
    more, and a plan with something wrong on it. What is to be written ``beside`` it is, in the same transaction."""
    found = laid(plan)
    if not 0 <= sheet < len(found.sheets):
        raise Refusal("sheet", f"must be a sheet from 1 to {len(found.sheets)}")
    if any(n == sheet for n, _ in wrong(plan, found)):
        raise Refusal("sheet", "has pieces that lie wrong: move them first")
    held = held_on(found, [sheet])[sheet]
    if held:
        raise Refusal("sheet", f"holds {held[0].tag}, whose gate is shut: see its gate before it is cut")
    left = [found.sheets[sheet].left_over(long, wide) for n, _, _, long, wide in found.leftovers if n == sheet]
    with transaction.atomic():
        beside()
        if sheet in plan.cut_sheets:
            raise Refusal("sheet", "is cut already")
        is_done = len(plan.cut_sheets | {sheet}) == len(found.sheets)
        plan.move_on(by, [f"sheet {sheet + 1}"], f"cut sheet {sheet + 1}", is_done=is_done)
        lot = Lot.objects.filter(code=found.sheets[sheet].id).first()
        if lot is None:
            raise Refusal("sheet", "is not in the stockroom any more: lay the rest out anew")
        lot.moved(-1, f"cut by {plan}, sheet {sheet + 1}", by)
        codes = [_put_back(lot, piece, plan, by) for piece in left]
        SheetDone.objects.create(plan=plan, sheet=sheet, what=SheetDone.What.CUT, leftovers=codes, by=by)
        BlankCut.objects.bulk_create(_blanks_on(plan, found, sheet, by))
    return codes


def _blanks_on(plan: CuttingPlan, found: Plan, sheet: int, by) -> list[BlankCut]:
    """What each ticket is told of its blanks on a sheet."""
    counts = Counter(number_in(one.piece.id) for one in found.placed if one.sheet == sheet)
    tickets = {ticket.number: ticket for ticket in Ticket.objects.filter(number__in=counts)}
    return [BlankCut(ticket=tickets[number], plan=str(plan), sheet=sheet + 1, lot=found.sheets[sheet].id, count=count,
                     blank=plan.blanks[str(number)].get("key", ""), by=by)
            for number, count in counts.items() if number in tickets]


def _put_back(lot: Lot, left: Stock, plan, by) -> str:
    new = Lot(code=lot.code_under(), material=lot.material, thickness=lot.thickness, readings=lot.readings,
              supplier=lot.supplier, length=round(left.length, 2), width=round(left.width, 2), count=1,
              grain=left.grain, surface=lot.surface, cut_from=lot, note=f"left by {plan}", by=by)
    return put_in(new, f"left by {plan}").code


def take_back(plan: CuttingPlan, sheet: int, by, beside: Callable[[], object] = bool) -> None:
    """A sheet was not cut after all; refuses one whose leftovers are in use already."""
    sheets = laid(plan).sheets
    with transaction.atomic():
        beside()
        if sheet not in plan.cut_sheets:
            raise Refusal("sheet", "is not cut")
        plan.move_on(by, [f"sheet {sheet + 1}"], f"took back that sheet {sheet + 1} was cut", is_done=False)
        done = plan.done.filter(sheet=sheet, what=SheetDone.What.CUT).last()
        for code in done.leftovers:
            left = Lot.objects.filter(code=code).first()
            if left is None or left.count != 1:
                raise Refusal("sheet", f"has its leftover {code} in use: count the stockroom instead")
            left.moved(-1, f"{plan}, sheet {sheet + 1} taken back", by)
        lot = Lot.objects.get(code=sheets[sheet].id)
        lot.moved(1, f"{plan}, sheet {sheet + 1} taken back", by)
        SheetDone.objects.create(plan=plan, sheet=sheet, what=SheetDone.What.UNDONE, by=by)
        BlankCut.objects.filter(plan=str(plan), sheet=sheet + 1).delete()

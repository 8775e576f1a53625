"""Orders of all the pieces of a kit, proven together: how far each is, and all of them stopped at a press."""

from dataclasses import dataclass, field

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.order.plan import Plan
from dorvan.longwork import desks
from dorvan.longwork.desk import Working

from ..models import Ticket
from .kit import lead_or_404


@dataclass(frozen=True)
class Proof:
    """How the order of a ``piece`` stands: the ``plan``; how ``far`` the search for it is, with ``ahead`` others before
    it, while it is ``working``; or ``why`` there is none to look for."""

    piece: Ticket
    plan: Plan | None = None
    working: bool = False
    ahead: int = 0
    far: dict = field(default_factory=dict)
    why: object = ""


@require_safe
def orders(request: HttpRequest, number: int) -> HttpResponse:
    """The orders as they stand; what is not known yet is begun."""
    return _page(request, lead_or_404(number))


@require_POST
def stop(request: HttpRequest, number: int) -> HttpResponse:
    """Every search of the kit ends with the best it has."""
    lead = lead_or_404(number)
    for row in _proofs(lead):
        if row.working:
            row.piece.order_asked.search.stop()
    return _page(request, lead)


def _page(request: HttpRequest, lead: Ticket) -> HttpResponse:
    rows = _proofs(lead)
    proven = sum(row.plan is not None and row.plan.feasible for row in rows)
    return render(request, "tickets/_kit_orders.html", {
        "ticket": lead, "rows": rows, "working": any(row.working for row in rows), "proven": proven,
        "seconds": sum(row.plan.cost * row.piece.quantity for row in rows if row.plan and row.plan.feasible)})


def _proofs(lead: Ticket) -> list[Proof]:
    with desks.orders.patient_once():
        return [_proof(piece) for piece in (lead, *lead.pieces.select_related("brake", "also", "supplier"))]


def _proof(piece: Ticket) -> Proof:
    if piece.supplier_id:
        return Proof(piece, why=f"bent by {piece.supplier}")
    if not piece.can_be_ordered:
        return Proof(piece, why="made by its card" if piece.making else
                     "nothing to bend" if piece.part_has_no_bends else "no brake chosen")
    try:
        plan, _ = piece.in_force
    except Working as going_on:
        return Proof(piece, working=True, ahead=going_on.ahead, far=piece.order_asked.search.far())
    except Refusal as refusal:
        return Proof(piece, why=refusal.message)
    if not piece.is_released:
        piece.note_order(plan)
    return Proof(piece, plan)

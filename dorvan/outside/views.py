"""Suppliers on the page, a ticket against its own, the pack, and pieces that come back."""

from django.contrib import messages
from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.files import MAX_BYTES, read_json
from bendcore.formats.pack import Order, pack
from bendcore.quality.checklist import checklist
from bendcore.quality.checksheet import TRIED, CheckRow, Dimension
from bendcore.suppliers.back import k_made
from bendcore.suppliers.check import check_for
from bendcore.suppliers.profile import read_profile
from bendcore.suppliers.tabs import tabbed
from bendcore.units import read_angle, read_length
from dorvan import fields
from dorvan.drawings.marked import marked_view
from dorvan.shop.models import Shop
from dorvan.suppliers.models import Supplier
from dorvan.tickets import gate
from dorvan.tickets.models import Ticket
from dorvan.tickets.models.gate import OUTSIDE, PLAIN
from dorvan.tickets.pages.lookup import ticket_or_404
from dorvan.tickets.results import derived
from dorvan.versions.doing import retried

from .ledger import by_stock
from .models import Returned, Sent

MOST_RETURNED = 500


@require_safe
def suppliers(request):
    return suppliers_page(request)


def suppliers_page(request, error: Refusal | None = None):
    """Every supplier with what it can do, and a new one read in."""
    return render(request, "outside/suppliers.html", {
        "at": "outside", "units": request.user.units, "suppliers": Supplier.objects.all(),
        "tickets": Ticket.objects.filter(archived=False, supplier__isnull=False).select_related("supplier"),
        "typed": request.POST if error else {},
        "error": fields.told(error)}, status=422 if error else 200)


@require_POST
@retried
def read_in(request):
    """A profile file sent or pasted: a new supplier, or one of that name changed. Refused at the field of the file."""
    sent = request.FILES.get("file")
    raw = sent.read(MAX_BYTES + 1) if sent else request.POST.get("text", "").encode()
    try:
        profile = read_profile(read_json(raw))
    except Refusal as refusal:
        return suppliers_page(request, refusal)
    text = raw.decode("utf-8-sig")
    with transaction.atomic():
        found, is_new = Supplier.objects.get_or_create(name=profile.name, defaults={"file": text, "by": request.user})
        if not is_new:
            found.move_on(request.user, [found.ALL], "read its file in anew", file=text)
    messages.success(request, f"{profile.name} is read in.")
    return redirect("outside:suppliers")


@require_safe
def supplier(request, pk: int):
    """What a supplier can do, and what its pieces said."""
    found = get_object_or_404(Supplier, pk=pk)
    return render(request, "outside/supplier.html", {
        "at": "outside", "units": request.user.units, "supplier": found, "profile": found.profile,
        "ledger": by_stock(found), "sent": found.sent.select_related("ticket").prefetch_related("returned")[:60]})


@require_safe
def profile_file(request, pk: int):
    """A supplier's profile as its file."""
    found = get_object_or_404(Supplier, pk=pk)
    answer = HttpResponse(found.file, content_type="application/json")
    answer["Content-Disposition"] = f'attachment; filename="supplier-{found.pk}.json"'
    return answer


@require_safe
def ticket(request, number: int):
    return ticket_page(request, ticket_or_404(number))


def ticket_page(request, ticket: Ticket, error: Refusal | None = None):
    """A ticket against its supplier: what it breaks, the pack, what came back."""
    part, chosen = ticket.figures.part, ticket.supplier
    sent = ticket.sent.select_related("supplier").prefetch_related("returned").last()
    rows = _sizes(ticket_part(sent)) if sent else []
    blank = _as_sent(part, chosen)
    return render(request, "outside/ticket.html", {
        "view": marked_view(blank, request.user.units), "length": blank.flat.size[0], "width": blank.flat.size[1],
        "at": "outside", "units": request.user.units, "ticket": ticket, "part": part,
        "suppliers": Supplier.objects.all(),
        "notices": check_for(part, chosen.profile) if chosen else [], "sent": sent,
        "rows": [(one, request.POST.get(f"r-{n}", "") if error else "") for n, one in enumerate(rows)],
        "held": [p for p in gate.shut(ticket) if p.name != OUTSIDE], "typed": request.POST if error else {},
        "error": fields.told(error)}, status=422 if error else 200)


def _as_sent(part, supplier):
    """The part with the tabs that its supplier's stops need, where there is room for them."""
    try:
        return tabbed(part) if supplier and supplier.profile.parallel else part
    except Refusal:
        return part


def ticket_part(sent: Sent):
    """The part as it was sent."""
    return derived.figures(sent.part).part


@require_POST
@retried
def choose(request, number: int):
    """The supplier of a ticket; or its radius and K taken for the part."""
    found, form = ticket_or_404(number), request.POST
    try:
        if form.get("what") == "figures":
            _take_figures(found, request.user)
        else:
            one = fields.row(Supplier.objects, form["supplier"]) if form.get("supplier") else None
            found.supplier = one
            found.job = OUTSIDE if one else PLAIN if found.job == OUTSIDE else found.job
            found.keep("supplier", "job")
    except Refusal as refusal:
        return ticket_page(request, found, refusal)
    return redirect("outside:ticket", number)


def _take_figures(ticket: Ticket, by) -> None:
    if ticket.supplier is None:
        raise Refusal("supplier", "is not chosen yet")
    stock = ticket.figures.part.stock
    carried = ticket.supplier.profile.carried(stock.material.name, stock.thickness)
    if carried is None:
        raise Refusal("supplier", "does not carry this stock: take another first")
    block = {"method": "k_factor", "k": carried.k, "source": f"supplier {ticket.supplier.name}"[:200]}
    part = ticket.part | {"inside_radius": f"{carried.inside_radius:.10g} mm", "allowance": block}
    ticket.change(part, f"radius and K of {ticket.supplier.name}", by, follows_shop=False)


@require_POST
def send(request, number: int):
    """The pack, once the supplier can make it and nothing holds the ticket; noted as sent."""
    found = ticket_or_404(number)
    try:
        held = gate.shut(found)
        if found.supplier is None:
            raise Refusal("supplier", "is not chosen yet")
        if held:
            raise Refusal("gate", f"is shut: {held[0].title.lower()}, {held[0].said}")
        if found.open_stops:
            raise Refusal("part", "has a stop: see Layout")
        part = found.joined
        lines = [line[:200] for line in fields.words(request.POST.get("note"), 400).split(";") if line]
        data = pack(found.figures.part, part, found.supplier.profile,
                    Order(found.tag, found.quantity, lines, Shop.now().letterhead))
    except Refusal as refusal:
        return ticket_page(request, found, refusal)
    Sent.objects.create(ticket=found, supplier=found.supplier, part=part, quantity=found.quantity, by=request.user)
    answer = HttpResponse(data, content_type="application/zip")
    answer["Content-Disposition"] = f'attachment; filename="{found.tag}-pack.zip"'
    return answer


@require_POST
def back(request, number: int):
    """A piece that came back, measured."""
    found, form = ticket_or_404(number), request.POST
    sent = found.sent.last()
    try:
        if sent is None:
            raise Refusal("piece", "cannot have come back: nothing was sent")
        part = ticket_part(sent)
        piece = fields.whole(form.get("piece"), "piece", 1, max(sent.quantity, 1))
        if sent.returned.count() >= MOST_RETURNED:
            raise Refusal("piece", f"is one too many: {MOST_RETURNED} were measured")
        rows = _measured(_sizes(part), form, request.user.units)
    except Refusal as refusal:
        return ticket_page(request, found, refusal)
    k = k_made(part, {row.dimension.name: row.measured for row in rows if row.dimension.unit == "mm"})
    Returned.objects.create(sent=sent, piece=piece, rows=[row.written() for row in rows], k=k, by=request.user)
    out = [row.dimension.title for row in rows if row.verdict != "good"]
    (messages.error if out else messages.success)(request, f"Piece {piece}: " + (
        f"out: {', '.join(out)}." if out else "good in all that was measured."))
    return redirect("outside:ticket", number)


def _sizes(part) -> list[Dimension]:
    """What is measured of a piece that comes back: the check sheet without what is only tried."""
    return [one for one in checklist(part) if one.unit != TRIED]


def _measured(dimensions, form, units) -> list[CheckRow]:
    rows = []
    for n, one in enumerate(dimensions):
        text = form.get(f"r-{n}", "").strip()[:60]
        if text:
            angle = one.unit == "°"
            size = read_angle(text, f"r-{n}", units) if angle else read_length(text, units, f"r-{n}")
            if not 0.5 * one.nominal - 5 <= size <= 1.5 * one.nominal + 5:
                raise Refusal(f"r-{n}", f"of {one.title} is far from what was drawn: measure again")
            rows.append(CheckRow(one, size))
    if not rows:
        raise Refusal("piece", "has nothing measured: type at least one size")
    return rows

"""The join list on the page, and what is chosen at it."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.families.joint import KINDS, Joint
from bendcore.joining.assembly import hazards, steps
from bendcore.joining.joints import joints_of
from bendcore.joining.spacing import MOST, spaced
from bendcore.units import read_length
from dorvan import fields
from dorvan.drawings.joint import joint_view
from dorvan.tickets.models.bought import LINING
from dorvan.tickets.pages.kit import lead_or_404

from .listing import counted, kit_of, rows_of
from .models import Join

MOST_OWN, LONGEST = 60, 50_000.0


@require_safe
def joins(request, number: int):
    lead = lead_or_404(number)
    return joins_page(request, lead) if lead.number == number else redirect("joining:joins", lead.number)


def joins_page(request, lead, error: Refusal | None = None):
    """Every joint with its places, the order of assembly, and everything counted."""
    units, rows = request.user.units, rows_of(lead)
    kinds, sealed = {row.kind for row in rows}, any(row.sealed for row in rows)
    part = lead.figures.part
    return render(request, "joining/joins.html", {
        "at": "rack", "units": units, "ticket": lead, "part": part, "kinds": KINDS, "pieces": kit_of(lead),
        "rows": [(row, joint_view(row.joint.length, row.spaced, units)) for row in rows],
        "counted": counted(lead, rows),
        "steps": list(steps(part, [(row.joint, row.kind) for row in rows],
                            lead.bought_in.filter(kind=LINING).exists(), sealed)),
        "hazards": list(hazards(part, list(kinds), sealed)), "typed": request.POST if error else {},
        "error": fields.told(error)}, status=422 if error else 200)


@require_POST
def choose(request, number: int):
    """How a joint is made, a joint of the shop's own, or that either is taken back."""
    lead, form, units = lead_or_404(number), request.POST, request.user.units
    piece = next((one for one in kit_of(lead) if str(one.number) == form.get("piece")), lead)
    try:
        if form.get("remove"):
            fields.row(Join.objects.filter(ticket__in=kit_of(lead)), form["remove"]).delete()
            return redirect("joining:joins", lead.number)
        found = _read(form, units)
        if form.get("key"):
            roles = {one.role: one.per_assembly for one in lead.pieces.all()} if piece == lead else None
            joint = next((j for j in joints_of(piece.figures.part, roles) if j.key == form["key"]), None)
            if joint is None:
                raise Refusal("joint", "is not on this part any more")
            asked = (found[name] for name in ("count", "pitch", "end"))
            spaced(joint, piece.figures.part.stock.thickness, found["kind"], *asked)
            Join.objects.update_or_create(ticket=piece, key=joint.key, defaults=found | {"by": request.user})
        else:
            _own(piece, form, found, units, request.user)
    except Refusal as refusal:
        return joins_page(request, lead, refusal)
    messages.success(request, "The join list is changed.")
    return redirect("joining:joins", lead.number)


def _read(form, units) -> dict:
    kind = fields.one_of(form.get("kind"), KINDS, "kind")
    count = form.get("count", "").strip()
    found = {"kind": kind, "count": fields.whole(count, "count", 1, MOST) if count else None,
             "sealed": form.get("sealed") == "on"}
    for key in ("pitch", "end"):
        text = form.get(key, "").strip()
        found[key] = read_length(text, units, key) if text else None
        if found[key] is not None and not 0 <= found[key] <= LONGEST:
            raise Refusal(key, "must be a length from 0 to 50 m")
    return found


def _own(piece, form, found, units, by) -> None:
    place = fields.words(form.get("place"), 80)
    if not place:
        raise Refusal("place", "say what is joined, and where")
    if piece.joins.count() >= MOST_OWN:
        raise Refusal("place", f"is one too many: {MOST_OWN} joints are noted")
    length = read_length(form.get("length", ""), units, "length")
    if not 0 < length <= LONGEST:
        raise Refusal("length", "must be greater than 0 and at most 50 m")
    times = fields.whole(form.get("times") or "1", "times", 1, 1000)
    spaced(Joint("", place, length, found["kind"]), piece.figures.part.stock.thickness, found["kind"],
           *(found[key] for key in ("count", "pitch", "end")))
    Join.objects.create(ticket=piece, place=place, length=length, times=times, by=by, **found)

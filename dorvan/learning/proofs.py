"""Proof bends, guided: from scrap to K, strip by strip."""

import datetime

from django.db import transaction
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.bending.bend import TANGENT, BendFigures, allowance_from_k
from bendcore.brakes.press import Die
from bendcore.errors import Refusal
from bendcore.quality import ledger as core
from bendcore.quality.shanks import SETS
from bendcore.said import Mm, Said
from bendcore.units import MM_PER, to_fraction
from dorvan import fields
from dorvan.brakes.models import Brake, Tooling
from dorvan.drawings.charts import strip_picture
from dorvan.keeping.taken import take
from dorvan.ledger.models import Mark, Proof, Sample
from dorvan.ledger.schools import own_schools_for
from dorvan.stockroom.forms import read_sheet_thickness
from dorvan.stockroom.models import Lot, MaterialValue
from dorvan.tickets.models import Ticket
from dorvan.tickets.pages import bench
from dorvan.versions.doing import Moved, retried

from .forms import FIELDS, OPTIONAL, TITLES, kept_readings, read_bend_angle, read_strip, shank_search, typed_of
from .planning import HEM, begin_proof, bend_of, bend_on

MOST_STRIPS = 12


def tools_on_hand() -> list[tuple[str, str]]:
    """(value, title) of everything a proof bend can be made on."""
    found = [(f"die:{brake.pk}:{die.name}", f"{die.name} on {brake.name}")
             for brake in Brake.objects.all() if brake.press for die in brake.press.dies if die.kind == "v"]
    found += [(f"brake:{brake.pk}", f"{brake.name}, round its own edge") for brake in Brake.objects.all()
              if not brake.press]
    return found + [(f"nose:{t.pk}", f"{t.name} ({t.get_kind_display()})")
                    for t in Tooling.objects.filter(kind__in=Tooling.ROUND)]


def _hand_tools() -> set[str]:
    """Names of what is bent round by hand: hand brakes, and noses and bars."""
    return {brake.name for brake in Brake.objects.all() if not brake.press} | {
        str(tool) for tool in Tooling.objects.filter(kind__in=Tooling.ROUND)}


def read_tool(text: str) -> tuple[str, Die | Tooling]:
    kind, _, rest = text.partition(":")
    if kind == "nose":
        tool = Tooling.objects.filter(pk=fields.number(rest, 0), kind__in=Tooling.ROUND).first()
        if tool:
            return tool.name, tool
    if kind == "brake":
        brake = Brake.objects.filter(pk=fields.number(rest, 0)).first()
        if brake and not brake.press:
            machine = brake.machine
            way = "bar" if machine.kind == "bench" else "nose"
            return brake.name, Tooling(name=brake.name, kind=way, size=machine.nose_radius)
    if kind == "die":
        pk, _, name = rest.partition(":")
        brake = Brake.objects.filter(pk=fields.number(pk, 0)).first()
        dies = brake.press.dies if brake and brake.press else ()
        die = next((d for d in dies if d.name == name and d.kind == "v"), None)
        if die:
            return die.name, die
    raise Refusal("tool", "must be one of the dies, noses or hand brakes on hand")


def new_page(request, error: Refusal | None = None):
    return render(request, "ledger/new.html", {
        "at": "ledger", "units": request.user.units, "typed": request.POST if error else {}, "tools": tools_on_hand(),
        "materials": list(MaterialValue.known()), "lots": Lot.objects.filter(count__gt=0),
        "error": fields.told(error)}, status=422 if error else 200)


@require_safe
def new(request):
    """A proof bend on its own: which stock, which tool, which bend."""
    return new_page(request)


@require_POST
def begin(request):
    """Begin a proof bend from a ticket, or from what the form says."""
    form = request.POST
    if form.get("ticket"):
        ticket = fields.row(Ticket, form["ticket"], number=None)
        if not ticket.tool:
            return bench.page(request, ticket, "proof", error={
                "field": "die", "message": "must be chosen at Stock first: K belongs to a stock and a tool",
                "asked": "", "value": ""})
        return _to(begin_proof(bend_of(ticket), request.user, ticket=ticket))
    try:
        known = MaterialValue.known()
        lot = Lot.objects.filter(pk=fields.number(form.get("lot"), 0)).first()
        if not lot and form.get("material") not in known:
            raise Refusal("material", "must be one of the stockroom's materials")
        alloy = known[lot.material if lot else form["material"]]
        thickness = lot.thickness if lot else read_sheet_thickness(form.get("thickness", ""), request.user.units, alloy)
        name, tool = read_tool(form.get("tool", ""))
        angle = HEM if form.get("what") == "hem" else read_bend_angle(form.get("angle", "90"), request.user.units)
        strips = fields.whole(form.get("strips", "3"), "strips", 1, MOST_STRIPS)
    except Refusal as refusal:
        return new_page(request, refusal)
    wanted = bend_on(alloy, thickness, name, tool, angle)
    return _to(begin_proof(wanted, request.user, lot=lot, strips=strips))


def _to(proof: Proof):
    return redirect("ledger:proof", number=proof.number)


def proof_or_404(number: int) -> Proof:
    return get_object_or_404(Proof.objects.select_related("pair", "ticket", "lot"), number=number)


@require_safe
def proof(request, number: int):
    return proof_page(request, proof_or_404(number))


def proof_page(request, proof: Proof, error: Refusal | None = None, strip: int | None = None):
    """Cut, mark, bend, measure; what the strips say so far, beside every school."""
    samples = [s for s in proof.samples.prefetch_related("marks") if not s.dropped]
    measured = {s.strip: s for s in samples}
    asked = fields.number(request.GET.get("strip"), 0)
    strip = strip or (asked if 1 <= asked <= proof.strips else None)
    strip = strip or next((n for n in range(1, proof.strips + 1) if n not in measured), proof.strips)
    tries, units = proof.tries.get(str(strip), []), request.user.units
    found = shank_search(proof.sets, tries, proof.plan["radius"] or proof.pair.thickness)
    partial = request.headers.get("HX-Request") == "true"
    plan, hem = proof.plan, proof.pair.hem
    expected = BendFigures(plan["angle"], plan["radius"], proof.pair.thickness, plan["allowance"],
                           TANGENT if hem else "apex")
    learnt = core.learn([s.core for s in samples], hem) if samples else None
    typed = proof.drafts.get(str(strip), {})
    last = (measured.get(strip) or samples[-1]) if samples else None
    inputs = [{"name": n, "title": TITLES[n], "value": typed.get(n, ""), "optional": n in OPTIONAL,
               "unit": "" if n == "note" else units.degrees if n in ("angle", "bent_to") else units} for n in FIELDS
              if not (hem and n in ("angle", "bent_to"))]
    return render(request, "ledger/_proof.html" if partial else "ledger/proof.html", {
        "at": "ledger", "units": units, "proof": proof, "plan": plan, "strip": strip, "fields": inputs,
        "strips": [(n, measured.get(n)) for n in range(1, proof.strips + 1)], "search": found, "sets": SETS,
        "learnt": learnt, "rows": _results(samples, learnt), "schools": _schools(proof, samples, learnt),
        "tries": tries, "by_hand": proof.pair.tool in _hand_tools(),
        "next_hint": _hint(found), "last": last, "picture": strip_picture(expected, plan["strip"], plan["leg_a"],
                                                                          plan["leg_b"], plan["line"]),
        "bent": last and _bent(last.core.proof),
        "error": {"field": error.path, "message": error.message, "title": TITLES.get(error.path, "")} if error
        else None}, status=422 if error else 200)


def _bent(measured) -> dict:
    """The picture of a strip as it was measured."""
    line = measured.leg_a - measured.outside_setback + measured.allowance / 2
    return strip_picture(measured.figures, measured.strip, measured.leg_a, measured.leg_b, line)


def _hint(found) -> str:
    """The next shank with its size both ways, for a person at the drill index."""
    if not found.next:
        return ""
    mm = found.next.diameter
    return f"{mm:.2f} mm, {mm / MM_PER['in']:.4f} in ({to_fraction(mm, 64)})"


def _results(samples, learnt):
    return [{"sample": s, "core": s.core, "reason": learnt.reasons[i], "working": s.core.proof.working()}
            for i, s in enumerate(samples)] if learnt else []


def _schools(proof: Proof, samples, learnt):
    """Every school on the bend of the strips: K, BA and BD, and how far from what was measured."""
    if not learnt:
        return []
    first = samples[0].core.proof
    angle, radius, thickness = proof.plan["angle"], first.inside_radius, first.thickness
    rows = [{"title": "These strips", "k": learnt.k.value, "u": learnt.k.u, "own": True,
             "figures": BendFigures(angle, radius, thickness,
                                    allowance_from_k(angle, radius, thickness, learnt.k.value), first.convention)}]
    for school in own_schools_for(proof.pair):
        try:
            figures = school.figures(angle, radius, thickness, first.convention)
        except Refusal:
            continue
        rows.append({"title": school.title, "k": figures.k, "figures": figures,
                     "off": rows[0]["figures"].deduction - figures.deduction})
    return rows


KEPT = ("drafts", "sets", "tries", "strips")
"""What people type at a proof bend."""


@require_POST
@retried
def strip(request, number: int):
    """One strip: a shank tried, or the readings saved. What was typed is kept either way."""
    proof = proof_or_404(number)
    before, form = {name: getattr(proof, name) for name in KEPT}, request.POST
    n = fields.number(form.get("strip_number"), 0)
    if not 1 <= n <= proof.strips:
        raise Http404
    do, tries = form.get("do", "save"), list(proof.tries.get(str(n), []))
    proof.drafts = proof.drafts | {str(n): typed_of(form)}
    if "sets" in form:
        proof.sets = [s for s in SETS if s in form.getlist("sets")]
    error = sample = None
    try:
        if do in ("light", "dark"):
            tries.append([form.get("shank", "")[:12], do == "light"])
            shank_search(proof.sets, tries, proof.plan["radius"] or 1.0)
            proof.tries = proof.tries | {str(n): tries}
        elif do == "back":
            proof.tries = proof.tries | {str(n): tries[:-1]}
        elif do == "more" and proof.strips < MOST_STRIPS:
            proof.strips += 1
        elif do == "save":
            sample = _sample_of(proof, n, request)
    except Refusal as refusal:
        error = refusal
    with transaction.atomic():
        take(request)
        now = Proof.objects.filter(pk=proof.pk).values(*KEPT).get()
        if now != before:
            raise Moved
        proof.save(update_fields=KEPT)
        if sample:
            for earlier in proof.samples.filter(strip=n).prefetch_related("marks"):
                if not earlier.dropped:
                    Mark.objects.create(sample=earlier, drop=True, reason="measured again", by=request.user)
            sample.save()
    following = None if do == "save" and not error else n
    if following is None and request.headers.get("HX-Request") != "true":
        return _to(proof)
    return proof_page(request, proof, error, following)


def _sample_of(proof, n, request) -> Sample:
    """A strip's readings as a sample, not yet kept."""
    found = shank_search(proof.sets, proof.tries.get(str(n), []), proof.plan["radius"] or 1.0)
    read = read_strip(proof.drafts[str(n)], found, request.user.units, proof.pair.hem)
    if abs(read.proof.thickness - proof.pair.thickness) > 0.15 * proof.pair.thickness:
        raise Refusal("thickness", Said("is not near {t}, the stock of this proof", t=Mm(proof.pair.thickness)))
    return Sample(pair=proof.pair, proof=proof, strip=n, ticket=proof.ticket, lot=proof.lot,
                  readings=kept_readings(read.proof, read.held), radius_by=read.radius_by, who=request.user.username,
                  on=datetime.date.today(), note=proof.drafts[str(n)].get("note", ""))

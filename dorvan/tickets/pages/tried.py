"""Is a brake as it was described? What it can make in a metal; parts of which the shop knows better; the sizes that
could be wrong."""

from django.contrib import messages
from django.db import transaction
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.http import urlencode
from django.views.decorators.http import require_POST, require_safe

from bendcore.edits import new_part, quick_strip
from bendcore.errors import Refusal
from bendcore.part import read_part
from bendcore.stock import called, material, materials, read_thickness, refuse_bare_gauge
from dorvan import fields
from dorvan.brakes.models import Brake
from dorvan.longwork.desk import Working
from dorvan.longwork.sought import Sought
from dorvan.versions.doing import status_of

from ..models import Ticket
from ..results import derived

OUTLINES = {"highest-wall": "M20,18V78H130V18", "narrowest-tray": "M52,52V78H98V52",
            "deepest-channel": "M40,12V78H110V12", "shortest-leg": "M30,54V78H120"}
"""What each limit is about, as a section in a box of 150 × 96."""
TRIED = ("material", "thickness")
"""What the page was asked for, to be asked for again."""
MOST_KNOWN = 8
"""So many parts are kept of a brake; the oldest give way."""


@require_safe
def try_brake(request, pk: int):
    """A metal and a thickness are asked for; what the brake makes of them at most is simulated."""
    return _page(request, get_object_or_404(Brake, pk=pk))


def _page(request, found: Brake, refused: Refusal | None = None):
    asked, units = request.POST or request.GET, request.user.units
    metal = asked.get("material") if asked.get("material") in materials() else "mild-steel"
    thickness, error, answer = asked.get("thickness", "")[:20], None, {}
    try:
        answer = _limits(found, metal, thickness, units) if thickness.strip() else {}
    except Refusal as refusal:
        error = refusal
    return render(request, "brakes/try.html", answer | {
        "at": "brakes", "brake": found, "units": units, "metals": [(name, called(name)) for name in materials()],
        "again": urlencode({"material": metal, "thickness": thickness}), "metal": metal,
        "metal_called": called(metal), "thickness": thickness, "error": error,
        "known": list(found.known.select_related("by")), "refused": refused,
        "typed": request.POST if refused else {}}, status=status_of(error or refused))


def _limits(brake: Brake, metal: str, thickness: str, units: str) -> dict:
    """The limits, or that they are being worked out."""
    mm = _thickness(thickness, metal, units)
    sought, answer = _sought(brake, metal, mm), {"mm": mm}
    try:
        found = sought.ask()
    except Working:
        return answer | {"working": True, "far": sought.far()}
    return answer | {"limits": [(limit, OUTLINES[limit.name]) for limit in found], "far": sought.far(),
                     "unfinished": any(limit.unfinished for limit in found)}


def _sought(brake: Brake, metal: str, mm: float) -> Sought:
    """The limits of a brake in a metal so thick, mm."""
    part = new_part("model", "mm", "profile")
    return derived.Asked(part | {"stock": part["stock"] | {"material": metal, "thickness": mm}}, brake.file).limits()


@require_POST
def trying(request, pk: int, what: str):
    """What is being tried ends with what it has, or is looked on for: the limits in a metal, or the sizes in doubt."""
    found, form = get_object_or_404(Brake, pk=pk), request.POST
    if what == "doubts":
        sought = derived.doubts(found.file, _known(found))
    else:
        try:
            metal = fields.one_of(form.get("material"), materials(), "material")
            thickness = fields.words(form.get("thickness"), 20)
            sought = _sought(found, metal, _thickness(thickness, metal, request.user.units))
        except Refusal as refusal:
            return _page(request, found, refusal)
    (sought.anew if form.get("go") == "on" else sought.stop)()
    return _doubts(request, found) if what == "doubts" else _page(request, found)


def _thickness(text: str, metal: str, units) -> float:
    """A thickness of a metal as typed, mm."""
    refuse_bare_gauge(text, units, "thickness")
    return read_thickness(text, units, material(metal), "thickness")


@require_POST
def know(request, pk: int):
    """A ticket's part that is known to have fitted on the brake or to have met it; or one forgotten again."""
    found, form = get_object_or_404(Brake, pk=pk), request.POST
    back = f"{reverse('tickets:try-brake', args=[pk])}?{urlencode({key: form.get(key, '')[:60] for key in TRIED})}"
    if "forget" in form:
        fields.row(found.known.all(), form["forget"]).delete()
        return redirect(back)
    try:
        fitted = fields.one_of(form.get("fitted"), ("yes", "no"), "fitted") == "yes"
        name, part = _quick(form, found, request.user.units) if form.get("legs", "").strip() else _ticketed(form, found)
    except Refusal as refusal:
        return _page(request, found, refusal)
    with transaction.atomic():
        found.known.filter(name=name).delete()  # what is known of it now
        found.known.create(name=name, part=part, fitted=fitted, by=request.user)
        for old in found.known.order_by("-id")[MOST_KNOWN:]:
            old.delete()
    messages.success(request, f"{name} is noted: it {'fitted' if fitted else 'met the machine'} here.")
    return redirect(back)


def _ticketed(form, found: Brake) -> tuple[str, dict]:
    """Name and part of the ticket that is named."""
    asked = fields.number(form.get("number", "").strip().upper().removeprefix("T-"))
    ticket = Ticket.objects.filter(number=asked).first()
    if ticket is None or ticket.part_has_no_bends or ticket.making:
        raise Refusal("number", "must be the number of a ticket that is bent step by step, such as T-0142")
    return f"{ticket.tag} {ticket.name}"[:120], ticket.part_for(found)


def _quick(form, found: Brake, units) -> tuple[str, dict]:
    """Name and part of a profile typed in a line, of the metal that is being tried."""
    typed = {name: fields.words(form.get(name), 200) for name in ("legs", "bends", "width", *TRIED)}
    part = quick_strip("", typed["legs"], typed["bends"], typed["width"], str(units))
    if typed["material"] not in materials():
        raise Refusal("material", "must be one of the metals")
    mm = _thickness(typed["thickness"], typed["material"], units)
    part["stock"] |= {"material": typed["material"], "thickness": f"{mm} mm"}
    made = Ticket(part=part, brake=found).part_for(found)
    if "nose" in made or "die" in made:  # the tool says the radius
        del made["inside_radius"]
    else:
        made["inside_radius"] = f"{mm} mm"
    read_part(made)
    return f"{typed['legs']} · {typed['bends']}, {typed['thickness']}"[:120], made


@require_safe
def doubt(request, pk: int):
    """What the known parts say of the brake's sizes; asked for again while it is being worked out."""
    return _doubts(request, get_object_or_404(Brake, pk=pk))


def _known(brake: Brake) -> list[tuple[str, dict, bool]]:
    return [(one.name, one.part, one.fitted) for one in brake.known.all()]


def _doubts(request, found: Brake):
    known = _known(found)
    context = {"brake": found, "units": request.user.units, "known": known}
    if known and found.is_described:
        sought = derived.doubts(found.file, known)
        try:
            context["wrong"], context["doubts"], context["all_tried"] = sought.ask()
        except Working:
            context["working"] = True
        context["far"] = sought.far()
    return render(request, "brakes/_doubts.html", context)

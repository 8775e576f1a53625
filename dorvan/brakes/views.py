"""The shop's brakes and their racks, and reading a brake file in."""

from pathlib import Path

from django.conf import settings
from django.contrib import messages
from django.db import transaction
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.brakes.brake import read_brake
from bendcore.brakes.measured.described import refuse_unsound
from bendcore.errors import Refusal
from bendcore.files import MAX_BYTES, read_json
from bendcore.units import read_length
from dorvan.drawings.tools import hand_view, rack_view, tooling_path
from dorvan.fields import words
from dorvan.versions.doing import retried

from .models import Brake, Tooling

SAMPLE = Path(settings.BASE_DIR) / "demo" / "press-60t.json"


def _page(request, error=None, tooling_error=None):
    tooling = [{"item": t, "d": tooling_path(t.kind, t.size)} for t in Tooling.objects.all()]
    brakes = [_row(b) for b in Brake.objects.all()]
    return render(request, "brakes/brakes.html", {"at": "brakes", "brakes": brakes, "error": error, "tooling": tooling,
                                                  "kinds": Tooling.Kind.choices, "tooling_error": tooling_error,
                                                  "typed": request.POST if tooling_error else {},
                                                  "units": request.user.units},
                  status=422 if error or tooling_error else 200)


def _row(brake: Brake) -> dict:
    """What the page shows of a brake, by its kind."""
    row = {"brake": brake, "unsaid": brake.unsaid}
    if brake.press:
        return row | {"press": brake.press, "tools": rack_view(brake.press)}
    return row | {"hand": brake.machine, "view": hand_view(brake.machine)}


@require_safe
def rack(request):
    return _page(request)


@require_POST
@retried
def upload(request):
    """Read a brake file; one of the same name is replaced."""
    file = request.FILES.get("file")
    if not file:
        return _page(request, "Choose a brake file first.")
    if file.size > MAX_BYTES:
        return _page(request, "The file is larger than 1 MB.")
    raw = file.read(MAX_BYTES + 1)
    try:
        data = read_json(raw)
        machine = read_brake(data)
        refuse_unsound(data)
    except Refusal as refusal:
        return _page(request, f"{file.name[:60]}: {refusal}")
    text = raw.decode("utf-8-sig")
    with transaction.atomic():
        found, is_new = Brake.objects.get_or_create(name=machine.name, defaults={"file": text})
        if not is_new:
            found.move_on(request.user, [found.ALL], "read its file in anew", file=text)
    messages.success(request, f"{machine.name} is on the floor.")
    return redirect("brakes:rack")


@require_POST
def sample(request):
    """A made-up brake to begin with, where there is none yet."""
    if not Brake.objects.exists():
        text = SAMPLE.read_text("utf-8")
        Brake.objects.create(name=read_brake(read_json(text)).name, file=text)
        messages.success(request, "A made-up brake is on the floor. Read in your own as soon as you have drawn it.")
    return redirect("brakes:rack")


@require_POST
def add_tooling(request):
    """A nose, bottoming punch, bar, radius shim or slip sheet for the rack."""
    form, units = request.POST, request.user.units
    try:
        Tooling.objects.create(by=request.user, **_read_tooling(form, units))
    except Refusal as refusal:
        return _page(request, tooling_error={"field": refusal.path, "message": refusal.message})
    return redirect("brakes:rack")


def _read_tooling(form, units) -> dict:
    name, kind = words(form.get("name"), 60), form.get("kind")
    if not name or Tooling.objects.filter(name__iexact=name).exists():
        raise Refusal("name", "must be given, and be another than those on the rack")
    if kind not in Tooling.Kind.values:
        raise Refusal("kind", "must be one of " + ", ".join(Tooling.Kind.labels))
    size = read_length(form.get("size", ""), units, "size")
    if not 0 <= size <= 100:
        raise Refusal("size", "must be from 0 to 100 mm: a nose's radius, or a shim's thickness")
    rated = read_length(form["rated"], units, "rated") if form.get("rated", "").strip() else None
    if rated is not None and not 0 < rated <= 20:
        raise Refusal("rated", "must be what the plate says: mild steel at full length, up to 20 mm")
    return {"name": name, "kind": kind, "size": size, "rated": rated}


@require_POST
def remove_tooling(request, pk: int):
    """Take a piece of tooling off the rack; released tickets keep its figures."""
    get_object_or_404(Tooling, pk=pk).delete()
    return redirect("brakes:rack")

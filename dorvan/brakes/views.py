"""The shop's brakes and their racks, and reading a brake file in."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from bendcore.brakes.press import read_press
from bendcore.errors import Refusal
from bendcore.formats.text import MAX_BYTES, read_json
from dorvan.drawings.tools import rack_view
from dorvan.people.roles import lead_required

from .models import Brake


def _page(request, error=None):
    brakes = [{"brake": b, "press": b.press, "tools": rack_view(b.press)} for b in Brake.objects.all()]
    return render(request, "brakes/brakes.html", {"at": "brakes", "brakes": brakes, "error": error,
                                                  "units": request.user.units}, status=422 if error else 200)


@require_GET
def rack(request):
    return _page(request)


@require_POST
@lead_required
def upload(request):
    """Read a brake file; one of the same name is replaced."""
    file = request.FILES.get("file")
    if not file:
        return _page(request, "Choose a brake file first.")
    if file.size > MAX_BYTES:
        return _page(request, "The file is larger than 1 MB.")
    raw = file.read(MAX_BYTES + 1)
    try:
        press = read_press(read_json(raw))
    except Refusal as refusal:
        return _page(request, f"{file.name[:60]}: {refusal}")
    Brake.objects.update_or_create(name=press.name, defaults={"file": raw.decode("utf-8-sig")})
    messages.success(request, f"{press.name} is on the floor.")
    return redirect("brakes:rack")

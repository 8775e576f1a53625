"""What a brake can make in a metal, as it was described: held beside what the shop knows of it."""

from django.shortcuts import get_object_or_404, render
from django.views.decorators.http import require_safe

from bendcore.edits import new_part
from bendcore.errors import Refusal
from bendcore.stock import called, material, materials, read_thickness, refuse_bare_gauge
from dorvan.brakes.models import Brake
from dorvan.longwork.desk import Working
from dorvan.versions.doing import status_of

from ..results import derived

OUTLINES = {"highest-wall": "M20,18V78H130V18", "narrowest-tray": "M52,52V78H98V52",
            "deepest-channel": "M40,12V78H110V12", "shortest-leg": "M30,54V78H120"}
"""What each limit is about, as a section in a box of 150 × 96."""


@require_safe
def try_brake(request, pk: int):
    """A metal and a thickness are asked for; what the brake makes of them at most is simulated."""
    found, asked, units = get_object_or_404(Brake, pk=pk), request.GET, request.user.units
    metal = asked.get("material") if asked.get("material") in materials() else "mild-steel"
    thickness, error, answer = asked.get("thickness", "")[:20], None, {}
    try:
        answer = _limits(found, metal, thickness, units) if thickness.strip() else {}
    except Refusal as refusal:
        error = refusal
    return render(request, "brakes/try.html", answer | {
        "at": "brakes", "brake": found, "units": units, "metals": [(name, called(name)) for name in materials()],
        "metal": metal, "metal_called": called(metal), "thickness": thickness, "error": error}, status=status_of(error))


def _limits(brake: Brake, metal: str, thickness: str, units: str) -> dict:
    """The limits, or that they are being worked out."""
    refuse_bare_gauge(thickness, units, "thickness")
    mm = read_thickness(thickness, units, material(metal), "thickness")
    part = new_part("model", "mm", "profile")
    part = part | {"stock": part["stock"] | {"material": metal, "thickness": mm}}
    try:
        found = derived.Asked(part, brake.file).limits()
        return {"limits": [(limit, OUTLINES[limit.name]) for limit in found], "mm": mm}
    except Working:
        return {"working": True, "mm": mm}

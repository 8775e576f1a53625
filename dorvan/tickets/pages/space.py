"""The folded part in space: looked at, cut through, measured between faces."""

from django.http import HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from bendcore.errors import Refusal
from bendcore.sheet.cut import AXES, spans
from bendcore.sheet.measure import between
from bendcore.units import read_length
from dorvan.drawings.cutaway import TITLES, cutaway
from dorvan.drawings.still import still_svg

from .lookup import ticket_or_404


@require_safe
def space(request, number: int):
    """The folded part large, with its section and what lies between two faces."""
    ticket = ticket_or_404(number)
    reach = [{"axis": axis, "title": TITLES[axis], "low": low, "high": high}
             for axis, (low, high) in spans(ticket.figures.bodies).items()]
    return render(request, "tickets/space.html", {"ticket": ticket, "at": "rack", "part": ticket.figures.part,
                                                  "units": request.user.units, "reach": reach,
                                                  "conflicts": [n for n in ticket.figures.notices if n.between]})


@require_safe
def folded(request, number: int):
    """The mesh, and which faces run through each other."""
    figures = ticket_or_404(number).figures
    return JsonResponse(figures.mesh | {"conflicts": sorted(figures.in_conflict), "good": figures.part.stock.good})


@require_safe
def proved(request, number: int):
    """The notices of a part that was drawn before it was proved; the bench again if there are conflicts."""
    ticket, units = ticket_or_404(number), request.user.units
    return render(request, "tickets/_proved.html", {"ticket": ticket, "units": units, "stage": "shape",
                                                    "notices": ticket.figures.notices,
                                                    "again": bool(ticket.figures.in_conflict)})


@require_safe
def measure(request, number: int):
    """The distance or angle between two faces of the folded part."""
    figures = ticket_or_404(number).figures
    try:
        found = between(figures.folded, request.GET.get("one", ""), request.GET.get("other", ""))
    except Refusal as refusal:
        return render(request, "tickets/_between.html", {"error": refusal.message}, status=422)
    return render(request, "tickets/_between.html", {"found": found, "units": request.user.units})


@require_safe
def section(request, number: int):
    """What a plane cuts of the folded part; ``share`` of the way along its axis, or ``at`` a length."""
    figures, units = ticket_or_404(number).figures, request.user.units
    axis = request.GET.get("axis", "x")
    try:
        if axis not in AXES:
            raise Refusal("axis", "must be x, y or z")
        low, high = spans(figures.bodies)[axis]
        asked = request.GET.get("at", "").strip()[:40]
        at = low + read_length(asked, units, "at") if asked else (low + high) / 2
        view = cutaway(figures.bodies, axis, at, units)
        if view is None:
            raise Refusal("at", "misses the part here")
    except Refusal as refusal:
        return render(request, "tickets/_section.html", {"error": refusal.message}, status=422)
    return render(request, "tickets/_section.html", {"view": view, "units": units, "title": TITLES[axis],
                                                     "at": at - low, "axis": axis, "plane": at})


@require_safe
def still(request, number: int):
    """The folded part as a small picture; the page names the ticket's stamp, so it may be kept."""
    figures = ticket_or_404(number).figures
    response = HttpResponse(still_svg(figures.coarse_mesh, figures.part.stock.good), content_type="image/svg+xml")
    response["Cache-Control"] = "private, max-age=600"
    return response

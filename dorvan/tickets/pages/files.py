"""Files of a ticket: the flat, the folded part, the part file."""

import json

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.views.decorators.http import require_safe

from bendcore.errors import Refusal
from bendcore.formats.export import WRITERS, export
from bendcore.formats.pdf import PAPERS
from dorvan.longwork import desks
from dorvan.longwork.desk import Working
from dorvan.longwork.waiting import waiting

from ..results.solid import solid_of
from ..results.text import canonical
from .lookup import ticket_or_404

NAMES = {"model": "paper-model.pdf", "gauge": "radius.svg", "blocks": "blocks.dxf", "formblock": "form-block.pdf",
         "backing": "backing-block.pdf", "set": "all-templates.pdf"}
FOLDED = ("stl", "glb", "step")
ON_PAPER = ("pdf", "model", "formblock", "backing", "set")


desks.solids.takes(solid_of, 5)


def _written(ticket, ending: str, options: dict) -> str | bytes:
    """The file; raises Working while a solid is being written."""
    if ending == "step":
        return desks.solids.ask(solid_of, canonical(ticket.joined))
    return export(ticket.figures.part, ending, **options)


@require_safe
def download(request, number: int, ending: str):
    """The flat pattern as a file, or (``part``) the part file itself."""
    ticket = ticket_or_404(number)
    if ending == "part":
        text, kind, name = json.dumps(ticket.joined, indent=1, ensure_ascii=False), "application/json", "part.json"
    elif ending in WRITERS:
        paper = request.GET.get("paper", "A4")
        options = {"paper": paper if paper in PAPERS else "A4"} if ending in ON_PAPER else {}
        try:
            text = _written(ticket, ending, options)
        except Working as working:
            return waiting(request, working, "STEP", "The solid is being written.", ticket=ticket, at="rack",
                           back=reverse("tickets:stage", args=[number, "layout"]))
        except Refusal as refusal:
            what = f"template on {paper}" if options else "file"
            messages.error(request, f"No {what}: it {refusal.message}.")
            return redirect("tickets:stage", number=number, stage="layout")
        kind = WRITERS[ending][1]
        name = NAMES.get(ending, f"{'folded' if ending in FOLDED else 'flat'}.{ending}")
    else:
        raise Http404
    response = HttpResponse(text, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{ticket.tag}-{name}"'
    return response

"""A drawing that is sent to a brake: the outline in it, and a tool's laid over its sizes."""

from django.http import Http404
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_POST

from bendcore.brakes.drawn import points_at
from bendcore.brakes.measured.compared import laid_over
from bendcore.errors import Refusal
from bendcore.files import read_json
from bendcore.formats.drawing import MOST_BYTES
from bendcore.formats.reading import read_drawing
from dorvan.longwork import desks
from dorvan.longwork.desk import Working

from .models import Brake
from .sizes import page

for _desk in (desks.drawings, desks.large_drawings):
    _desk.takes(read_drawing, 0.5)


def sent_outline(request) -> list:
    """The outline of the DXF or SVG in a posted form, mm; refuses at ``file`` what is none or is still being read."""
    file = request.FILES.get("file")
    if not file or file.size > MOST_BYTES:
        raise Refusal("file", f"must be a drawing of at most {MOST_BYTES // 1_000_000} MB")
    try:
        return desks.read_drawing(read_drawing, file.read(MOST_BYTES + 1), file.name[:60]).shape["outline"]
    except Working:
        raise Refusal("file", "is still being read: press again in a moment") from None


@require_POST
def compare(request, pk: int, rack: str, number: int):
    """The outline of a DXF or SVG over the tool as its sizes make it; nothing of it is kept."""
    found = get_object_or_404(Brake, pk=pk)
    try:
        section = points_at(read_json(found.file.encode()), f"{rack}[{number}].section")
    except Refusal:
        raise Http404 from None
    try:
        laid = laid_over(section, sent_outline(request))
    except Refusal as refusal:
        return page(request, found, rack, number, Refusal("file", refusal.message))
    return page(request, found, rack, number, over=laid)

"""A drawing of a tool laid over its sizes."""

from django.http import Http404
from django.shortcuts import get_object_or_404
from django.views.decorators.http import require_POST

from bendcore.brakes.measured.compared import laid_over
from bendcore.brakes.measured.described import tool_at
from bendcore.errors import Refusal
from bendcore.files import read_json
from bendcore.formats.drawing import MOST_BYTES
from bendcore.formats.reading import read_drawing
from bendcore.units import MM_PER
from dorvan.longwork import desks
from dorvan.longwork.desk import Working

from .models import Brake
from .sizes import page

for _desk in (desks.drawings, desks.large_drawings):
    _desk.takes(read_drawing, 0.5)


@require_POST
def compare(request, pk: int, rack: str, number: int):
    """The outline of a DXF or SVG over the tool as its sizes make it; nothing of it is kept."""
    found, file = get_object_or_404(Brake, pk=pk), request.FILES.get("file")
    data = read_json(found.file.encode())
    try:
        tool = tool_at(data, rack, number)
    except Refusal:
        raise Http404 from None
    try:
        if not file or file.size > MOST_BYTES:
            raise Refusal("file", f"must be a drawing of at most {MOST_BYTES // 1_000_000} MB")
        drawn = desks.read_drawing(read_drawing, file.read(MOST_BYTES + 1), file.name[:60])
        per = MM_PER[data["units"]]
        laid = laid_over([(y * per, z * per) for y, z in tool["section"]], drawn.shape["outline"])
    except Working:
        return page(request, found, rack, number, Refusal("file", "is still being read: press again in a moment"))
    except Refusal as refusal:
        return page(request, found, rack, number, Refusal("file", refusal.message))
    return page(request, found, rack, number, over=laid)

"""A section of a brake from a drawing, read where drawings are read."""

from django.views.decorators.http import require_POST

from bendcore.brakes.drawn import section_at
from bendcore.errors import Refusal
from bendcore.formats.drawing import MOST_BYTES
from bendcore.formats.reading import read_drawing
from dorvan.brakes.edit import changed, with_outline
from dorvan.longwork import desks
from dorvan.longwork.desk import Working
from dorvan.versions.doing import retried

for _desk in (desks.drawings, desks.large_drawings):
    _desk.takes(read_drawing, 0.5)


@require_POST
@retried
def outline(request, pk: int):
    """The outline of a DXF or SVG in place of a brake's section."""
    file = request.FILES.get("file")

    def make(data, form):
        place = form.get("place", "")[:60]
        section_at(data, place)
        if not file or file.size > MOST_BYTES:
            raise Refusal("file", f"must be a drawing of at most {MOST_BYTES // 1_000_000} MB")
        try:
            drawn = desks.read_drawing(read_drawing, file.read(MOST_BYTES + 1), file.name[:60])
        except Working:
            raise Refusal("file", "is still being read: press again in a moment") from None
        return with_outline(data, place, drawn.shape["outline"])

    return changed(request, pk, make)

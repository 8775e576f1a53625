"""A section of a brake from a drawing, read where drawings are read."""

from django.views.decorators.http import require_POST

from bendcore.brakes.drawn import section_at
from dorvan.brakes.compare import sent_outline
from dorvan.brakes.edit import changed, with_outline
from dorvan.versions.doing import retried


@require_POST
@retried
def outline(request, pk: int):
    """The outline of a DXF or SVG in place of a brake's section."""
    def make(data, form):
        place = form.get("place", "")[:60]
        section_at(data, place)
        return with_outline(data, place, sent_outline(request))

    return changed(request, pk, make)

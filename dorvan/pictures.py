"""Photographs that people send.

Whatever is sent is decoded, turned upright, made small and written anew as JPEG: nothing
of the file sent is kept, neither what a camera wrote into it nor what somebody hid there.
"""

from django.http import HttpResponse

from bendcore.errors import Refusal
from dorvan.longwork.desk import Working
from dorvan.longwork.desks import once, photographs
from dorvan.shrinking import MOST_BYTES, as_jpeg

photographs.takes(as_jpeg, 0.5)


def sent(request, field: str = "photograph") -> bytes:
    """The photograph in a posted form, as it is to be kept; refuses what is none at its field. Raises Working where it
    is not made small yet and the device that kept it sends it again by itself."""
    file = request.FILES.get(field)
    if not file:
        raise Refusal(field, "choose a picture first")
    try:
        return once(photographs, as_jpeg, file.read(MOST_BYTES + 1))
    except Working as working:
        if getattr(request, "comes_again", False):
            raise
        others = f", {working.ahead} others go first" if working.ahead else ""
        raise Refusal(field, f"is still being made small{others}: send it again in a moment") from None
    except Refusal as refusal:
        raise Refusal(field, refusal.message) from None


def shown(jpeg: bytes) -> HttpResponse:
    """A photograph as an answer; its address names which it is, so it may be kept."""
    return HttpResponse(bytes(jpeg), content_type="image/jpeg", headers={"Cache-Control": "private, max-age=600"})

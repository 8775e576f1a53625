"""Photographs that people send.

Whatever is sent is decoded, turned upright, made small and written anew as JPEG: nothing
of the file sent is kept, neither what a camera wrote into it nor what somebody hid there.
"""

import io

from django.http import HttpResponse
from PIL import Image, ImageOps, UnidentifiedImageError

from bendcore.errors import Refusal

MOST_BYTES, MOST_PIXELS, LARGEST = 12_000_000, 60_000_000, 1400


def sent(request, field: str = "photograph") -> bytes:
    """The photograph in a posted form, as it is to be kept; refuses what is none at its field."""
    file = request.FILES.get(field)
    if not file:
        raise Refusal(field, "choose a picture first")
    return as_jpeg(file.read(MOST_BYTES + 1))


def shown(jpeg: bytes) -> HttpResponse:
    """A photograph as an answer; its address names which it is, so it may be kept."""
    return HttpResponse(bytes(jpeg), content_type="image/jpeg", headers={"Cache-Control": "private, max-age=600"})


def as_jpeg(data: bytes) -> bytes:
    """The picture small and upright; refuses what is no PNG, JPEG or WebP, or is too large."""
    if len(data) > MOST_BYTES:
        raise Refusal("photograph", f"is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        picture = Image.open(io.BytesIO(data), formats=("JPEG", "PNG", "WEBP"))
        if picture.width * picture.height > MOST_PIXELS:
            raise Refusal("photograph", f"has more than {MOST_PIXELS // 1_000_000} million pixels")
        picture.draft("RGB", (LARGEST, LARGEST))
        picture = ImageOps.exif_transpose(picture).convert("RGB")
        picture.thumbnail((LARGEST, LARGEST))
        out = io.BytesIO()
        picture.save(out, "JPEG", quality=85)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise Refusal("photograph", "is no picture that can be read: PNG, JPEG or WebP") from None
    return out.getvalue()

"""A photograph of the sample a part is made after, beside its drawing.

Whatever is sent is decoded, turned upright, made small and written anew as JPEG: nothing
of the file sent is kept, neither what a camera wrote into it nor what somebody hid there.
"""

import io

from django.conf import settings
from django.db import models
from PIL import Image, ImageOps, UnidentifiedImageError

from bendcore.errors import Refusal

MOST_BYTES, MOST_PIXELS, LARGEST = 12_000_000, 60_000_000, 1400


class Photograph(models.Model):
    ticket = models.OneToOneField("tickets.Ticket", models.CASCADE, related_name="photograph")
    jpeg = models.BinaryField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)


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

"""A picture made small and upright. Done in another process: nothing of the web application is loaded here."""

import io

from PIL import Image, ImageOps, UnidentifiedImageError

from bendcore.errors import Refusal

MOST_BYTES, LARGEST = 12_000_000, 1400
MOST_MILLIONS = {"JPEG": 120, "PNG": 24, "WEBP": 24}
"""Pixels by format, millions: a JPEG is made smaller while it is decoded, the others are decoded whole."""


def as_jpeg(data: bytes) -> bytes:
    """The picture small, upright and without a word in it; refuses what is no PNG, JPEG or WebP, or is too large."""
    if len(data) > MOST_BYTES:
        raise Refusal("photograph", f"is larger than {MOST_BYTES // 1_000_000} MB")
    try:
        picture = Image.open(io.BytesIO(data), formats=tuple(MOST_MILLIONS))
        most = MOST_MILLIONS[picture.format]
        if picture.width * picture.height > most * 1_000_000:
            more = "" if picture.format == "JPEG" else f": as JPEG it may have {MOST_MILLIONS['JPEG']}"
            raise Refusal("photograph", f"has more than {most} million pixels{more}")
        picture.draft("RGB", (LARGEST, LARGEST))
        picture.thumbnail((LARGEST, LARGEST), reducing_gap=2.0)
        picture = ImageOps.exif_transpose(picture).convert("RGB")
        picture.info.clear()  # a JPEG's comment would be written into the new one
        out = io.BytesIO()
        picture.save(out, "JPEG", quality=85)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise Refusal("photograph", "is no picture that can be read: PNG, JPEG or WebP") from None
    return out.getvalue()

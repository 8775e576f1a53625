"""What was asked for and is not done yet, kept beyond the process."""

import base64
import hashlib
import json

from django.conf import settings
from django.db import models


class Asked(models.Model):
    """One piece of work by its ``key``; ``args`` as :func:`packed`. It goes when the work is done."""

    key = models.CharField(max_length=64, unique=True)
    desk = models.CharField(max_length=20)
    call = models.CharField(max_length=60)
    args = models.TextField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, null=True, related_name="+")
    at = models.DateTimeField(auto_now_add=True)


def packed(args: tuple) -> str:
    """Arguments as text.

    >>> unpacked(packed(("a", ("b", None), b"c", 1.5)))
    ('a', ('b', None), b'c', 1.5)
    """
    return json.dumps(args, default=lambda data: {"bytes": base64.b64encode(data).decode()}, separators=(",", ":"))


def told_apart(args: tuple) -> str:
    """Short text that differs where arguments do: files stand in it by their hash, which is had without holding up
    the others."""
    return json.dumps(args, default=lambda data: {"sha256": hashlib.sha256(data).hexdigest()}, separators=(",", ":"))


def unpacked(text: str) -> tuple:
    """What :func:`packed` was given."""
    def known(value):
        if isinstance(value, list):
            return tuple(map(known, value))
        return base64.b64decode(value["bytes"]) if isinstance(value, dict) else value

    return known(json.loads(text))

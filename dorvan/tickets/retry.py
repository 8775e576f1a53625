"""Doing over what somebody else's change came between: reading, working out and writing, from the start."""

from functools import wraps

from django.http import HttpResponse

from .models import Moved

TRIES = 6


def retried(view):
    """Call a posting view again while the ticket it read was written by somebody else meanwhile. A view so
    marked reads all it works with itself, so that doing it over is doing it on the ticket as it is now."""
    @wraps(view)
    def again(request, *args, **kwargs):
        for _ in range(TRIES):
            try:
                return view(request, *args, **kwargs)
            except Moved:
                continue
        return HttpResponse("Others are changing this ticket right now. Nothing was lost: try again.", status=503,
                            content_type="text/plain", headers={"Retry-After": "1"})
    return again

"""Entries that a device kept while the server did not answer: taken under whoever made them, and each once.

A device sends them with the name of whoever made them and a key of their own. Where somebody else is signed in by now,
or nobody, nothing is done. The key is written in the transaction of the entry itself, so that one whose answer was lost
is not done twice, and one that was not written may come again.
"""

from urllib.parse import unquote

from django.db import IntegrityError
from django.http import HttpResponse

from dorvan import fields
from dorvan.longwork.desk import Working

from .models import Taken

BY, KEY = "X-Kept-By", "X-Kept-Key"


class CameBefore(Exception):
    """The entry was taken already."""


def take(request) -> None:
    """Within the transaction that writes an entry: its key with it. Raises CameBefore where it was there."""
    key = getattr(request, "kept_key", None)
    if key is None:
        return
    if Taken.objects.filter(key=key).exists():
        raise CameBefore
    try:
        Taken.objects.create(key=key, by=request.user)
    except IntegrityError:
        raise CameBefore from None


class KeptEntries:
    """Answers a device's queue in the few words that it understands: taken (204, where to go on), sign in (401), come
    again (503), or the page that refuses it."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if BY not in request.headers:
            return self.get_response(request)
        if not request.user.is_authenticated or unquote(request.headers[BY]) != request.user.device_name:
            return HttpResponse("Another is signed in here.", status=401, content_type="text/plain")
        request.kept_key = fields.key(request.headers.get(KEY, ""))
        request.comes_again = True  # the device keeps it until it is taken
        if request.kept_key and Taken.objects.filter(key=request.kept_key).exists():
            return HttpResponse(status=204)
        response = self.get_response(request)
        if response.status_code in (301, 302, 303):
            taken = HttpResponse(status=204, headers={"X-Next": response["Location"]})
            taken.cookies = response.cookies  # what is told on the page it leads to, a session that goes on
            return taken
        return response

    def process_exception(self, request, error):
        if isinstance(error, CameBefore):
            return HttpResponse(status=204)
        if isinstance(error, Working):
            return HttpResponse("Not ready yet.", status=503, content_type="text/plain", headers={"Retry-After": "1"})
        return None

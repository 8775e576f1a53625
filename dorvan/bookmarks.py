"""An old address of something that was only ever posted leads back to the page it was posted from.

A bookmark, a page restored by the browser, a link sent on: whoever opens such an address sees the nearest page above it
instead of being told that his method is not allowed.
"""

from django.http import HttpResponseNotAllowed
from django.shortcuts import redirect
from django.urls import Resolver404, resolve


class LeadBack:
    """Answers a GET that only posts are meant for with the nearest address above it that is a page."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        if isinstance(response, HttpResponseNotAllowed) and request.method in ("GET", "HEAD") and (
                request.headers.get("HX-Request") != "true"):
            return redirect(page_above(request.path))
        return response


def page_above(path: str) -> str:
    """The nearest address above that leads to something; the rack at last.

    >>> page_above("/t/7/nothing-here/")
    '/t/7/'
    """
    parts = path.strip("/").split("/")
    for count in range(len(parts) - 1, 0, -1):
        found = "/" + "/".join(parts[:count]) + "/"
        try:
            resolve(found)
        except Resolver404:
            continue
        return found
    return "/"

"""A file that is still being worked out: a page that asks for it again until it is there."""

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from .desk import Working

AGAIN = 2
"""The page asks again after so many seconds."""


def waiting(request: HttpRequest, working: Working, what: str, words: str, **more: object) -> HttpResponse:
    """The page in place of the file ``what``; ``words`` say what is being done, ``more`` has its ``ticket`` and the way
    ``back``."""
    answer = render(request, "longwork/waiting.html", {"what": what, "words": words, "ahead": working.ahead} | more)
    answer["Refresh"] = str(AGAIN)
    answer["Cache-Control"] = "no-store"
    return answer

"""Who asks: whose turn it is depends on it."""

from contextlib import contextmanager
from contextvars import ContextVar

who: ContextVar[int] = ContextVar("who", default=0)


@contextmanager
def on_behalf_of(person: int | None):
    """What is asked for within is asked for by this person."""
    token = who.set(person or 0)
    try:
        yield
    finally:
        who.reset(token)


class Asking:
    """Every request asks on behalf of whoever is signed in."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        with on_behalf_of(request.user.pk):
            return self.get_response(request)

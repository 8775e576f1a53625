"""The shop's own values of metals, looked up once a request: nearly every figure of a page is worked out with them."""

from contextvars import ContextVar

held: ContextVar[dict | None] = ContextVar("held", default=None)
"""What was looked up within this request; None outside of one."""


class Held:
    """Every request begins with nothing looked up."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        token = held.set({})
        try:
            return self.get_response(request)
        finally:
            held.reset(token)

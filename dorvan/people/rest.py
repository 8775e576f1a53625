"""How long a device at rest keeps somebody signed in: an hour where it is shared, two weeks where it is his own."""

import time

from django.http import HttpRequest

SHARED, OWN = 3600, 14 * 24 * 3600
NOTED = 300
"""That somebody is at work is noted so often, s."""


def begin(request: HttpRequest, own: bool) -> None:
    """With the sign-in."""
    request.session["at"] = int(time.time())
    request.session["rest"] = OWN if own else SHARED
    request.session.set_expiry(request.session["rest"])


class AtRest:
    """Every request of somebody signed in puts the end off; noted now and then, so that pages need not write."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        session = request.session
        if request.user.is_authenticated and "rest" in session and time.time() - session.get("at", 0) > NOTED:
            session["at"] = int(time.time())
            session.set_expiry(session["rest"])
        return self.get_response(request)

"""Every request in the log: when, what, who, how it was answered and how long that took. Nothing that was typed."""

import logging
import time

log = logging.getLogger("dorvan.requests")


class Logged:
    """The outermost of all, so that it sees every answer."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        begun = time.perf_counter()
        response = self.get_response(request)
        who = getattr(request, "user", None)
        log.info("%s %s %s %s %.0f ms", request.method, request.path, response.status_code,
                 who.pk if who and who.is_authenticated else "-", 1000 * (time.perf_counter() - begun))
        return response

"""Doing over what somebody else's change came between: reading, working out and writing, from the start."""

import random
import threading
import time
from collections.abc import Iterable
from contextlib import ExitStack
from functools import wraps

from django.http import HttpResponse

from bendcore.errors import Refusal

TRIES, PAUSE, PATIENT = 16, 0.02, 3
"""How often it is done over, for how long at most it steps back each time, s, so that one of many gets through; and
after how many times it goes before those who come after it."""


class Moved(Exception):
    """What is to be written was written by somebody else since it was read."""


class Clash(Refusal):
    """Somebody else changed the same thing since the page was drawn; ``told`` says who, when and what."""

    def __init__(self, told: Iterable[str]):
        told = list(told)
        super().__init__("meanwhile", f"{'; '.join(told)}. What you sent was not done: look again, then send it if it "
                                      "still holds")
        self.told = told


def retried(view):
    """Call a posting view again while what it read was written by somebody else meanwhile. A view so
    marked reads all it works with itself, so that doing it over is doing it on things as they are now."""
    first = threading.Lock()  # held by one that lost too often: whoever comes now waits for it

    @wraps(view)
    def again(request, *args, **kwargs):
        with ExitStack() as turn:
            for n in range(TRIES):
                if n < PATIENT:
                    with first:
                        pass
                elif n == PATIENT:
                    turn.enter_context(first)
                try:
                    return view(request, *args, **kwargs)
                except Moved:
                    time.sleep(random.uniform(0, PAUSE * n))
        return HttpResponse("Others are changing this right now. Nothing was lost: try again.", status=503,
                            content_type="text/plain", headers={"Retry-After": "1"})
    return again


def status_of(error: Refusal | None) -> int:
    """Of the answer: 409 where somebody else was quicker, 422 where something is wrong, 200."""
    return 200 if error is None else 409 if isinstance(error, Clash) else 422

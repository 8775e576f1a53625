"""Pass phrases for once: given by a lead, shown one time, changed at the first sign-in.

Five words of 132 give more than 10¹⁰ of them; with guesses held back as they are (``settings.AXES_*``) and
three days to live that is more than enough.
"""

import secrets
from datetime import timedelta

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.utils import timezone

from .joining import join
from .models import User

WORDS = (
    "anvil", "apron", "arbor", "awl", "axle", "bar", "batten", "bead", "beam", "bench", "bevel", "blank", "block",
    "bolt", "border", "box", "brace", "bracket", "brass", "brush", "bush", "cable", "cap", "card", "cart", "chain",
    "chalk", "channel", "chest", "clamp", "cleat", "clip", "cloth", "coil", "collar", "copper", "cord", "corner",
    "cover", "crate", "crimp", "crown", "cup", "dial", "die", "disc", "door", "drawer", "drill", "duct", "edge",
    "elbow", "fan", "felt", "file", "fin", "flange", "flap", "flat", "flute", "folder", "frame", "fuse", "gasket",
    "gate", "gauge", "glove", "groove", "guard", "gutter", "hammer", "handle", "hasp", "hat", "hatch", "hinge",
    "hole", "hood", "hook", "hopper", "horn", "jack", "jaw", "jig", "joint", "key", "kiln", "knob", "knurl", "ladder",
    "lamp", "latch", "leaf", "ledge", "lever", "lid", "link", "lock", "loop", "louvre", "mallet", "mandrel", "map",
    "mesh", "mitre", "mould", "nail", "neck", "needle", "nib", "notch", "nut", "oven", "pail", "panel", "peg",
    "pilot", "pin", "pipe", "pivot", "plate", "plug", "pocket", "post", "press", "pulley", "punch", "rack", "rail",
    "rasp", "ridge", "ring")
LASTS = timedelta(days=3)
"""How long somebody has to sign in with one."""
MAY = ("people:phrase", "people:own-phrase", "people:sign-out")
"""Where one may go who has to choose a phrase of his own first."""


def give(person: User) -> str:
    """Keep the person with a new phrase for once and no PIN, and say it: it is kept nowhere. Refuses as
    :func:`~.joining.join`."""
    phrase = "-".join(secrets.choice(WORDS) for _ in range(5))
    person.phrase_ends, person.pin = timezone.now() + LASTS, ""
    join(person, phrase)
    return phrase


class OwnPhraseFirst:
    """Who signed in with a phrase for once chooses his own before anything else."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """As it was."""
        return self.get_response(request)

    def process_view(self, request, view, args, kwargs):
        """Lead to the phrase; what a device kept waits, for a way elsewhere would be taken for an answer."""
        if not request.user.is_authenticated or not request.user.phrase_ends:
            return None
        if request.resolver_match.view_name in MAY:
            return None
        if hasattr(request, "kept_key"):
            return HttpResponse("A pass phrase of one's own comes first.", status=401, content_type="text/plain")
        return redirect("people:phrase")

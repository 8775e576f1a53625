"""A ticket that cannot be read as it stands, since the shop changed what is joined to it: a value of the metal, a
tool. Its pages then say what is in the way and how to mend it, instead of failing."""

from django.shortcuts import render
from django.urls import resolve

from bendcore.errors import Refusal

from .file import changes
from .models import Ticket


class Unreadable:
    """Answers 422 with a page to mend the ticket where a view met a part that the core refuses."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        return self.get_response(request)

    def process_exception(self, request, error):
        number = resolve(request.path).kwargs.get("number")
        if not isinstance(error, Refusal) or number is None:
            return None
        ticket = Ticket.objects.filter(number=number).first()
        if ticket is None:
            return None
        return render(request, "tickets/unreadable.html", {
            "ticket": ticket, "at": "rack", "refusal": error, "words": changes.in_words(error.path, ticket.kind),
            "radius": ticket.part.get("inside_radius", "")}, status=422)

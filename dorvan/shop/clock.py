"""Pages tell the time of the shop's clock."""

from django.utils import timezone

from .models import Shop


class OnTheClock:
    """Every request in the shop's time zone."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        with timezone.override(Shop.now().clock):
            return self.get_response(request)


def this_shop(_request) -> dict:
    """For templates: ``this_shop``, whose paper it is when the page is printed, and whether it is in its first hour."""
    return {"this_shop": Shop.now()}

"""Every address of the application, app by app."""

from django.urls import include, path

from dorvan.glossary import every_word, words
from dorvan.keeping.health import health

urlpatterns = [
    path("health/", health),
    path("words/", words, name="words"),
    path("words/every.json", every_word, name="every-word"),
    path("", include("dorvan.tickets.urls")),
    path("", include("dorvan.floor.urls")),
    path("", include("dorvan.learning.urls")),
    path("", include("dorvan.outside.urls")),
    path("", include("dorvan.jobpack.urls")),
    path("", include("dorvan.joining.urls")),
    path("", include("dorvan.simulated.urls")),
    path("site/", include("dorvan.site.urls")),
    path("day/", include("dorvan.day.urls")),
    path("cutting/", include("dorvan.cutting.urls")),
    path("brakes/", include("dorvan.brakes.urls")),
    path("stockroom/", include("dorvan.stockroom.urls")),
    path("", include("dorvan.office.urls")),
    path("people/", include("dorvan.people.urls")),
]

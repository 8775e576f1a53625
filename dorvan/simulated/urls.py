"""Practice."""

from django.urls import path

from . import pages

app_name = "simulated"
urlpatterns = [
    path("practice/", pages.practice, name="practice"),
    path("practice/begin/", pages.begin, name="begin"),
    path("practice/bend/", pages.bend, name="bend"),
    path("practice/look/", pages.look, name="look"),
]

"""The shop's settings."""

from django.urls import path

from . import views

app_name = "office"
urlpatterns = [
    path("", views.settings, name="settings"),
    path("set/", views.put, name="put"),
    path("mark/", views.mark, name="mark"),
    path("mark/take/", views.take_mark, name="take-mark"),
]

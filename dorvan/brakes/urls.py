"""Brakes and tools."""

from django.urls import path

from . import views

app_name = "brakes"
urlpatterns = [
    path("", views.rack, name="rack"),
    path("upload/", views.upload, name="upload"),
]

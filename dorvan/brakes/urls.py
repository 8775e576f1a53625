"""Brakes and tools."""

from django.urls import path

from . import edit, views

app_name = "brakes"
urlpatterns = [
    path("", views.rack, name="rack"),
    path("<int:pk>/", edit.brake, name="brake"),
    path("<int:pk>/change/", edit.change, name="change"),
    path("<int:pk>/hands/", edit.hands, name="hands"),
    path("sample/", views.sample, name="sample"),
    path("upload/", views.upload, name="upload"),
    path("tooling/add/", views.add_tooling, name="add-tooling"),
    path("tooling/<int:pk>/remove/", views.remove_tooling, name="remove-tooling"),
]

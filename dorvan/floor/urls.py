"""Bending and checking."""

from django.urls import path

from . import views

app_name = "floor"
urlpatterns = [
    path("t/<int:number>/bend/", views.bend, name="bend"),
    path("t/<int:number>/release/", views.release, name="release"),
    path("t/<int:number>/bend/record/", views.record, name="record"),
    path("t/<int:number>/check/", views.check, name="check"),
    path("t/<int:number>/check/save/", views.save_check, name="save-check"),
]

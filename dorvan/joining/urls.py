"""Join lists."""

from django.urls import path

from . import views

app_name = "joining"
urlpatterns = [
    path("t/<int:number>/joins/", views.joins, name="joins"),
    path("t/<int:number>/joins/choose/", views.choose, name="choose"),
]

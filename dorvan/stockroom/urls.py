"""The stockroom."""

from django.urls import path

from . import views

app_name = "stockroom"
urlpatterns = [path("", views.room, name="room")]

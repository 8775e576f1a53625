"""Job packs."""

from django.urls import path

from . import views

app_name = "jobpack"
urlpatterns = [
    path("t/<int:number>/pack/", views.pack, name="pack"),
    path("t/<int:number>/pack/printed.pdf", views.printed, name="printed"),
]

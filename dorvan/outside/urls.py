"""Suppliers, and tickets that go to them."""

from django.urls import path

from . import limits, views

app_name = "outside"
urlpatterns = [
    path("suppliers/", views.suppliers, name="suppliers"),
    path("suppliers/read-in/", views.read_in, name="read-in"),
    path("suppliers/begin/", limits.begin, name="begin"),
    path("suppliers/<int:pk>/limits/", limits.limits, name="limits"),
    path("suppliers/<int:pk>/limits/set/", limits.change, name="limit"),
    path("suppliers/<int:pk>/", views.supplier, name="supplier"),
    path("suppliers/<int:pk>/profile.json", views.profile_file, name="profile"),
    path("t/<int:number>/outside/", views.ticket, name="ticket"),
    path("t/<int:number>/outside/choose/", views.choose, name="choose"),
    path("t/<int:number>/outside/pack/", views.send, name="send"),
    path("t/<int:number>/outside/back/", views.back, name="back"),
]

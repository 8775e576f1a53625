"""Signing in and out, and who works here."""

from django.contrib.auth import views as auth
from django.urls import path

from . import staff, tablets, views

app_name = "people"
urlpatterns = [
    path("sign-in/", views.SignIn.as_view(), name="sign-in"),
    path("first/", views.first, name="first"),
    path("sign-out/", auth.LogoutView.as_view(), name="sign-out"),
    path("log/", views.deeds, name="deeds"),
    path("", staff.people, name="people"),
    path("add/", staff.add, name="add"),
    path("<int:pk>/change/", staff.change, name="change"),
    path("phrase/", staff.phrase, name="phrase"),
    path("phrase/take/", staff.own_phrase, name="own-phrase"),
    path("pin/take/", tablets.own_pin, name="own-pin"),
    path("take-over/", tablets.take_over, name="take-over"),
    path("devices/trust/", tablets.trust, name="trust"),
    path("devices/<int:pk>/withdraw/", tablets.withdraw, name="withdraw"),
    path("units/", views.switch_units, name="units"),
    path("reading/", views.reading, name="reading"),
    path("reading/take/", views.read_so, name="read-so"),
]

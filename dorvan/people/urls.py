"""Signing in and out."""

from django.contrib.auth import views as auth
from django.urls import path

from . import views

app_name = "people"
urlpatterns = [
    path("sign-in/", auth.LoginView.as_view(template_name="people/sign_in.html", redirect_authenticated_user=True),
         name="sign-in"),
    path("sign-out/", auth.LogoutView.as_view(), name="sign-out"),
    path("units/", views.switch_units, name="units"),
    path("reading/", views.reading, name="reading"),
    path("reading/take/", views.read_so, name="read-so"),
]

"""The day's plan."""

from django.urls import path

from . import views

app_name = "day"
urlpatterns = [
    path("", views.day, name="day"),
    path("new/", views.new, name="new"),
    path("<int:pk>/fix/", views.fix, name="fix"),
    path("<int:pk>/end/", views.end, name="end"),
    path("crew/", views.crew, name="crew"),
    path("crew/rates/", views.rates, name="rates"),
    path("crew/hours/", views.hours, name="hours"),
    path("crew/hand/", views.hand, name="hand"),
    path("crew/away/", views.away, name="away"),
]

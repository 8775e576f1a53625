"""Site sheets."""

from django.urls import path

from . import views

app_name = "site"
urlpatterns = [
    path("", views.visits, name="visits"),
    path("new/", views.new, name="new"),
    path("<int:number>/", views.sheet, name="sheet"),
    path("<int:number>/act/", views.act, name="act"),
    path("<int:number>/photograph-<int:pk>.jpg", views.picture, name="picture"),
    path("<int:number>/readings.csv", views.readings_csv, name="readings"),
]

"""Cutting plans."""

from django.urls import path

from . import views

app_name = "cutting"
urlpatterns = [
    path("", views.plans, name="plans"),
    path("new/", views.new, name="new"),
    path("<int:number>/", views.plan, name="plan"),
    path("<int:number>/change/", views.change, name="change"),
    path("<int:number>/move/", views.move, name="move"),
    path("<int:number>/cut/", views.cut, name="cut"),
    path("<int:number>/end/", views.end, name="end"),
    path("<int:number>/away/", views.away, name="away"),
    path("blanks/<int:number>/", views.blank, name="blank"),
    path("<int:number>/labels.pdf", views.printed_labels, name="labels"),
    path("<int:number>/sheet-<int:sheet>.dxf", views.drawing, name="drawing"),
]

"""Brakes and tools."""

from django.urls import path

from . import compare, edit, shelf, sizes, views

app_name = "brakes"
urlpatterns = [
    path("", views.rack, name="rack"),
    path("<int:pk>/", edit.brake, name="brake"),
    path("<int:pk>/change/", edit.change, name="change"),
    path("<int:pk>/hands/", edit.hands, name="hands"),
    path("new/", sizes.new, name="new"),
    path("begin/", sizes.begin, name="begin"),
    path("<int:pk>/sizes/", sizes.sizes, name="sizes"),
    path("<int:pk>/sizes/set/", sizes.size, name="size"),
    path("<int:pk>/sizes/sheet/", sizes.sheet, name="sheet"),
    path("<int:pk>/again/", sizes.again, name="again"),
    path("<int:pk>/tools/", shelf.shelf, name="shelf"),
    path("<int:pk>/tools/add/", shelf.add, name="add-tool"),
    path("<int:pk>/tools/<slug:rack>/<int:number>/", sizes.sizes, name="tool"),
    path("<int:pk>/tools/<slug:rack>/<int:number>/set/", sizes.size, name="tool-size"),
    path("<int:pk>/tools/<slug:rack>/<int:number>/sheet/", sizes.sheet, name="tool-sheet"),
    path("<int:pk>/tools/<slug:rack>/<int:number>/act/", shelf.act, name="tool-act"),
    path("<int:pk>/tools/<slug:rack>/<int:number>/compare/", compare.compare, name="compare-tool"),
    path("sample/", views.sample, name="sample"),
    path("upload/", views.upload, name="upload"),
    path("tooling/add/", views.add_tooling, name="add-tooling"),
    path("tooling/<int:pk>/remove/", views.remove_tooling, name="remove-tooling"),
]

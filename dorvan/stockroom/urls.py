"""The stockroom."""

from django.urls import path

from . import views

app_name = "stockroom"
urlpatterns = [
    path("", views.lots, name="lots"),
    path("lots/new/", views.add_lot, name="add-lot"),
    path("lots/<path:code>/leftover/", views.add_leftover, name="leftover"),
    path("lots/<path:code>/measure/", views.measure_lot, name="measure"),
    path("materials/", views.material_list, name="materials"),
    path("materials/new/", views.begin_material, name="new-material"),
    path("materials/add/", views.add_material, name="add-material"),
    path("materials/<slug:name>/", views.material, name="material"),
    path("materials/<slug:name>/set/", views.set_value, name="set-value"),
    path("gauges/", views.gauge_tables, name="gauges"),
]

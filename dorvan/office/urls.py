"""The shop's settings, bundles of it, its first hour."""

from django.urls import path

from . import bundles, first_hour, views

app_name = "office"
urlpatterns = [
    path("shop/", views.settings, name="settings"),
    path("shop/set/", views.put, name="put"),
    path("shop/mark/", views.mark, name="mark"),
    path("shop/mark/take/", views.take_mark, name="take-mark"),
    path("shop/first-hour/", first_hour.first_hour, name="first-hour"),
    path("shop/first-hour/leave/", first_hour.leave, name="leave"),
    path("shop/bundle/", bundles.bundles, name="bundles"),
    path("shop/bundle/shop.zip", bundles.whole, name="whole"),
    path("shop/bundle/read/", bundles.read, name="read-bundle"),
    path("t/<int:number>/bundle.zip", bundles.ticket, name="ticket-bundle"),
]

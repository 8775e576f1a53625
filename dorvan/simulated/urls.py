"""Practice."""

from django.urls import path

from . import order_pages, pages

app_name = "simulated"
urlpatterns = [
    path("practice/", pages.practice, name="practice"),
    path("practice/begin/", pages.begin, name="begin"),
    path("practice/bend/", pages.bend, name="bend"),
    path("practice/look/", pages.look, name="look"),
    path("practice/order/", order_pages.ordering, name="ordering"),
    path("practice/order/choose/", order_pages.choose, name="choose"),
]

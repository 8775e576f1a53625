"""The ledger and the proof bends that feed it."""

from django.urls import path

from . import finished, proofs, views

app_name = "ledger"
urlpatterns = [
    path("ledger/", views.ledger, name="ledger"),
    path("ledger/csv/", views.export, name="export"),
    path("ledger/read-in/", views.read_in, name="read-in"),
    path("ledger/rules/", views.rules, name="rules"),
    path("ledger/charts/add/", views.add_chart, name="add-chart"),
    path("ledger/charts/<int:pk>/remove/", views.remove_chart, name="remove-chart"),
    path("ledger/<int:pk>/", views.pair, name="pair"),
    path("ledger/<int:pk>/adopt/", views.adopt, name="adopt"),
    path("ledger/<int:pk>/withdraw/", views.withdraw, name="withdraw"),
    path("ledger/samples/<int:pk>/mark/", views.mark, name="mark"),
    path("proofs/new/", proofs.new, name="new-proof"),
    path("proofs/begin/", proofs.begin, name="begin-proof"),
    path("proofs/<int:number>/", proofs.proof, name="proof"),
    path("proofs/<int:number>/strip/", proofs.strip, name="strip"),
    path("t/<int:number>/sample/", finished.finished, name="part-sample"),
    path("t/<int:number>/sample/save/", finished.save_finished, name="save-part"),
]

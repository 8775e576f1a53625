"""Setting up, bending and checking."""

from django.urls import path

from .pages import bend, check, outcome, reports, setup

app_name = "floor"
urlpatterns = [
    path("t/<int:number>/setup/", setup.setup, name="setup"),
    path("t/<int:number>/setup/look-over/", setup.look_over, name="look-over"),
    path("t/<int:number>/setup/structural/", setup.structural, name="structural"),
    path("t/<int:number>/bend/", bend.bend, name="bend"),
    path("t/<int:number>/bend/<int:step>/<slug:when>.svg", bend.view, name="view"),
    path("t/<int:number>/release/", bend.release, name="release"),
    path("t/<int:number>/bend/record/", bend.record, name="record"),
    path("t/<int:number>/bend/log/", bend.log, name="log"),
    path("t/<int:number>/check/", check.check, name="check"),
    path("t/<int:number>/check/save/", check.save_check, name="save-check"),
    path("t/<int:number>/check/take-k/", outcome.take_k, name="take-k"),
    path("t/<int:number>/check/<int:pk>/decide/", outcome.decide, name="decide"),
    path("t/<int:number>/check/<int:pk>/photograph/", outcome.keep_photograph, name="keep-photograph"),
    path("t/<int:number>/check/photograph/<int:pk>/", outcome.photograph, name="photograph"),
    path("t/<int:number>/check/report.pdf", reports.report_pdf, name="report-pdf"),
    path("t/<int:number>/check/report.csv", reports.report, name="report"),
    path("t/<int:number>/log/", reports.log_page, name="log-page"),
    path("t/<int:number>/log.csv", reports.log_csv, name="log-csv"),
]

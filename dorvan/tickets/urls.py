"""The rack and the stages of a ticket."""

from django.urls import path, register_converter

from . import begin_views, kit_views, space_views, views


class StageName:
    """The stages served by this app."""

    regex = "shape|stock|proof|layout|order"

    @staticmethod
    def to_python(value):
        return value

    to_url = to_python


class Way(StageName):
    regex = "undo|redo"


register_converter(StageName, "stage")
register_converter(Way, "way")

app_name = "tickets"
urlpatterns = [
    path("", views.rack, name="rack"),
    path("tickets/read-in/", begin_views.read_in, name="read-in"),
    path("tickets/new/", begin_views.create, name="create"),
    path("t/<int:number>/", views.stage, {"stage": "shape"}, name="shape"),
    path("t/<int:number>/<stage:stage>/", views.stage, name="stage"),
    path("t/<int:number>/change/", views.change, name="change"),
    path("t/<int:number>/card/", views.card, name="card"),
    path("t/<int:number>/<way:way>/", views.undo, name="undo"),
    path("t/<int:number>/override/", views.override, name="override"),
    path("t/<int:number>/set-up/", views.set_up, name="set-up"),
    path("t/<int:number>/order/try/", views.try_order, name="try"),
    path("t/<int:number>/order/frames/<int:step>/", views.frames, name="frames"),
    path("t/<int:number>/order/remedies/", views.remedies, name="remedies"),
    path("t/<int:number>/workings/", views.workings, name="workings"),
    path("t/<int:number>/marking-out/", views.marking_out, name="marking-out"),
    path("t/<int:number>/twin/", begin_views.twin, name="twin"),
    path("t/<int:number>/measure/", space_views.measure, name="measure"),
    path("t/<int:number>/still.svg", views.still, name="still"),
    path("t/<int:number>/folded/", space_views.folded, name="folded"),
    path("t/<int:number>/photograph/", views.photograph, name="photograph"),
    path("t/<int:number>/photograph/keep/", views.keep_photograph, name="keep-photograph"),
    path("t/<int:number>/space/", space_views.space, name="space"),
    path("t/<int:number>/proved/", space_views.proved, name="proved"),
    path("t/<int:number>/section/", space_views.section, name="section"),
    path("t/<int:number>/file/<slug:ending>/", views.download, name="file"),
    path("t/<int:number>/kit/", kit_views.show, name="kit"),
    path("t/<int:number>/kit/add/", kit_views.add, name="kit-add"),
    path("t/<int:number>/kit/piece/", kit_views.piece, name="kit-piece"),
    path("t/<int:number>/kit/made/", kit_views.made, name="kit-made"),
    path("t/<int:number>/kit/bought/", kit_views.bought, name="kit-bought"),
    path("t/<int:number>/kit/files/<slug:ending>/", kit_views.files, name="kit-files"),
    path("t/<int:number>/remove/", views.remove, name="remove"),
]

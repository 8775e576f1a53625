"""The rack and the stages of a ticket."""

from django.urls import path, register_converter

from .pages import (
    begin,
    bench,
    cut,
    files,
    gate,
    kit,
    kit_orders,
    layout,
    order,
    photograph,
    rack,
    read_in,
    section,
    sizes,
    space,
    tried,
    ways_out,
)


class StageName:
    """The stages served by this app."""

    regex = "shape|stock|proof|layout|order"

    @staticmethod
    def to_python(value):
        return value

    to_url = to_python


class Way(StageName):
    regex = "undo|redo"


class Beside(StageName):
    """What is looked for beside an order."""

    regex = "why|limits|brakes"


class Tried(StageName):
    """What is tried of a brake."""

    regex = "limits|doubts"


register_converter(StageName, "stage")
register_converter(Beside, "beside")
register_converter(Tried, "tried")
register_converter(Way, "way")

app_name = "tickets"
urlpatterns = [
    path("", rack.rack, name="rack"),
    path("brakes/<int:pk>/try/", tried.try_brake, name="try-brake"),
    path("brakes/<int:pk>/try/know/", tried.know, name="know"),
    path("brakes/<int:pk>/try/doubt/", tried.doubt, name="doubt"),
    path("brakes/<int:pk>/try/<tried:what>/looking/", tried.trying, name="trying"),
    path("sections/<int:pk>/", section.outline, name="section-outline"),
    path("tickets/read-in/", read_in.read_in, name="read-in"),
    path("readings/<int:pk>/", read_in.reading, name="reading"),
    path("readings/<int:pk>/look/", read_in.look_again, name="look-again"),
    path("tickets/begin/", begin.begin, name="begin"),
    path("tickets/new/", begin.create, name="create"),
    path("t/<int:number>/", bench.stage, {"stage": "shape"}, name="shape"),
    path("t/<int:number>/<stage:stage>/", bench.stage, name="stage"),
    path("t/<int:number>/change/", bench.change, name="change"),
    path("t/<int:number>/card/", rack.card, name="card"),
    path("t/<int:number>/<way:way>/", bench.undo, name="undo"),
    path("t/<int:number>/override/", bench.override, name="override"),
    path("t/<int:number>/set-up/", bench.set_up, name="set-up"),
    path("t/<int:number>/order/try/", bench.try_order, name="try"),
    path("t/<int:number>/order/frames/<int:step>/", order.frames, name="frames"),
    path("t/<int:number>/order/space/<int:step>/<int:frame>/", order.space, name="order-space"),
    path("t/<int:number>/order/brakes/", order.every_brake, name="every-brake"),
    path("t/<int:number>/order/important/", bench.important, name="important"),
    path("t/<int:number>/order/look/", order.look, name="look"),
    path("t/<int:number>/order/take/", bench.take, name="take"),
    path("t/<int:number>/order/limits/", order.limits, name="limits"),
    path("t/<int:number>/order/search/", bench.search, name="search"),
    path("t/<int:number>/order/sizes/", order.sizes, name="sizes"),
    path("t/<int:number>/order/why/", order.why, name="why"),
    path("t/<int:number>/order/<beside:what>/looking/", order.looking, name="looking"),
    path("t/<int:number>/order/sheet/", order.bend_sheet, name="bend-sheet"),
    path("t/<int:number>/order/remedies/", ways_out.remedies, name="remedies"),
    path("t/<int:number>/order/remedies/stop/", ways_out.stop, name="stop-remedies"),
    path("t/<int:number>/workings/", bench.workings, name="workings"),
    path("t/<int:number>/marking-out/", layout.marking_out, name="marking-out"),
    path("t/<int:number>/duplicate/", begin.duplicate, name="duplicate"),
    path("t/<int:number>/twin/", begin.twin, name="twin"),
    path("t/<int:number>/measure/", space.measure, name="measure"),
    path("t/<int:number>/still.svg", space.still, name="still"),
    path("t/<int:number>/folded/", space.folded, name="folded"),
    path("t/<int:number>/photograph/", photograph.photograph, name="photograph"),
    path("t/<int:number>/photograph/keep/", photograph.keep_photograph, name="keep-photograph"),
    path("t/<int:number>/space/", space.space, name="space"),
    path("t/<int:number>/proved/", space.proved, name="proved"),
    path("t/<int:number>/section/", space.section, name="section"),
    path("t/<int:number>/file/<slug:ending>/", files.download, name="file"),
    path("gate/", gate.asks, name="asks"),
    path("gate/ask/", gate.ask, name="ask"),
    path("t/<int:number>/gate/", gate.show, name="gate"),
    path("t/<int:number>/gate/act/", gate.act, name="gate-act"),
    path("t/<int:number>/kit/", kit.show, name="kit"),
    path("t/<int:number>/kit/orders/", kit_orders.orders, name="kit-orders"),
    path("t/<int:number>/kit/orders/stop/", kit_orders.stop, name="kit-orders-stop"),
    path("t/<int:number>/kit/add/", kit.add, name="kit-add"),
    path("t/<int:number>/kit/piece/", kit.piece, name="kit-piece"),
    path("t/<int:number>/kit/sizes/", sizes.sizes, name="kit-sizes"),
    path("t/<int:number>/kit/made/", kit.made, name="kit-made"),
    path("t/<int:number>/kit/bought/", kit.bought, name="kit-bought"),
    path("t/<int:number>/kit/files/<slug:ending>/", kit.files, name="kit-files"),
    path("t/<int:number>/blanks/", cut.decide, name="cut"),
    path("t/<int:number>/archive/", rack.archive, name="archive"),
    path("t/<int:number>/remove/", rack.remove, name="remove"),
]

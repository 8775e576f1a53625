"""One brake: its sections changed by points or from a drawing, its costs and how exactly it works."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.brakes.brake import read_brake
from bendcore.brakes.costs import Costs
from bendcore.brakes.drawn import (
    read_points,
    section_at,
    sections,
    with_pieces,
    with_section,
    written_pieces,
    written_points,
)
from bendcore.errors import Refusal
from bendcore.files import read_json
from bendcore.units import MM_PER, read_length
from dorvan import fields
from dorvan.drawings.tools import section_view
from dorvan.people.models import User
from dorvan.versions.doing import retried, status_of

from .models import Brake

COSTS = {"stroke": "A stroke", "turn": "Turning it round", "flip": "Turning it over",
         "two_person_factor": "Heavy or long: times", "stop_move": "Moving the stop", "tool_change": "Changing tools",
         "scribed_line": "Scribing a line", "finger_change": "Changing fingers",
         "swing": "Swinging a long side, for each metre (39 in)", "move": "Going to another brake"}
ACCURACY = {"stop_offset": "Stop, off for a job", "stop_repeat": "Stop, stroke to stroke", "scribing": "A scribed line",
            "angle": "Angle, piece to piece"}
OF_PRESS, OF_HAND = ("stop_move", "tool_change", "stop_offset", "stop_repeat"), ("finger_change", "swing")


@require_safe
def brake(request, pk: int):
    """A brake, to be looked at; a lead may change it."""
    return _page(request, get_object_or_404(Brake, pk=pk))


def _page(request, found: Brake, error: Refusal | None = None):
    data, typed = read_json(found.file.encode()), request.POST if error else {}
    places = sections(data)
    asked = typed.get("place") or request.GET.get("place")
    place = asked if asked in places else next(iter(places))
    kept, press = data.get("costs", {}), bool(found.press)
    left_out = OF_HAND if press else OF_PRESS
    costs = [{"name": key, "title": title, "value": typed.get(key, kept.get(key, getattr(Costs(), key)))}
             for key, title in COSTS.items() if key not in left_out]
    accuracy = [{"name": key, "title": title, "value": typed.get(key, data.get("accuracy", {}).get(key, "")),
                 "unit": "°" if key == "angle" else data["units"]}
                for key, title in ACCURACY.items() if key not in left_out]
    points = section_at(data, place)
    return render(request, "brakes/brake.html", {
        "at": "brakes", "brake": found, "places": places.items(), "place": place, "title": places[place],
        "text": typed.get("points") or written_points(points, data["units"]), "file_units": data["units"],
        "pieces": typed.get("pieces") or written_pieces(data, place), "view": section_view(data, place),
        "people": User.objects.filter(is_active=True).order_by("username"), "hands": set(found.hands.all()),
        "costs": costs, "accuracy": accuracy, "error": error,
        "field": error.path if error else ""}, status=status_of(error))


@require_POST
def hands(request, pk: int):
    """Who may use a brake; everybody where nobody is named."""
    found = get_object_or_404(Brake, pk=pk)
    asked = {fields.number(text) for text in request.POST.getlist("hand")}
    found.hands.set(User.objects.filter(is_active=True, pk__in=asked - {None}))
    return redirect("brakes:brake", pk=pk)


@require_POST
@retried
def change(request, pk: int):
    """A section, the pieces, the costs or the accuracy of a brake; refused at its place, and nothing lost."""
    ways = {"section": _section, "costs": _costs, "accuracy": _accuracy, "pieces": _pieces}
    return changed(request, pk, ways.get(request.POST.get("what"), _nothing))


def changed(request, pk: int, make):
    """The brake's file as ``make`` leaves it, of the data and the form, if it can be read."""
    found, form = get_object_or_404(Brake, pk=pk), request.POST
    what = form.get("what", "")[:20] or "section"
    things = [f"{what} {form.get('place', '')[:60]}".strip() if what in ("section", "pieces") else what]
    try:
        found.refuse_clash(form, things)
        data = make(read_json(found.file.encode()), request.POST)
        read_brake(data)
    except Refusal as refusal:
        return _page(request, found, refusal)
    found.rewrite(request.user, things, f"changed {things[0]}", data)
    messages.success(request, f"{found.name} is changed. Orders are looked for anew.")
    return redirect(f"/brakes/{pk}/?place={request.POST.get('place', '')[:60]}")


def _nothing(data, form) -> dict:
    raise Refusal("what", "must be section, pieces, costs or accuracy")


def _section(data, form) -> dict:
    place = form.get("place", "")[:60]
    section_at(data, place)
    return with_section(data, place, read_points(form.get("points", "")[:20_000], data["units"], place))


def with_outline(data: dict, place: str, outline: list) -> dict:
    """The file with an outline as it is drawn there, mm, y to the right and z up, its own (0, 0) kept."""
    per = MM_PER[data["units"]]
    return with_section(data, place, [[round(y / per, 5), round(z / per, 5)] for y, z in outline])


def _pieces(data, form) -> dict:
    """The fingers of a finger brake, or the lengths of a tool, as they are owned."""
    return with_pieces(data, form.get("place", "")[:60], form.get("pieces", "")[:5000])


def _costs(data, form) -> dict:
    found = dict(data.get("costs", {}))
    for key in COSTS:
        if key in form:
            found[key] = _number(form[key], key, 100_000)
    return data | {"costs": found}


def _accuracy(data, form) -> dict:
    found = dict(data.get("accuracy", {}))
    for key in ACCURACY:
        if key not in form:
            continue
        if not form[key].strip():
            found.pop(key, None)
        elif key == "angle":
            found[key] = _number(form[key], key, 10)
        else:
            found[key] = read_length(form[key][:40], data["units"], key) / MM_PER[data["units"]]
    return {key: value for key, value in data.items() if key != "accuracy"} | ({"accuracy": found} if found else {})


def _number(text, field, most) -> float:
    """A plain number from 0 to ``most``."""
    try:
        value = float(fields.words(text, 20).replace(",", "."))
    except ValueError:
        value = -1.0
    if not 0 <= value <= most:
        raise Refusal(field, f"must be a number from 0 to {most}")
    return value

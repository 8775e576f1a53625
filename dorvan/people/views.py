"""Signing in and out, and how a person reads lengths."""

from django.contrib import messages
from django.http import HttpResponseRedirect
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_GET, require_POST

from bendcore.units import Reading

from .models import User

READINGS = {"mm": ("mm", "Millimetres"), "0": ("in", "Inches, in decimals"), "16": ("in", "Inches, to 1/16"),
            "32": ("in", "Inches, to 1/32"), "64": ("in", "Inches, to 1/64")}
"""What a person may choose, by the form's value: the units, and what it is called."""
EXAMPLES = (200.0, 41.3, 3.2, 0.08)
"""Lengths shown as each choice would write them, mm."""


@require_POST
def switch_units(request):
    """Turn the figures shown between mm and inches, and go back."""
    request.user.units = "in" if request.user.units == "mm" else "mm"
    request.user.save(update_fields=["unit"])
    back = request.POST.get("back", "/")
    safe = url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()})
    return HttpResponseRedirect(back if safe else "/")


@require_GET
def reading(request):
    """The ways to read a length, with the same lengths in each."""
    now = "mm" if request.user.unit == "mm" else str(request.user.tape)
    rows = [{"value": value, "title": title, "on": value == now, "examples": EXAMPLES,
             "units": Reading(units, 0 if value == "mm" else int(value))} for value, (units, title) in READINGS.items()]
    return render(request, "people/reading.html", {"rows": rows})


@require_POST
def read_so(request):
    """Take one of the ways to read a length."""
    value = request.POST.get("reading")
    if value not in READINGS:
        messages.error(request, "Choose one of the ways to read a length.")
        return redirect("people:reading")
    person: User = request.user
    person.unit = READINGS[value][0]
    if value != "mm":
        person.tape = int(value)
    person.save(update_fields=["unit", "tape"])
    messages.success(request, f"Lengths are shown in {READINGS[value][1].lower()}.")
    return redirect("people:reading")

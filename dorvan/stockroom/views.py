"""The stockroom: lots of sheet and leftovers, materials as this shop knows them, gauges."""

from django.contrib import messages
from django.core.paginator import Paginator
from django.db import transaction
from django.db.models import Q
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.stock import VALUES, gauges, materials
from dorvan.fields import words
from dorvan.keeping.taken import take

from .forms import read_count, read_lot, read_material_value, read_new_material, read_readings, read_sheets
from .models import TITLES, UNITS, WORDS, Lot, MaterialValue, put_in


def page(request, tab: str, error: Refusal | None = None, **context):
    """A page of the stockroom; with an error, what was typed comes back."""
    return render(request, f"stockroom/{tab}.html", {
        "at": "stockroom", "tab": tab, "units": request.user.units, "typed": request.POST if error else {},
        "error": {"field": error.path, "message": error.message, "value": ""} if error else None} | context,
        status=422 if error else 200)


ON_A_PAGE = 25
"""Lots."""


def lots_page(request, error=None, of=None):
    words_asked, spent = request.GET.get("q", "").strip()[:40], request.GET.get("spent") == "on"
    rows = Lot.objects.select_related("cut_from", "by")
    rows = rows if spent else rows.filter(count__gt=0)
    if words_asked:
        rows = rows.filter(Q(code__icontains=words_asked) | Q(material__icontains=words_asked.replace(" ", "-"))
                           | Q(supplier__icontains=words_asked))
    shown = Paginator(rows, ON_A_PAGE).get_page(request.GET.get("page", "1")[:9])
    return page(request, "lots", error, lots=shown, q=words_asked, spent=spent,
                materials=list(MaterialValue.known()), grains=Lot.Grain.choices,
                surfaces=Lot.Surface.choices, of=of)


@require_safe
def lots(request):
    """Every lot, newest first; with ``?of=CODE`` the form for what is left of one."""
    of = Lot.objects.filter(code=request.GET.get("of", "")).first()
    return lots_page(request, of=of)


@require_POST
def add_lot(request):
    try:
        new = read_lot(request.POST, request.user.units)
        with transaction.atomic():
            lot = put_in(Lot(by=request.user, **new), "came in")
    except Refusal as refusal:
        return lots_page(request, refusal)
    messages.success(request, f"{lot.code} is in the stockroom.")
    return redirect("stockroom:lots")


@require_POST
def add_leftover(request, code: str):
    """What is left of a lot's sheet goes back as stock of its own."""
    lot = get_object_or_404(Lot, code=code)
    try:
        sheets = read_sheets(request.POST, request.user.units)
        for key in ("length", "width"):
            if sheets[key] > max(lot.length, lot.width) + 1e-6:
                raise Refusal(key, f"is more than the sheet of {lot.code} ever was")
    except Refusal as refusal:
        return lots_page(request, refusal, of=lot)
    new = Lot(material=lot.material, thickness=lot.thickness, readings=lot.readings, supplier=lot.supplier,
              cut_from=lot, by=request.user, note=words(request.POST.get("note"), 200),
              **sheets | {"surface": lot.surface})
    with transaction.atomic():
        take(request)
        new.code = lot.code_under()
        put_in(new, "left over")
    messages.success(request, f"{new.code}, a leftover, is in the stockroom.")
    return redirect("stockroom:lots")


@require_POST
def measure_lot(request, code: str):
    """New caliper readings, or a new count."""
    lot = get_object_or_404(Lot, code=code)
    try:
        if "count" in request.POST:
            count = read_count(request.POST["count"])
            with transaction.atomic():
                take(request)
                lot.refresh_from_db()
                if count != lot.count:
                    lot.moved(count - lot.count, "counted", request.user)
        else:
            lot.readings = read_readings(request.POST.get("readings", ""), request.user.units, lot.thickness)
            with transaction.atomic():
                take(request)
                lot.save(update_fields=["readings"])
    except Refusal as refusal:
        return lots_page(request, refusal, of=lot)
    return redirect("stockroom:lots")


@require_safe
def material_list(request):
    own = {(r.material, r.key): r.status for r in MaterialValue.objects.all()}
    rows = [{"name": name, "alloy": alloy, "cells": [
        {"value": getattr(alloy, key), "unit": UNITS[key], "status": own.get((name, key), "start")} for key in VALUES]}
        for name, alloy in MaterialValue.known().items()]
    return page(request, "materials", rows=rows, titles=[TITLES[k] for k in VALUES])


def material_page(request, name, error=None):
    if name not in MaterialValue.known():
        raise Http404
    return page(request, "material", error, name=name, table=MaterialValue.table(name), words=WORDS,
                statuses=MaterialValue.Status.choices, choices={"handbook_group": ["soft", "medium", "hard"],
                                                                "gauge_table": list(gauges())})


@require_safe
def material(request, name: str):
    return material_page(request, name)


@require_POST
def set_value(request, name: str):
    """A lead puts the shop's own figure in place of a start value, with its source."""
    if name not in MaterialValue.known():
        raise Http404
    form = request.POST
    key, source = form.get("key", ""), words(form.get("source"), 200)
    try:
        value = read_material_value(key, form.get("value", "").strip())
        if len(source) < 3:
            raise Refusal(key, "needs its source: a certificate, a test, a supplier's sheet")
    except Refusal as refusal:
        return material_page(request, name, refusal)
    status = form.get("status") if form.get("status") in MaterialValue.Status.values else "measured"
    MaterialValue.objects.create(material=name, key=key, value=value, status=status, source=source, by=request.user)
    return redirect("stockroom:material", name=name)


def new_material_page(request, error=None):
    like = materials().get(request.GET.get("like", "mild-steel"), materials()["mild-steel"])
    fields = [{"key": k, "title": TITLES[k], "unit": UNITS[k],
               "value": request.POST.get(k, getattr(like, k)), "words": k in WORDS} for k in VALUES]
    return page(request, "new_material", error, fields=fields, like=like.name, books=list(materials()))


@require_safe
def begin_material(request):
    return new_material_page(request)


@require_POST
def add_material(request):
    """A metal the table does not have: every value, and where they come from."""
    try:
        name, values = read_new_material(request.POST)
        source = words(request.POST.get("source"), 200)
        if len(source) < 3:
            raise Refusal("source", "must say where the values come from")
    except Refusal as refusal:
        return new_material_page(request, refusal)
    MaterialValue.objects.bulk_create(
        MaterialValue(material=name, key=key, value=value, status="start", source=source, by=request.user)
        for key, value in values.items())
    return redirect("stockroom:material", name=name)


@require_safe
def gauge_tables(request):
    """What a gauge number means in each metal."""
    tables = gauges()
    numbers = sorted({n for rows in tables.values() for n in rows})
    return page(request, "gauges", tables=list(tables), rows=[
        {"number": n, "cells": [tables[name].get(n) for name in tables]} for n in numbers])

"""What a supplier can do, said on the page: limit by limit, its stocks row by row or pasted from its sheet."""

import json

from django.db import transaction
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.files import read_json
from bendcore.stock import called, materials
from bendcore.suppliers import described
from bendcore.units import as_typed, read_length, show_angle
from dorvan import fields
from dorvan.suppliers.models import Supplier
from dorvan.versions.doing import retried, status_of

from .views import suppliers_page

LENGTHS = ("thickness", "inside_radius", "shortest_flange", "hole_to_bend", "smallest_opening")
"""Fields of a stock that are lengths."""


@require_POST
def begin(request):
    """A supplier with one sheet size and one stock, to be filled in."""
    name = fields.words(request.POST.get("name"), 80)
    if not name or Supplier.objects.filter(name__iexact=name).exists():
        return suppliers_page(request, Refusal("name", "must be given, and be another than those of your suppliers"))
    made = Supplier.objects.create(name=name, by=request.user,
                                   file=json.dumps(described.begun(name, str(request.user.units)), indent=1))
    return redirect("outside:limits", pk=made.pk)


@require_safe
def limits(request, pk: int):
    """Every limit with its words, and the stocks."""
    return _page(request, get_object_or_404(Supplier, pk=pk))


def _page(request, found: Supplier, error: Refusal | None = None):
    data, units, form = read_json(found.file.encode()), request.user.units, request.POST if error else {}
    partial = request.headers.get("HX-Request") == "true"
    field, typed = form.get("field", ""), form.get("value", "")[:400]

    def shown(path, value):
        return typed if error and path == field else value

    rows = [{"limit": limit, "value": shown(limit.path, _limit_shown(data, limit, units)), "unit": _unit(limit, units),
             "is_said": described.said_at(data, limit.path) is not None,
             "wrong": bool(error) and error.path == limit.path} for limit in described.LIMITS]
    stocks = [{"number": n, "material": row["material"], "hems": row.get("hems", False), "cells": [
        {"field": f"stocks[{n}].{name}", "title": title, "wrong": bool(error) and error.path == f"stocks[{n}].{name}",
         "value": shown(f"stocks[{n}].{name}", _stock_shown(row, name, units, data["units"]))}
        for name, title in described.STOCK if name not in ("material", "hems")]}
        for n, row in enumerate(data["stocks"])]
    return render(request, "outside/_limits.html" if partial else "outside/limits.html", {
        "at": "outside", "supplier": found, "rows": rows, "stocks": stocks, "titles": described.STOCK, "error": error,
        "metals": [(name, called(name)) for name in materials()], "units": units, "pasted": form.get("table", ""),
        "change_url": reverse("outside:limit", args=[found.pk])}, status=status_of(error))


def _limit_shown(data, limit, units) -> str:
    value = described.said_at(data, limit.path)
    if value is None:
        return ""
    if limit.unit == described.LENGTH:
        return as_typed(read_length(value, data["units"]), units)
    if limit.unit == described.BEND:
        return show_angle(value, units)
    return {True: "yes", False: "no"}.get(value, f"{value:g}" if limit.unit == described.NUMBER else value)


def _stock_shown(row, name, units, own) -> str:
    if name not in row:
        return ""
    return as_typed(read_length(row[name], own), units) if name in LENGTHS else f"{row[name]:g}"


def _unit(limit, units) -> str:
    return {described.LENGTH: str(units), described.NUMBER: "°"}.get(limit.unit, "")


@require_POST
@retried
def change(request, pk: int):
    """One limit, one field of a stock, a stock more or less, or a table of them; refused at its place."""
    found, form = get_object_or_404(Supplier, pk=pk), request.POST
    field = form.get("field", "")[:60]
    things = [field if form.get("action", "set") == "set" and "table" not in form else found.ALL]
    try:
        found.refuse_clash(form, things)
        data = _changed(read_json(found.file.encode()), form, field, request.user.units)
    except Refusal as refusal:
        return _page(request, found, refusal)
    with transaction.atomic():
        found.move_on(request.user, things, f"changed {field or 'its stocks'} of {found.name}"[:200],
                      file=json.dumps(data, ensure_ascii=False, indent=1))
    return _page(request, found)


def _changed(data, form, field, units) -> dict:
    value, action = form.get("value", "")[:400], form.get("action", "set")
    if "table" in form:
        return described.pasted(data, form["table"], units)
    if action == "add":
        return described.with_stock_more(data)
    number = fields.number(field.removeprefix("stocks[").partition("]")[0], -1) if field.startswith("stocks[") else None
    if number is None:
        return described.with_limit(data, field, value, units)
    if action == "remove":
        return described.without_stock(data, number)
    return described.with_stock(data, number, field.partition("].")[2], value, units)

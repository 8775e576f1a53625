"""Materials and gauges as the shop starts with them."""

from django.shortcuts import render
from django.views.decorators.http import require_GET

from bendcore.stock import gauges, materials


@require_GET
def room(request):
    """The tables of start values: alloys, and what a gauge number means for each."""
    tables = gauges()
    numbers = sorted({n for rows in tables.values() for n in rows})
    rows = [{"number": n, "cells": [tables[name].get(n) for name in tables]} for n in numbers]
    return render(request, "stockroom/room.html", {
        "at": "stockroom", "materials": materials().values(), "tables": list(tables), "rows": rows,
        "units": request.user.units})

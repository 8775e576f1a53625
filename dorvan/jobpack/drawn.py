"""The steps of an order drawn for paper: long work, text in, nothing of the web application."""

import json

from bendcore.order.plan import Plan
from dorvan.drawings.machine import set_picture
from dorvan.drawings.scene import scene_png
from dorvan.tickets.results import in_brake
from dorvan.tickets.results.files import part_of

Drawn = tuple[list[bytes], dict]
"""A step before and after as PNG, and its section as :func:`~dorvan.drawings.machine.set_picture` has it."""


def draw_steps(part: str, brake_files: tuple[str, ...], order: str) -> list[Drawn]:
    """Every step of an order as it was written."""
    file, placed, shown = json.loads(part), Plan.read(json.loads(order)).steps, part_of(part)
    return [([scene_png(in_brake.scene(file, brake_files, placed, n, frame), shown.stock.good)
              for frame in in_brake.VIEWS.values()],
             set_picture(in_brake.frames(file, brake_files, placed, n), shown, step.held, step.gauge.stop))
            for n, step in enumerate(placed)]

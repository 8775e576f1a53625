"""The shop's desks. Each kind of work has its own line, so that nobody waits behind work of another kind."""

from collections.abc import Callable

from django.conf import settings

from .desk import Desk, Working
from .watch import sweep
from .workers import Bounds, TooLong, settle_in_to_read, settle_in_to_search

_SOME, _ONE = settings.DORVAN_WORKERS, min(settings.DORVAN_WORKERS, 1)

orders = Desk("orders", _SOME, settings.DORVAN_PATIENCE, Bounds(300, 1500), settle=settle_in_to_search)
"""Bend orders, ways out, what else could be done: some take minutes."""
plans = Desk("plans", _ONE, settings.DORVAN_PATIENCE, Bounds(120, 1500), settle=settle_in_to_search)
"""Days and cutting plans, the steps of an order drawn for paper: some seconds each."""
drawings = Desk("drawings", _ONE, settings.DORVAN_PATIENCE, Bounds(3, 400), each=6, most=24, settle=settle_in_to_read)
"""Drawings that look as if they were read at once."""
large_drawings = Desk("large drawings", _ONE, settings.DORVAN_PATIENCE, Bounds(12, 500), each=3, most=6,
                      settle=settle_in_to_read)
"""Drawings that are large, or were not read at once after all."""
solids = Desk("solids", _ONE, settings.DORVAN_PATIENCE, Bounds(90, 3000), each=3, most=6)
"""Solids read and written by a kernel, which takes seconds to load alone."""
photographs = Desk("photographs", _ONE, settings.DORVAN_PATIENCE, Bounds(5, 300), each=3, most=12)
"""Photographs made small, one at a time: each takes memory by its pixels."""
ALL = (orders, plans, drawings, large_drawings, solids, photographs)
LARGE = 600_000
"""A drawing of so many bytes is not read at once."""


def read_drawing(call: Callable, data: bytes, *args):
    """``call(data, *args)`` at the desk it belongs to; raises Working, TooMuch, TooLong, and what the call raised."""
    if len(data) > LARGE:
        return large_drawings.ask(call, data, *args)
    try:
        return drawings.ask(call, data, *args)
    except TooLong:
        return large_drawings.ask(call, data, *args)


def once(desk: Desk, call: Callable, *args):
    """What ``desk`` makes of it, not kept; raises Working as it does."""
    try:
        result = desk.ask(call, *args)
    except Working:
        raise
    except Exception:
        desk.forget(call, *args)
        raise
    desk.forget(call, *args)
    return result


def begin() -> None:
    """With the server: drawings and photographs are awaited, so their processes begin at once; and what was asked for
    before goes on. What is left of searches nobody waits for is swept away."""
    sweep()
    drawings.warm()
    for desk in ALL:
        desk.resume()


def close() -> None:
    """With the server: every process ends."""
    for desk in ALL:
        desk.close()

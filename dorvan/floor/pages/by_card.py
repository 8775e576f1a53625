"""What is made by its card, at the rolls or over a block: pieces ticked off as they are made."""

import uuid

from django.shortcuts import render

from bendcore.families.shape import BARS, BLOCK, ROLLS
from dorvan.tickets.pages import bench
from dorvan.tickets.pages.order import making_card

from ..run import Progress

MADE = {ROLLS: ("roll", "rolled"), BLOCK: ("hammer", "hammered"), BARS: ("bend", "bent")}


def card_page(request, ticket, blocked: str, error=None):
    """The making card of a piece, released or not, and how far the batch is."""
    revision = ticket.revision
    figures = revision.figures if revision else ticket.figures
    context = {"ticket": ticket, "at": "rack", "stage": "bend", "ruler": bench.ruler(ticket, "bend"), "error": error,
               "units": request.user.units, "revision": revision, "blocked": blocked, "figures": figures,
               "part": figures.part, "body": "floor/_by_card.html"} | making_card(figures.part, ticket.making)
    context["bars"] = ticket.making == BARS
    context["made"] = MADE[ticket.making]
    if revision:
        run = Progress(revision)
        context |= {"run": run, "key": uuid.uuid4(), "log_key": uuid.uuid4(), "piece": min(run.at, run.needed),
                    "finished": run.good >= ticket.quantity, "last": max((p for p, _ in run.done), default=0)}
    partial = request.headers.get("HX-Request") == "true"
    return render(request, "floor/_by_card.html" if partial else "tickets/ticket.html", context | {"partial": partial},
                  status=422 if error else 200)

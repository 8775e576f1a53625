"""Proof: the schools side by side, and what the ledger knows."""

from bendcore.quality.comparison import compare
from bendcore.units import writer
from dorvan.drawings.charts import school_bars
from dorvan.ledger import fits
from dorvan.ledger.models import Chart, Pair
from dorvan.ledger.schools import ledger_school, own_schools, standing_here

from ..file import changes
from ..models import Ticket


def proof(ticket: Ticket, units: str) -> dict:
    """The schools side by side, and what the ledger knows of this stock under this tool."""
    part, tool = ticket.figures.part, ticket.tool
    ledger = ledger_school(part, tool)
    compared = compare(part, own_schools(part, tool), ledger)
    pair = Pair.near(part.stock.material.name, part.stock.thickness, tool)
    charts = [(f"chart:{c.pk}", f"Chart: {c.name}") for c in Chart.objects.all()]
    method = "shop" if ticket.follows_shop else part.school.method
    if method == "deduction_chart":
        method = next((value for value, title in charts if part.school.source.endswith(title[7:])), method)
    return {"compared": compared, "sentence": compared.sentence(writer(units)), "tool": tool, "pair": pair,
            "learnt": found.learnt if (found := pair and fits.known(pair)) else None,
            "adopted": pair.adopted if pair else None, "standing": standing_here(pair, ticket.follows_shop),
            "methods": [("shop", "Ledger, or the shop's default"), *changes.METHODS, *charts], "method": method,
            "k": ticket.part["allowance"].get("k"), "group": ticket.part["allowance"].get("group"),
            "proofs": ticket.proofs.all(), "bars": school_bars(compared)}

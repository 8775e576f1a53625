"""A ledger of its own for each supplier: what its pieces say of its bending, by stock."""

from bendcore.suppliers.back import Learnt, learnt
from dorvan.suppliers.models import Supplier
from dorvan.tickets.results import derived

from .models import Returned


def by_stock(supplier: Supplier) -> list[dict]:
    """Of each stock that came back: ``material``, ``thickness`` as in the profile, its ``k`` there, and what was
    ``learnt``."""
    found: dict[tuple, list[Returned]] = {}
    for row in Returned.objects.filter(sent__supplier=supplier).select_related("sent"):
        stock = row.sent.part["stock"]
        found.setdefault((stock["material"], str(stock["thickness"])), []).append(row)
    profile = supplier.profile
    return [_row(profile, material, rows) for (material, _), rows in sorted(found.items())]


def _row(profile, material: str, rows: list[Returned]) -> dict:
    part = derived.figures(rows[0].sent.part).part
    carried = profile.carried(material, part.stock.thickness)
    errors = [one["measured"] - one["nominal"] for row in rows for one in row.rows if one["unit"] == "mm"]
    said: Learnt = learnt([row.k for row in rows], errors)
    return {"material": material, "thickness": part.stock.thickness, "k": carried and carried.k, "learnt": said,
            "out": sum(bool(row.out) for row in rows)}

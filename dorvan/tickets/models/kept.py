"""Orders that were proven once, kept by what they were looked for."""

import json

from django.db import models

from bendcore.order.plan import Plan
from bendcore.said import packed, unpacked

from ..results.derived import Asked

MOST = 4000
"""So many are kept at most, the latest."""
ENGINE = 1
"""Counted up when the engine would find another order for the same part on the same brake."""


class KeptOrder(models.Model):
    """A proven order, in millimetres. ``name`` stands for part, brake, tools and all else it was looked for."""

    name = models.CharField(max_length=64, unique=True)
    engine = models.PositiveIntegerField(default=ENGINE)
    order = models.JSONField()
    at = models.DateTimeField(auto_now_add=True)

    @classmethod
    def plan(cls, name: str) -> Plan | None:
        """The order kept under a name, if there is one of this engine."""
        row = cls.objects.filter(name=name, engine=ENGINE).first()
        if not row:
            return None
        steps = [step | {"notes": list(map(unpacked, step["notes"]))} for step in row.order["steps"]]
        return Plan.read(row.order | {"steps": steps})

    @classmethod
    def known(cls, asked: Asked) -> Plan | None:
        """The order for what is asked, if it was worked out already."""
        return asked.search.known() or cls.plan(asked.name)

    @classmethod
    def ordered(cls, asked: Asked) -> Plan:
        """The order for what is asked; one that was proven once is kept for good. Raises Working while it is being
        worked out."""
        known = cls.known(asked)
        if known:
            return known
        found = asked.order()
        if found.optimal and found.feasible:
            cls.keep(asked.name, found)
        return found

    @classmethod
    def keep(cls, name: str, plan: Plan) -> None:
        """Keep an order, in place of what an older engine found."""
        written = plan.written("mm")
        for row, step in zip(written["steps"], plan.steps, strict=True):
            row["notes"] = list(map(packed, step.notes))
        order = json.loads(json.dumps(written, default=float))
        cls.objects.update_or_create(name=name, defaults={"engine": ENGINE, "order": order})
        old = cls.objects.order_by("-id").values_list("id", flat=True)[MOST:MOST + 1].first()
        if old:
            cls.objects.filter(id__lte=old).delete()

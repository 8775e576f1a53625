"""What a degree is worth in depth, learnt from the depths set and the angles found at the brake."""

from bendcore.bend import travel_per_degree
from bendcore.quality.depth import Stroke, learn
from dorvan.ledger.models import SAME_STOCK, Pair

from .models import StepRecord


def degree_worth(pair: Pair) -> dict | None:
    """What a degree is worth in depth here: learnt from depths set at the brake, beside the computed."""
    records = StepRecord.objects.filter(depth__isnull=False, angle__isnull=False).select_related(
        "run__revision__ticket")
    strokes, computed = [], None
    for record in records:
        revision = record.run.revision
        part = revision.figures.part
        step = revision.order["steps"][record.step - 1]
        if (part.stock.material.name, step["tools"]["die"]) != (pair.material, pair.tool.split(" under ")[0]) or \
                abs(part.stock.thickness - pair.thickness) > SAME_STOCK * pair.thickness:
            continue
        strokes.append(Stroke(f"{revision.pk}/{step['bends']}", record.depth, record.angle))
        bend = next((b.figures for b in part.shape.bends if b.id == step["bends"][0]), None)
        if part.die and bend:
            computed = travel_per_degree(step["angle"], bend.inside_radius, bend.thickness, part.die.v,
                                         part.die.shoulder_radius)
    found = learn(strokes)
    return {"learnt": found, "computed": computed, "strokes": len(strokes)} if strokes else None

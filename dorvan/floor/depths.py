"""What a degree is worth in depth: computed for a step, and learnt from the depths set and the angles found."""

from bendcore.order.plan import Step
from bendcore.quality.depth import Stroke, computed, learn
from dorvan.brakes.models import parsed
from dorvan.ledger.models import SAME_STOCK, Pair

from .models import StepRecord


def computed_at(revision, step: Step) -> float | None:
    """What a degree is worth at this step of a released order, by its die; None where no die is under it."""
    bend = next((b.figures for b in revision.figures.part.shape.bends if b.id == step.bends[0]), None)
    dies = getattr(parsed(revision.brake_file), "dies", ())  # a hand brake has none
    die = next((d for d in dies if d.name == step.tools.die and d.kind == "v"), None)
    return computed(bend, step.bend_to, die.v, die.shoulder_radius) if bend and die else None


def degree_worth(pair: Pair) -> dict | None:
    """What a degree is worth in depth here: learnt from depths set at the brake, beside the computed."""
    records = StepRecord.objects.filter(depth__isnull=False, angle__isnull=False).select_related(
        "run__revision__ticket")
    strokes, last = [], None
    for record in records:
        revision = record.run.revision
        part = revision.figures.part
        step = revision.plan.steps[record.step - 1]
        if (part.stock.material.name, step.tools.die) != (pair.material, pair.tool.split(" under ")[0]) or \
                abs(part.stock.thickness - pair.thickness) > SAME_STOCK * pair.thickness:
            continue
        strokes.append(Stroke(f"{revision.pk}/{step.bends}", record.depth, record.angle))
        last = computed_at(revision, step) or last
    found = learn(strokes)
    return {"learnt": found, "computed": last, "strokes": len(strokes)} if strokes else None

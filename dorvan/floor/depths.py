"""What a degree is worth in depth: computed for a step, and learnt from the depths set and the angles found."""

from bendcore.bending.radius import die_in
from bendcore.brakes.press import die_named
from bendcore.order.plan import Step
from bendcore.quality.depth import Stroke, computed, learn
from bendcore.stock import alike
from dorvan.brakes.models import parsed
from dorvan.ledger.models import Pair
from dorvan.tickets.models import Revision

from .models import StepRecord

NEWEST = 100
"""So many strokes back are learnt from."""


def computed_at(revision, step: Step) -> float | None:
    """What a degree is worth at this step of a released order, by its die; None where no die is under it."""
    bend = next((b.figures for b in revision.figures.part.shape.bends if b.id == step.bends[0]), None)
    die = die_named(parsed(revision.brake_file), step.tools.die)
    return computed(bend, step.bend_to, die.v, die.shoulder_radius) if bend and die and die.kind == "v" else None


def degree_worth(pair: Pair) -> dict | None:
    """What a degree is worth in depth here: learnt from depths set at the brake, beside the computed."""
    records = StepRecord.objects.filter(depth__isnull=False, angle__isnull=False).order_by("-id").values_list(
        "run__revision", "step", "depth", "angle")[:NEWEST]
    revisions = Revision.objects.in_bulk({row[0] for row in records})
    strokes, last = [], None
    for pk, number, depth, angle in reversed(records):
        revision = revisions[pk]
        part, step = revision.figures.part, revision.plan.steps[number - 1]
        if (part.stock.material.name, step.tools.die) != (pair.material, die_in(pair.tool)) or \
                not alike(part.stock.thickness, pair.thickness):
            continue
        strokes.append(Stroke(f"{pk}/{step.bends}", depth, angle))
        last = computed_at(revision, step) or last
    found = learn(strokes)
    return {"learnt": found, "computed": last, "strokes": len(strokes)} if strokes else None

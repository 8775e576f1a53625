"""Beginning a proof bend: on which pair, with which strip."""

from dataclasses import dataclass

from django.db import transaction
from django.db.models import Max

from bendcore.bending import bend as bends
from bendcore.bending.bend import TANGENT, BendFigures, allowance_from_k
from bendcore.bending.radius import predict_air, predict_nose
from bendcore.brakes.press import Die
from bendcore.quality.proof import plan_strip
from bendcore.schools.school import CLOSED_HEM_K, generic
from bendcore.stock import Material
from dorvan.ledger.models import Pair, Proof
from dorvan.tickets.file.joined import chosen

HEM = 180.0


@dataclass(frozen=True)
class Wanted:
    """The bend to be proved: its stock (nominal thickness, mm), tool, angle and the radius expected."""

    material: str
    thickness: float
    tool: str
    angle: float
    radius: float
    die: Die | None = None

    @property
    def is_hem(self) -> bool:
        return self.angle == HEM

    @property
    def expected(self) -> BendFigures:
        """Figures by start values: only to choose the strip."""
        if self.is_hem:
            width = allowance_from_k(HEM, 0.0, self.thickness, CLOSED_HEM_K)
            return BendFigures(HEM, 0.0, self.thickness, width, TANGENT)
        return generic().figures(self.angle, self.radius, self.thickness)

    @property
    def least_leg(self) -> float:
        """The shortest outside leg the die takes, with its margin; 0 on a nose and for a hem."""
        if self.is_hem or not self.die:
            return 0.0
        return bends.minimum_leg(self.expected, self.die.v, self.die.shoulder_radius) + bends.LEG_MARGIN


def bend_of(ticket) -> Wanted:
    """A ticket's commonest bend, on its stock and tool."""
    part = ticket.figures.part
    material, nominal = part.stock.material.name, ticket.lot.thickness if ticket.lot else part.stock.thickness
    angles = [b.figures.angle for b in part.shape.bends] or [90.0]
    near = Pair.near(material, nominal, ticket.tool)
    radii = [b.figures.inside_radius for b in part.shape.bends] or [part.stock.thickness]
    radius = part.predicted.radius if part.predicted else radii[0]
    return Wanted(material, near.thickness if near else nominal, ticket.tool, max(set(angles), key=angles.count),
                  radius, chosen(ticket)[0])


def bend_on(alloy: Material, thickness: float, name: str, tool, angle: float) -> Wanted:
    """A bend on its own, on a die or a piece of tooling."""
    if isinstance(tool, Die):
        radius = predict_air(tool.v, thickness, alloy.natural_radius_factor).radius
        return Wanted(alloy.name, thickness, name, angle, radius, tool)
    return Wanted(alloy.name, thickness, name, angle, predict_nose(tool.size, way=tool.kind).radius)


def begin_proof(wanted: Wanted, by, ticket=None, lot=None, strips: int = 3) -> Proof:
    """A new proof bend with its strips planned; drills as people of these units own them."""
    expected = wanted.expected
    plan = plan_strip(expected, wanted.least_leg, hem=max(10.0, 6 * wanted.thickness) if wanted.is_hem else 0.0)
    with transaction.atomic():
        pair, _ = Pair.objects.get_or_create(material=wanted.material, thickness=round(wanted.thickness, 4),
                                             tool=wanted.tool, hem=wanted.is_hem)
        return Proof.objects.create(
            number=(Proof.objects.aggregate(last=Max("number"))["last"] or 0) + 1, pair=pair, ticket=ticket, by=by,
            lot=lot or (ticket.lot if ticket else None), strips=strips,
            plan=vars(plan) | {"angle": wanted.angle, "radius": expected.inside_radius,
                      "allowance": expected.allowance},
            sets=["metric"] if by.units == "mm" else ["fractional", "number", "letter"])

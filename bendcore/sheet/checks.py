"""Limits, looked at before anything is cut. The one place for these rules.

Each check says what, where, how far off, and ways out. ``stop`` blocks release,
``caution`` and ``note`` do not. Rules are *start* values of general shop practice;
see handbook practice on minimum radius, shortest leg, die choice and force.
"""

import math
from dataclasses import dataclass

import shapely
from shapely import LineString, Polygon, STRtree

from .. import bend as bends
from ..brakes.choice import NARROW, WIDE, usual_opening
from ..bumping import bumps, is_bumped
from ..families.collar import SPLITS
from ..radius import differs
from ..schools import generic
from ..springback import opening
from ..stock import materials
from ..tolerance import length_tolerance
from ..units import writer
from .clash import DEEP
from .edges import bearing
from .rings import polygons

STOP, CAUTION, NOTE = "stop", "caution", "note"
SHARPEST = 155.0
"""Acute tools bend about this far, degrees (*start*)."""
MUCH = 8.0
"""A springback of more degrees than this is worth a caution."""


@dataclass(frozen=True)
class Notice:
    code: str
    severity: str
    where: str
    message: str
    ways_out: tuple[str, ...] = ()
    between: tuple[str, ...] = ()
    """Of a conflict, what runs into what: faces, and zones as ``bend`` and their id."""

    def as_dict(self) -> dict:
        return {"code": self.code, "severity": self.severity, "where": self.where,
                "message": self.message, "ways_out": list(self.ways_out)}


def check_part(part, units: str = "") -> list[Notice]:
    """Every notice for a part as it stands, worst first; lengths in ``units`` or the part's own."""
    show = writer(units or part.units)
    found = [*_radius(part, show), *_sharp(part), *_tool_radius(part, show), *_bumped(part, show), *_legs(part, show),
             *_die(part, show), *_capacity(part, show), *_school(part, show), *_springback(part), *_hems(part, show),
             *_holes(part, show), *_collars(part, show), *_gauging(part, show), *_clashes(part, show)]
    return worst_first(found)


def worst_first(notices: list[Notice]) -> list[Notice]:
    rank = {STOP: 0, CAUTION: 1, NOTE: 2}
    return sorted(notices, key=lambda n: rank[n.severity])


def merged(notices: list[Notice]) -> list[Notice]:
    """Notices that say the same of several places, as one; for showing."""
    places: dict[tuple, list[str]] = {}
    for n in notices:
        places.setdefault((n.code, n.severity, n.message, n.ways_out, n.between), []).append(n.where)
    return [Notice(code, severity, ", ".join(where), *rest)
            for (code, severity, *rest), where in places.items()]


def _radius(part, show):
    alloy, t, grain = part.stock.material, part.stock.thickness, part.stock.grain
    across, along = alloy.min_radius_over_t_across * t, alloy.min_radius_over_t_along * t
    least = {"along": along, "diagonal": (across + along) / 2}.get(grain, across)
    way = {"along": "along the grain", "diagonal": "at 45° to the grain"}.get(grain, "across the grain")
    for bend in part.shape.bends:
        r = bend.figures.inside_radius
        if r < least - 1e-9:
            turn = () if grain in ("", "across") or r < across else ("turn the part on the sheet so that its lines "
                                                                     "run across the grain",)
            yield Notice("radius", STOP, bend.id,
                         f"inside radius {show(r)} is {show(least - r)} below the least for {alloy.name} "
                         f"{way} ({show(least)})",
                         (*turn, f"open the radius to {show(least)}", "choose a softer temper or thinner stock"))
        elif not grain and r < along - 1e-9:
            yield Notice("radius-along", NOTE, bend.id,
                         f"inside radius {show(r)} is enough across the grain but not along it ({show(along)})",
                         ("lay the bend lines across the grain, or at 45° when bends run both ways",
                          "say at Stock how the lines run to the grain"))
        elif r < 1.25 * least:
            yield Notice("edges", NOTE, bend.id, f"inside radius {show(r)} is near the least ({show(least)}); "
                                                 "sheared edges crack first",
                         ("dress the edges where the bend crosses them", "put the burr on the inside of the bend"))


def _sharp(part):
    for bend in part.shape.bends:
        if bend.figures.angle > SHARPEST:
            yield Notice("sharp", CAUTION, bend.id,
                         f"{bend.figures.angle:.4g}° leaves {180 - bend.figures.angle:.3g}° between its legs: sharper "
                         "than acute tools bend",
                         ("close it between flat bars after an acute bend", "make it a hem", "open the angle"))


def _tool_radius(part, show):
    predicted, t = part.predicted, part.stock.thickness
    if not predicted:
        return
    for bend in part.shape.bends:
        r = bend.figures.inside_radius
        if differs(r, predicted.radius, t) and not is_bumped(bend.figures, predicted.radius):
            yield Notice("radius-tool", CAUTION, bend.id,
                         f"the drawing asks for inside radius {show(r)}, the tool makes {show(predicted.radius)} "
                         f"({predicted.reason}): {show(abs(predicted.radius - r))} "
                         f"{'more' if predicted.radius > r else 'less'}, and the blank is laid out for the drawing's",
                         ("lay the part out for the radius the tool makes, at Stock",
                          "choose a tool that makes the radius", "make a proof bend and measure it"))
    for words in predicted.minds:
        yield Notice("tool", NOTE, "tool", words)


def _bumped(part, show):
    """Radii that no single stroke makes: how many hits, and where."""
    predicted = part.predicted
    for bend in part.shape.bends:
        if is_bumped(bend.figures, predicted and predicted.radius):
            plan = bumps(bend.figures)
            yield Notice("bump", NOTE, bend.id,
                         f"inside radius {show(bend.figures.inside_radius)} is bumped: {plan.hits} hits of "
                         f"{plan.each:.1f}°, {show(plan.pitch)} apart, the first {show(plan.pitch / 2)} in from the "
                         f"tangent line; the facets stand off by {show(plan.error)}",
                         ("roll it instead", "use a tool of that radius", "mark every hit: see the marking-out sheet"))


def _legs(part, show):
    die = part.die
    if not die:
        return
    for leg in part.shape.legs:
        ends = part.shape.at_ends(leg)
        for bend, other in (ends, ends[::-1]):
            if bend is None:
                continue
            need = bends.shortest_flat(bend.figures, die.v, die.shoulder_radius) + bends.LEG_MARGIN
            have = leg.flat + bend.figures.allowance / 2
            if have < need - 1e-9 and other is None:
                yield Notice("leg", STOP, leg.id,
                             f"{show(have)} from the line of {bend.id}, {show(need - have)} too short "
                             f"for the V {die.v:g} die",
                             (f"lengthen the leg by {show(need - have)}", "use a narrower V",
                              "bend it long and cut it back"))
            elif have < need - 1e-9:
                yield Notice("jog", CAUTION, leg.id,
                             f"short web between bends: {show(have)} from the line of {bend.id}, the "
                             f"V {die.v:g} die wants {show(need)}",
                             ("use a narrower V", "use a jog tool", "open the step"))


def _die(part, show):
    die, t = part.die, part.stock.thickness
    if not die:
        return
    usual = usual_opening(t)
    if not NARROW * usual <= die.v <= WIDE * usual:
        yield Notice("die", CAUTION, "die", f"V {die.v:g} on {show(t)}: usual is about {show(usual)}",
                     (f"choose a die near {usual / t:g} times the thickness",))


def _capacity(part, show):
    nose, t = part.nose, part.stock.thickness
    if not nose or not nose.rated or part.die:
        return
    alloy, mild = part.stock.material, materials()["mild-steel"]
    bears = nose.rated * min(1.0, math.sqrt(mild.tensile_mpa / alloy.tensile_mpa))
    if t > nose.rated + 1e-9 or t > bears + 1e-9:
        yield Notice("capacity", STOP, "tool",
                     f"{show(t)} {alloy.name} is {show(t - bears)} above what the brake bears: its plate says "
                     f"{show(nose.rated)} mild steel" + (f", as strong as {show(bears)} of this" if bears < nose.rated
                                                         else ""),
                     ("bend it on a press brake", "use thinner or softer stock", "never pass the rating plate"))


def _school(part, show):
    """What the rules that leave the allowance out do to the legs."""
    if part.school.method not in ("none", "half_zone"):
        return
    for leg in part.shape.legs:
        error = sum((_generic(b.figures).deduction - b.figures.deduction) / 2
                    for b in part.shape.at_ends(leg) if b)
        tolerance = length_tolerance(leg.size)
        severity = CAUTION if abs(error) > tolerance else NOTE
        if abs(error) >= 0.01:
            yield Notice(f"school-{part.school.method}", severity, leg.id,
                         f"{part.school.title.lower()}: the leg comes out about {show(abs(error))} "
                         f"{'long' if error > 0 else 'short'} (tolerance ± {show(tolerance)})",
                         ("choose a school with an allowance, or the ledger",) if severity == CAUTION else ())


def _generic(f):
    return generic().figures(f.angle, f.inside_radius, f.thickness, f.convention)


def _springback(part):
    stock = part.stock
    for bend in part.shape.bends:
        f = bend.figures
        opens = opening(f.inside_radius, f.angle, stock.thickness, stock.material)
        if opens > MUCH:
            yield Notice("springback", CAUTION, bend.id,
                         f"by yield and stiffness this bend opens about {opens:.0f}°; the start value is "
                         f"{stock.overbend(f.angle):.1f}°",
                         ("make a proof bend and take its springback", "a sharper radius opens less"))


def _hems(part, show):
    t = part.stock.thickness
    for hem in part.shape.hems:
        if hem.length < 4 * t + hem.gap:
            yield Notice("hem", CAUTION, hem.id,
                         f"a hem of {show(hem.length)} is short for {show(t)} stock; it is hard to start",
                         (f"make it at least {show(4 * t + hem.gap)}",))
        leg = next(leg for leg in part.shape.legs if leg.id == hem.on)
        if hem.length > leg.outside + 1e-9 and part.shape.bends:
            yield Notice("hem-long", CAUTION, hem.id,
                         f"the hem ({show(hem.length)}) is longer than the leg it lies on ({show(leg.outside)})",
                         ("shorten the hem", "lengthen the leg"))


def _holes(part, show):
    """Holes and slots too near a bend stretch, on the face where they are."""
    t, faces = part.stock.thickness, part.sheet.face
    for joint in part.sheet.bends:
        f = joint.figures
        for name, edge in ((joint.parent, joint.parent_edge), (joint.child, joint.child_edge)):
            line = LineString(edge)
            for n, hole in enumerate(faces[name].holes, 1):
                need = 2.5 * t + f.inside_radius if hole.is_slot or hole.ring else 2 * t
                if part.die:
                    need = max(need, part.die.v / 2 - f.allowance / 2)
                have = line.distance(Polygon(hole.outline()))
                if have < need - 1e-9:
                    word = "slot" if hole.is_slot else "opening" if hole.ring else "hole"
                    yield Notice("hole", CAUTION, f"{name}, {word} {n}",
                                 f"{show(have)} from the tangent line of {joint.id}, {show(need - have)} too near: "
                                 "it will stretch",
                                 (f"move it {show(need - have)} away", "pierce it after bending",
                                  "cut a relief slot between", "use a narrower V"))


def _collars(part, show):
    for n, collar in enumerate(getattr(part.shape, "collars", ()), 1):
        much = collar.stretch > SPLITS
        yield Notice("collar", CAUTION if much else NOTE, f"collar {n}",
                     f"pierce {show(collar.pierced)}, draw {collar.direction} to {show(collar.inside)} inside; its rim "
                     f"stretches by {collar.stretch:.0%}" + (", which is likely to split it" if much else ""),
                     ("make the collar lower", "anneal the rim, or draw it in steps", "weld a ring on instead")
                     if much else ("deburr the pierced hole before drawing it",))


def _gauging(part, show):
    """Bends with no straight edge of the blank parallel to them: a tab to be cut off helps."""
    for bend in part.flat.bends:
        found = bearing(part.flat, bend)
        if not found.edges:
            yield Notice("gauge-edge", NOTE, bend.bend.id,
                         "no straight edge of the blank lies parallel to it for the stop to bear on",
                         (f"leave a tab to be cut off after bending, its edge parallel to the line and "
                          f"{show(found.tab)} from it; mark it for trimming", "work to the scribed line",
                          "gauge from a flange that is bent before it"))


def _clashes(part, show):
    if part.shape.kind != "profile":
        yield from _in_space(part, show)
        return
    strip = part.strip
    pieces = strip.whole([b.figures.angle for b in strip.bends])
    inner = shapely.buffer(polygons([piece.outline for piece in pieces]), -DEEP / 2, join_style="mitre")
    tree = STRtree(inner)
    seen = set()
    for one, other in zip(*tree.query(inner, predicate="intersects"), strict=True):
        if other - one < 2 or inner[one].is_empty or inner[other].is_empty:
            continue
        pair = (pieces[one].id, pieces[other].id)
        if pair not in seen:
            seen.add(pair)
            yield Notice("clash", STOP, pair[0], f"{pair[0]} and {pair[1]} run through each other when folded",
                         ("shorten one of them", "change an angle or a direction"), pair)


def _in_space(part, show):
    """Parts that are not strips: overlaps in the blank, and face against face when folded."""
    flat, folded = part.conflicts
    for found in flat:
        yield Notice("flat-overlap", STOP, found.one, f"{found.one} and {found.other} lie on each other in the blank",
                     ("make one of them shorter or narrower", "open the corners", "make it of two pieces"),
                     (found.one, found.other))
    for found in folded:
        yield Notice("clash", STOP, found.one,
                     f"{found.one} and {found.other} run {show(found.depth)} into each other when folded",
                     ("make one of them shorter or narrower", "open the corner's gap", "change an angle"),
                     (found.one, found.other))

"""Limits, looked at before anything is cut. The one place for these rules.

Each check yields :class:`~bendcore.notices.Notice`. Rules are *start* values of general shop practice;
see handbook practice on minimum radius, shortest leg, die choice and force.
"""

import math

import shapely
from shapely import STRtree

from ..bending import bend as bends
from ..bending.bumping import bumps, is_bumped
from ..bending.radius import NARROW, WIDE, differs, usual_opening
from ..bending.springback import opening
from ..families.collar import SPLITS
from ..families.shape import BLOCK
from ..notices import CAUTION, NOTE, STOP, Notice, worst_first
from ..part import Part
from ..said import Mm, Said
from ..schools.school import generic
from ..sheet.clash import DEEP, ZONE
from ..sheet.edges import bearing
from ..sheet.rings import polygons
from ..stock import materials
from .good_side import mixed
from .webs import near_bends, thin_webs

SHARPEST = 155.0
"""Acute tools bend about this far, degrees (*start*)."""
MUCH = 8.0
"""A springback of more degrees than this is worth a caution."""


def check_part(part: Part) -> list[Notice]:
    """Every notice for a part as it stands, worst first; lengths in the part's own units."""
    rules = (_radius, _sharp, _tool_radius, _bumped, _legs, _die, _capacity, _school, _springback, _hems, near_bends,
             thin_webs, _collars, _own, _gauging, _clashes, _hammered, mixed)
    return worst_first([notice.in_units(part.units) for rule in rules for notice in rule(part)])


def _radius(part):
    alloy, t, grain = part.stock.material, part.stock.thickness, part.stock.grain
    across, along = alloy.min_radius_over_t_across * t, alloy.min_radius_over_t_along * t
    least = {"along": along, "diagonal": (across + along) / 2}.get(grain, across)
    way = {"along": "along the grain", "diagonal": "at 45° to the grain"}.get(grain, "across the grain")
    for bend in part.shape.bends or ((part.shape.flange,) if part.shape.making == BLOCK else ()):
        r = bend.figures.inside_radius
        if r < least - 1e-9:
            turn = () if grain in ("", "across") or r < across else ("turn the part on the sheet so that its lines "
                                                                     "run across the grain",)
            yield Notice("radius", STOP, bend.id,
                         Said("inside radius {r} is {short} below the least for {alloy} {way} ({least})", r=Mm(r),
                              short=Mm(least - r), alloy=alloy.title, way=way, least=Mm(least)),
                         (*turn, Said("open the radius to {least}", least=Mm(least)),
                          "choose a softer temper or thinner stock"))
        elif not grain and r < along - 1e-9:
            yield Notice("radius-along", NOTE, bend.id,
                         Said("inside radius {r} is enough across the grain but not along it ({along})", r=Mm(r),
                              along=Mm(along)),
                         ("lay the bend lines across the grain, or at 45° when bends run both ways",
                          "say at Stock how the lines run to the grain"))
        elif r < 1.25 * least:
            yield Notice("edges", NOTE, bend.id,
                         Said("inside radius {r} is near the least ({least}); sheared edges crack first", r=Mm(r),
                              least=Mm(least)),
                         ("dress the edges where the bend crosses them", "put the burr on the inside of the bend"))


def _sharp(part):
    for bend in part.shape.bends:
        if bend.figures.angle > SHARPEST:
            yield Notice("sharp", CAUTION, bend.id,
                         f"{bend.figures.angle:.4g}° leaves {180 - bend.figures.angle:.3g}° between its legs: sharper "
                         "than acute tools bend",
                         ("close it between flat bars after an acute bend", "make it a hem", "open the angle"))


def _tool_radius(part):
    predicted, t = part.predicted, part.stock.thickness
    if not predicted:
        return
    for bend in part.shape.bends:
        r = bend.figures.inside_radius
        if differs(r, predicted.radius, t) and not is_bumped(bend.figures, predicted.radius):
            yield Notice("radius-tool", CAUTION, bend.id,
                         Said("the drawing asks for inside radius {r}, the tool makes {made} ({reason}): {apart} "
                              "{way}, and the blank is laid out for the drawing's", r=Mm(r),
                              made=Mm(predicted.radius), reason=predicted.reason,
                              apart=Mm(abs(predicted.radius - r)), way="more" if predicted.radius > r else "less"),
                         ("lay the part out for the radius the tool makes, at Stock",
                          "choose a tool that makes the radius", "make a proof bend and measure it"))
    for words in predicted.minds:
        yield Notice("tool", NOTE, "tool", words)


def _bumped(part):
    """Radii that no single stroke makes: how many hits, and where."""
    predicted = part.predicted
    for bend in part.shape.bends:
        if is_bumped(bend.figures, predicted and predicted.radius):
            plan = bumps(bend.figures)
            yield Notice("bump", NOTE, bend.id,
                         Said("inside radius {r} is bumped: {hits} hits of {each}°, {pitch} apart, the first {first} "
                              "in from the tangent line; the facets stand off by {off}",
                              r=Mm(bend.figures.inside_radius), hits=plan.hits, each=f"{plan.each:.1f}",
                              pitch=Mm(plan.pitch), first=Mm(plan.pitch / 2), off=Mm(plan.error)),
                         ("roll it instead", "use a tool of that radius", "mark every hit: see the marking-out sheet"))


def _legs(part):
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
                             Said("{have} from the line of {bend}, {short} too short for the V {v} die", have=Mm(have),
                                  bend=bend.id, short=Mm(need - have), v=Mm(die.v)),
                             (Said("lengthen the leg by {short}", short=Mm(need - have)), "use a narrower V",
                              "bend it long and cut it back"))
            elif have < need - 1e-9:
                yield Notice("jog", CAUTION, leg.id,
                             Said("short web between bends: {have} from the line of {bend}, the V {v} die wants "
                                  "{need}", have=Mm(have), bend=bend.id, v=Mm(die.v), need=Mm(need)),
                             ("use a narrower V", "use a jog tool", "open the step"))


def _die(part):
    die, t = part.die, part.stock.thickness
    if not die:
        return
    usual = usual_opening(t)
    if not NARROW * usual <= die.v <= WIDE * usual:
        yield Notice("die", CAUTION, "die",
                     Said("V {v} on {t}: usual is about {usual}", v=Mm(die.v), t=Mm(t), usual=Mm(usual)),
                     (f"choose a die near {usual / t:g} times the thickness",))


def _capacity(part):
    nose, t = part.nose, part.stock.thickness
    if not nose or not nose.rated or part.die:
        return
    alloy, longest = part.stock.material, max((math.dist(*bend.line) for bend in part.flat.bends), default=0.0)
    rated, bears = nose.rated.at(longest), nose.rated.bears(longest, alloy.tensile_mpa)
    if t > bears + 1e-9:
        metal = "mild steel" if nose.rated.tensile == materials()["mild-steel"].tensile_mpa else (
            f"of metal of {nose.rated.tensile:.0f} MPa")
        yield Notice("capacity", STOP, "tool",
                     Said("{t} {alloy} is {over} above what the brake bears: its plate says {rated} {metal}"
                          + (", as strong as {bears} of this" if bears < rated else ""), t=Mm(t), metal=metal,
                          alloy=alloy.title, over=Mm(t - bears), rated=Mm(rated), bears=Mm(bears)),
                     ("bend it on a press brake", "use thinner or softer stock", "never pass the rating plate"))


def _school(part):
    """What the rules that leave the allowance out do to the legs."""
    if part.school.method not in ("none", "half_zone"):
        return
    for leg in part.shape.legs:
        error = sum((_generic(b.figures).deduction - b.figures.deduction) / 2
                    for b in part.shape.at_ends(leg) if b)
        tolerance = part.tolerance(leg.size)
        severity = CAUTION if abs(error) > tolerance else NOTE
        if abs(error) >= 0.01:
            yield Notice(f"school-{part.school.method}", severity, leg.id,
                         Said("{school}: the leg comes out about {off} {way} (tolerance ± {tolerance})",
                              school=part.school.title.lower(), off=Mm(abs(error)),
                              way="long" if error > 0 else "short", tolerance=Mm(tolerance)),
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


def _hems(part):
    t = part.stock.thickness
    for hem in part.shape.hems:
        if hem.length < 4 * t + hem.gap:
            yield Notice("hem", CAUTION, hem.id,
                         Said("a hem of {length} is short for {t} stock; it is hard to start", length=Mm(hem.length),
                              t=Mm(t)), (Said("make it at least {least}", least=Mm(4 * t + hem.gap)),))
        leg = next(leg for leg in part.shape.legs if leg.id == hem.on)
        if hem.length > leg.outside + 1e-9 and part.shape.bends:
            yield Notice("hem-long", CAUTION, hem.id,
                         Said("the hem ({length}) is longer than the leg it lies on ({leg})", length=Mm(hem.length),
                              leg=Mm(leg.outside)),
                         ("shorten the hem", "lengthen the leg"))


def _collars(part):
    for n, collar in enumerate(part.shape.collars, 1):
        much = collar.stretch > SPLITS
        yield Notice("collar", CAUTION if much else NOTE, f"collar {n}",
                     Said("pierce {pierced}, draw {direction} to {inside} inside; its rim stretches by {stretch}"
                          + (", which is likely to split it" if much else ""), pierced=Mm(collar.pierced),
                          direction=collar.direction, inside=Mm(collar.inside), stretch=f"{collar.stretch:.0%}"),
                     ("make the collar lower", "anneal the rim, or draw it in steps",
                      "rivet a ring on instead" if part.stock.is_coated else "weld a ring on instead")
                     if much else ("deburr the pierced hole before drawing it",))


def _own(part):
    """What only its family has to say."""
    yield from part.shape.notices(part.stock.is_coated)


def _hammered(part):
    """What a flange hammered along a curve may do; few parts have one, and the rules of it take long to come."""
    if part.shape.making == BLOCK:
        from .curved import curved
        yield from curved(part)


def _gauging(part):
    """Bends with no straight edge of the blank parallel to them: a tab to be cut off helps."""
    for bend in part.flat.bends:
        found = bearing(part.flat, bend)
        if not found.edges:
            yield Notice("gauge-edge", NOTE, bend.bend.id,
                         "no straight edge of the blank lies parallel to it for the stop to bear on",
                         (Said("leave a tab to be cut off after bending, its edge parallel to the line and {far} from "
                               "it; mark it for trimming", far=Mm(found.tab)), "work to the scribed line",
                          "gauge from a flange that is bent before it"))


def _clashes(part):
    if not part.shape.is_strip:
        yield from _in_space(part)
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
                         ("shorten one of them", "change an angle or a direction"),
                         tuple(p.id if p.is_flat else ZONE + p.id for p in (pieces[one], pieces[other])))


def _in_space(part):
    """Parts that are not strips: overlaps in the blank, and face against face when folded."""
    flat, folded = part.conflicts
    for found in flat:
        yield Notice("flat-overlap", STOP, found.one, f"{found.one} and {found.other} lie on each other in the blank",
                     ("make one of them shorter or narrower", "open the corners", "make it of two pieces"),
                     (found.one, found.other))
    for found in folded:
        yield Notice("clash", STOP, found.one,
                     Said("{one} and {other} run {depth} into each other when folded", one=found.one,
                          other=found.other, depth=Mm(found.depth)),
                     ("make one of them shorter or narrower", "open the corner's gap", "change an angle"),
                     (found.one, found.other))

"""Every figure of a part with its working, ready to be shown.

Nothing is computed here that is not computed elsewhere; each entry restates the
formula its figure came from, with the values put in and where they came from.
"""

from .bending import bend as bends
from .errors import Refusal
from .part import Part
from .said import Mm, Said
from .schools.school import aircraft, din6935, generic, handbook, none
from .working import Value, Working


def workings(part: Part) -> dict[str, Working]:
    """Workings by key: ``blank``, ``mass``, ``B1.allowance``, ``B1.line``, ``L1`` …"""
    found = {}
    for bend in part.shape.all_bends:
        found |= _bend(part, bend)
    for leg in part.shape.legs:
        found[leg.id] = _leg(part, leg)
    if part.shape.runs:
        found["blank"] = _blank(part, part.shape.runs[0])
    else:
        zones = tuple(Value(f"BA {b.id}", "bend allowance", b.figures.allowance, "mm", part.school.title)
                      for b in part.shape.all_bends)
        found["blank"] = Working("Blank, over all", "length = farthest right − farthest left, all laid flat",
                                 zones, part.flat.size[0])
    for run in part.shape.runs[1:]:
        found[f"blank-{run.name}"] = _blank(part, run)
    found |= _lines(part)
    for n, collar in enumerate(part.shape.collars, 1):
        found[f"collar-{n}"] = Working(
            f"Hole pierced for collar {n}", "d = D − 2·(h − BD)",
            (Value("D", "inside diameter of the collar", collar.inside), Value("h", "height", collar.height),
             Value("BD", "bend deduction at 90°", collar.deduction, "mm", part.school.title)), collar.pierced)
    length, width = part.flat.size
    alloy = part.stock.material
    found["mass"] = Working(
        "Mass of one piece", "m = area · t · ρ",
        (Value("area", "blank", part.flat.area, "mm²",
               Said("{length} × {width}", length=Mm(length), width=Mm(width))),
         _thickness(part), Value("ρ", "density", alloy.density_kg_m3, "kg/m³", part.stock.source("density_kg_m3"))),
        part.mass_kg, "kg", metric=True)
    if part.die:
        found |= _die(part)
    return found


def _die(part) -> dict[str, Working]:
    """What the die makes and takes: radius, shortest leg, force."""
    die, stock, shape = part.die, part.stock, part.shape
    v = Value("V", "opening", die.v, "mm", die.name or "die of the part")
    alloy = stock.material
    found = {
        "die.radius": Working("Radius this die makes", "r = p·V, not below 0.63·t, not below the punch's nose",
                              (Value("p", "share of V", alloy.natural_radius_factor, "",
                                     stock.source("natural_radius_factor")), v, _thickness(part),
                               Value("nose", "tip radius of the punch", die.nose, "mm", "punch chosen")),
                              part.predicted.radius, "mm", part.predicted.reason),
        "die.force": Working("Force of air bending", "F = 1.42·σ·t²·L/V/1000",
                             (Value("σ", "tensile strength", alloy.tensile_mpa, "MPa", stock.source("tensile_mpa")),
                              _thickness(part), Value("L", "width along the bends", shape.longest_bend), v),
                             bends.tonnage(alloy.tensile_mpa, stock.thickness, die.v, shape.longest_bend), "kN",
                             metric=True)}
    worst = max(shape.bends, key=lambda b: bends.minimum_leg(b.figures, die.v, die.shoulder_radius), default=None)
    if worst:
        least = bends.minimum_leg(worst.figures, die.v, die.shoulder_radius)
        found["die.leg"] = Working(
            "Shortest leg on this die",
            Said("leg = max(V/2, (V/2 − ρ·sin h)/cos h − BD/2) + BD/2 + {margin}", margin=Mm(bends.LEG_MARGIN)),
            (v, Value("ρ", "shoulder radius", die.shoulder_radius, "mm", die.name or "die of the part"),
             Value("h", "half the bend angle", worst.figures.angle / 2, "°", worst.id),
             Value("BD", "bend deduction", worst.figures.deduction, "mm", worst.id)), least + bends.LEG_MARGIN)
    return found


def _thickness(part) -> Value:
    return Value("t", "thickness", part.stock.thickness, "mm", "stock of the part")


def _radius(part, bend) -> Value:
    source = part.radius_reason if bend.figures.inside_radius == part.inside_radius else "given on this bend"
    return Value("r", "inside radius", bend.figures.inside_radius, "mm", source)


def _bend(part, bend) -> dict[str, Working]:
    f, school = bend.figures, part.school
    hem = f.angle >= 180
    angle = Value("θ", "bend angle", f.angle, "°")
    k = Value("K", "neutral fibre from the inside, over t", f.k, "",
              "closed hem, start value" if hem and not f.inside_radius else f"{school.title}: {school.source}")
    setback = "r + t" if hem or (f.convention == bends.TANGENT and f.angle > 90) else "(r + t)·tan(θ/2)"
    base = (angle, _radius(part, bend), _thickness(part), k)
    others = {}
    if not hem:
        for other in (generic(), din6935(), aircraft(), handbook(part.stock.material.handbook_group), none()):
            try:
                others[other.title] = other.figures(f.angle, f.inside_radius, f.thickness, f.convention).allowance
            except Refusal:
                continue
    name = bend.id
    return {
        f"{name}.allowance": Working(f"Bend allowance {name}", school.formula if not hem else "BA = θ·(r + K·t)",
                                     base, f.allowance, "mm", school.source, name, others),
        f"{name}.deduction": Working(
            f"Bend deduction {name}", "BD = 2·OSSB − BA",
            (Value("OSSB", f"outside setback, {setback}", f.outside_setback, "mm", f"{f.convention} convention"),
             Value("BA", "bend allowance", f.allowance, "mm", "worked out above")), f.deduction, "mm", "", name),
        f"{name}.k": Working(f"K of {name}", "K = (BA/θ − r)/t",
                             (Value("BA", "bend allowance", f.allowance, "mm", school.title), *base[:3]),
                             f.k, "", school.source, name),
    }


def _leg(part, leg) -> Working:
    return Working(
        f"Flat of leg {leg.id}", "flat = size − setback at each end",
        (Value("size", f"leg as given, {leg.dims}", leg.size),
         Value("start", "setback at its start", leg.setbacks[0], "mm", "bend before it"),
         Value("end", "setback at its end", leg.setbacks[1], "mm", "bend after it")), leg.flat, where=leg.id)


def _blank(part, run) -> Working:
    shape = part.shape
    pieces = {item.id: item for item in (*shape.legs, *shape.hems)}
    flats = [Value(name, "flat", pieces[name].flat, "mm", "leg less its setbacks") for name in run.legs]
    zones = [Value(f"BA {name}", "bend allowance", shape.bend[name].figures.allowance, "mm", part.school.title)
             for name in run.bends]
    title = "Blank, developed length" if len(shape.runs) == 1 else f"Blank, developed {run.name}"
    return Working(title, "length = Σ flats + Σ BA", (*flats, *zones), shape.developed(run))


def _lines(part) -> dict[str, Working]:
    found = {}
    for flat in part.flat.bends:
        if not flat.at:
            continue
        name, (axis, x) = flat.bend.id, flat.at
        near = min(t[0][axis == "y"] for t in flat.tangents)
        edge = "the start edge" if part.shape.is_strip else {"x": "the left", "y": "the front"}[axis]
        found[f"{name}.line"] = Working(
            f"Bend line {name}", "line = running sum of flats and allowances + BA/2",
            (Value("tangent", f"first tangent line from {edge}", near, "mm", "running sum"),
             Value("BA", "bend allowance", flat.bend.figures.allowance, "mm", part.school.title)), x, where=name)
    return found

"""Results as plain data, in the units of the input: bend, flat and fold.

The keys are those of the open files; ``docs/part-file.md`` lists them.
"""

from ..bending import bend as bends
from ..checks.rules import check_part
from ..errors import Refusal
from ..files import check
from ..part import Part, read_die
from ..quality.proof import NAMES, ProofBend, Uncertainty, check_proof, springback, u_springback
from ..said import refused_in
from ..schools.school import read_school
from ..sheet import Folded, fold
from ..units import MM_PER, read_angle, read_length


def bend_result(data: dict) -> dict:
    """One bend's figures, and those of air bending when a die is given."""
    check(data, "bend")
    units = data.get("units", "mm")
    per = MM_PER[units]

    def length(value, path):
        return read_length(value, units, path)

    angle = bends.check_angle(read_angle(data["angle"], "angle"), "angle")
    radius = length(data["inside_radius"], "inside_radius")
    thickness = length(data["thickness"], "thickness")
    if radius < 0:
        raise Refusal("inside_radius", "must not be negative")
    if thickness <= 0:
        raise Refusal("thickness", "must be greater than 0")
    school = read_school(data["allowance"], units, read_length)
    figures = school.figures(angle, radius, thickness, data.get("convention", bends.APEX))
    result = {"allowance": figures.allowance / per, "outside_setback": figures.outside_setback / per,
              "deduction": figures.deduction / per, "inside_setback": figures.inside_setback / per,
              "k": figures.k}
    if "die" in data:
        result |= _air(figures, read_die(data["die"], length), data.get("tensile"), per)
    elif "tensile" in data:
        raise Refusal("die", "is missing: the tensile strength is of use only over a die")
    return result


def read_proof(data: dict) -> tuple[ProofBend, float | None]:
    """A proof bend's readings in mm and degrees, and the angle it was held at if given."""
    check(data, "proof")
    units = data.get("units", "mm")

    def read(name, path):
        reader = read_angle if name in ("angle", "bent_to") else lambda v, p: read_length(v, units, p)
        return reader(data[path], path)

    u = {n: read("strip", "u_length") for n in ("strip", "leg_a", "leg_b") if "u_length" in data}
    u |= {n: read(n, f"u_{n}") for n in NAMES if f"u_{n}" in data}
    proof = ProofBend(**{n: read(n, n) for n in NAMES}, convention=data.get("convention", bends.APEX),
                      u=Uncertainty(**u))
    held = read("bent_to", "bent_to") if "bent_to" in data else None
    if held is not None and not proof.angle <= held < 180:
        raise Refusal("bent_to", "must be at least the angle found, and less than 180")
    try:
        return check_proof(proof), held
    except Refusal as refusal:
        raise refused_in(refusal, units) from None


def proof_result(data: dict) -> dict:
    """What one proof bend says: K, allowance and deduction with their uncertainties."""
    proof, held = read_proof(data)
    per = MM_PER[data.get("units", "mm")]
    result = {"k": proof.k, "u_k": proof.u_k, "allowance": proof.allowance / per,
              "u_allowance": proof.u_allowance / per, "deduction": proof.deduction / per}
    if held is not None:
        result |= {"springback_at_90_deg": springback(held, proof.angle),
                   "u_springback": u_springback(held, proof.angle, proof.u.angle)}
    return result


def _air(figures, die, tensile, per) -> dict:
    over = (figures.angle, figures.inside_radius, figures.thickness, die.v, die.shoulder_radius)
    result = {"punch_travel": bends.punch_travel(*over) / per,
              "travel_per_degree": bends.travel_per_degree(*over) / per,
              "minimum_leg": bends.minimum_leg(figures, die.v, die.shoulder_radius) / per}
    if tensile is not None:
        radius, _ = bends.natural_radius(die.v, figures.thickness, bends.radius_factor(tensile))
        result["natural_radius"] = radius / per
        result["tonnage_kn_per_m"] = bends.tonnage(tensile, figures.thickness, die.v)
    return result


_EDGE = {"x": "front", "y": "left"}
"""The edge along which a line's place is measured."""


def flat_result(part: Part) -> dict:
    """The flat pattern of a part."""
    flat, per = part.flat, part.per_unit

    def points(edge):
        return [[x / per, y / per] for x, y in edge]

    length, width = flat.size
    return {
        "format": "dorvan-flat", "version": 1, "units": part.units,
        "blank": {"length": length / per, "width": width / per,
                  "area": flat.area / per ** 2, "mass_kg": part.mass_kg},
        "outline": points(flat.outline),
        "holes": [points(h.outline()) if h.is_slot or h.ring else
                  {"centre": points([h.centre])[0], "diameter": h.diameter / per} for h in flat.holes],
        "bends": [{
            "id": b.bend.id, "line": points(b.line), "angle": b.bend.angle,
            "direction": b.bend.direction, "inside_radius": b.bend.figures.inside_radius / per,
            "allowance": b.bend.figures.allowance / per, "deduction": b.bend.figures.deduction / per,
            "tangents": [points(t) for t in b.tangents],
        } for b in flat.bends],
        "marks": [{"edge": _EDGE[b.at[0]] if not part.shape.is_strip else "start", "at": b.at[1] / per,
                   "bend": b.bend.id, "line": "centre"} for b in flat.bends if b.at],
        "notices": [n.as_dict() for n in check_part(part)],
    } | ({"development": told} if (told := part.shape.development(per)) else {})


def fold_result(part: Part, made: list[str] | None = None) -> dict:
    """The part folded; with ``made``, only those bends made."""
    if made is not None:
        for name in made:
            if name not in part.sheet.bend:
                raise Refusal("made", f"there is no bend {name[:20]}; there are "
                                      + (", ".join(part.sheet.bend) or "none"))
    folded: Folded = fold(part.sheet, made, flat=part.flat)
    per = part.per_unit
    return {
        "format": "dorvan-fold", "version": 1, "units": part.units,
        "faces": [{"id": f.id, "corners": (f.corners / per).tolist(), "normal": f.normal.tolist()}
                  for f in folded.faces],
        "bends": [{"id": b.id, "angle": b.angle, "made": b.angle > 0,
                   "tangents": [(b.arc[0] / per).tolist(), (b.arc[-1] / per).tolist()]}
                  for b in folded.bends],
    }

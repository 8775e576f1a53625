"""Figures of one bend and of one proof bend as plain data, in the units of the input.

The keys are those of the open files; ``docs/part-file.md`` lists them.
"""

from ..bending import bend as bends
from ..errors import Refusal
from ..files import check
from ..part import read_die
from ..quality.proof import NAMES, ProofBend, Uncertainty, check_proof, springback, u_springback
from ..said import refused_in
from ..schools.school import read_school
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

"""Reading what people type at a proof bend. Refusals name the field; drafts keep the rest."""

from dataclasses import dataclass

from bendcore.bending import bend as bends
from bendcore.bending.bend import APEX, TANGENT
from bendcore.errors import Refusal
from bendcore.quality.proof import NAMES, ProofBend, Uncertainty, check_proof
from bendcore.quality.shanks import SETS, Search, drills, search
from bendcore.units import read_angle, read_length
from dorvan.fields import words

FIELDS = (*NAMES, "bent_to", "u_inside_radius", "note")
TITLES = {"strip": "Strip, flat", "leg_a": "Leg a, outside", "leg_b": "Leg b, outside",
          "angle": "Angle found", "bent_to": "Angle under load", "thickness": "Thickness",
          "inside_radius": "Inside radius", "u_inside_radius": "Radius ±", "note": "Note"}
OPTIONAL = ("bent_to", "u_inside_radius", "note")


def typed_of(form) -> dict[str, str]:
    """What was typed for one strip, field by field."""
    return {name: words(form.get(name), 60) for name in FIELDS if name in form}


def shank_search(sets: list[str], tries: list, expected: float) -> Search:
    return search(drills(sets or SETS), [(name, bool(light)) for name, light in tries], expected)


@dataclass(frozen=True)
class Read:
    """One strip as read: the proof bend, the angle held, and how the radius was found."""

    proof: ProofBend
    held: float | None
    radius_by: str


def read_strip(typed: dict[str, str], found: Search, units: str, hem: bool = False) -> Read:
    """A measured strip in mm and degrees. The radius is the one typed, else the shanks' bracket."""
    sizes = {}
    for name in ("strip", "leg_a", "leg_b", "thickness"):
        sizes[name] = read_length(typed.get(name, ""), units, name)
    angle = 180.0 if hem else read_angle(typed.get("angle", ""), "angle", units)
    spread = Uncertainty()
    radius, radius_by, u = _radius(typed, found, units, spread)
    proof = check_proof(ProofBend(**sizes, angle=angle, inside_radius=radius, convention=TANGENT if hem else APEX,
                                  u=Uncertainty(inside_radius=u)))
    held = read_angle(typed["bent_to"], "bent_to", units) if typed.get("bent_to") and not hem else None
    if held is not None and not angle <= held < 180:
        raise Refusal("bent_to", "must be at least the angle found, and less than 180: the bend opens when let go")
    return Read(proof, held, radius_by)


def _radius(typed, found, units, spread):
    if typed.get("inside_radius"):
        radius = read_length(typed["inside_radius"], units, "inside_radius")
        u = read_length(typed["u_inside_radius"], units, "u_inside_radius") if typed.get("u_inside_radius") else \
            spread.inside_radius
        if u <= 0:
            raise Refusal("u_inside_radius", "must be greater than 0")
        return radius, "gauge", u
    if found.radius is None:
        raise Refusal("inside_radius", "is missing: measure it with a gauge, or try drill shanks below")
    low = found.fits.name if found.fits else "nothing smaller"
    return found.radius, f"shanks: {low} fits, light under {found.bridges.name}", found.uncertainty


def kept_readings(proof: ProofBend, held: float | None) -> dict:
    """A strip as the ledger keeps it."""
    kept = {name: getattr(proof, name) for name in NAMES} | {"convention": proof.convention, "u": vars(proof.u)}
    return kept if held is None else kept | {"bent_to": held}


def read_default(form) -> dict:
    """The shop's default school as an allowance block."""
    method = form.get("method", "")
    if method == "handbook":
        group = form.get("group", "medium")
        return {"method": method, "group": group if group in ("soft", "medium", "hard") else "medium"}
    if method == "k_factor":
        try:
            k = float(form.get("k", "").replace(",", "."))
        except ValueError:
            k = -1.0
        if not 0 <= k <= 1:
            raise Refusal("k", "must be a number from 0 to 1, such as 0.42")
        return {"method": method, "k": k, "source": "the shop's own K"}
    if method not in ("generic", "din6935", "aircraft", "none", "half_zone"):
        raise Refusal("method", "is not a school")
    return {"method": method}


def read_bend_angle(text: str, units: str, path: str = "angle") -> float:
    """A bend angle as its reader typed it, degrees."""
    return bends.check_angle(read_angle(text, path, units), path)

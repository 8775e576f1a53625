"""A ticket's part file with what the shop knows joined in.

The part file a person edits says what the drawing says. Which die stands under it,
what the stockroom knows of the metal and what the ledger has learnt are the shop's; they
are joined here, so that the core reads one complete file and a release freezes it.
"""

from bendcore.bending.radius import predict_air, tool_name
from bendcore.part import Part
from bendcore.part_file import FINISHES, START
from dorvan.stockroom.models import MaterialValue


def joined(ticket) -> dict:
    """The complete part file of a ticket."""
    part = with_values(ticket.part, MaterialValue.of(ticket.part["stock"]["material"]))
    part["stock"].setdefault("springback", START)
    if ticket.lot and ticket.lot.surface in FINISHES:
        part["stock"].setdefault("finish", str(ticket.lot.surface))
    die, punch = chosen(ticket)
    if die:
        part.pop("nose", None)
        part["die"] = {"name": die.name, "v": f"{die.v} mm", "shoulder_radius": f"{die.shoulder_radius} mm",
                       "nose": f"{punch.tip_radius if punch else 0} mm"}
    elif ticket.nose:
        part.pop("die", None)
        part["nose"] = {"name": ticket.nose.name, "radius": f"{ticket.nose.size} mm", "way": ticket.nose.kind}
        for key, pad in (("shim", ticket.shim), ("slip", ticket.slip)):
            if pad:
                part["nose"][key] = f"{pad.size} mm"
        if ticket.nose.rated:
            part["nose"]["rated_thickness"] = f"{ticket.nose.rated} mm"
    elif ticket.brake and not ticket.brake.press and "die" not in part:
        part.setdefault("nose", _nose_of(ticket.brake.machine))
    return part


def with_values(part: dict, values: dict) -> dict:
    """A part with these ``values`` of its metal, where it has none of its own; its stock may be changed, the rest is
    shared: no part is changed in place."""
    stock = dict(part["stock"])
    if values:
        stock["values"] = values | stock.get("values", {})
    return part | {"stock": stock}


def _nose_of(brake) -> dict:
    """What a hand brake bends round."""
    nose = {"name": brake.name, "radius": f"{brake.nose_radius} mm", "way": "bar" if brake.kind == "bench" else "nose"}
    if brake.kind == "leaf":
        nose |= {"rated_thickness": f"{brake.rated.thickness} mm", "rated_tensile": brake.rated.tensile}
        if brake.rated.shorter:
            nose |= {"short_length": f"{brake.rated.shorter[0]} mm", "short_thickness": f"{brake.rated.shorter[1]} mm"}
    return nose


def chosen(ticket):
    """(die, punch) picked for the ticket from its brake's rack; None where none is."""
    if not ticket.brake:
        return None, None
    press = ticket.brake.press
    if not press:
        return None, None
    die = next((d for d in press.dies if d.name == ticket.die and d.kind == "v"), None)
    return die, next((p for p in press.punches if p.name == ticket.punch), None)


def tool_of(ticket, part: Part) -> str:
    """The tool as the ledger names it; empty when none is chosen."""
    die, punch = chosen(ticket)
    if die:
        factor = part.stock.material.natural_radius_factor
        alone = predict_air(die.v, part.stock.thickness, factor).radius
        return tool_name(die.name, alone, punch.tip_radius if punch else 0.0)
    if ticket.nose:
        return " + ".join(str(t) for t in (ticket.nose, ticket.shim, ticket.slip) if t)
    return part.die.name if part.die else part.nose.name if part.nose else ""



"""The Shape stage of each family of part, a module each."""

from . import flat, guard, panels, plate, profile, rib, rolled, sleeve, square_to_round, transition, tray
from .page import FamilyPage

PAGES: dict[str, FamilyPage] = {
    "profile": profile.PAGE, "tray": tray.PAGE, "plate": plate.PAGE, "panels": panels.PAGE, "sleeve": sleeve.PAGE,
    "flat": flat.PAGE, "guard": guard.PAGE, "transition": transition.PAGE, **rolled.PAGES,
    "square-to-round": square_to_round.PAGE, "rib": rib.PAGE}
"""By the kind of part."""

"""The Shape stage of each family of part, a module each."""

from .flat import flat_page
from .guard import guard_page
from .plate import plate_page
from .profile import strip_page
from .rib import rib_page
from .rolled import rolled_page
from .sleeve import sleeve_page
from .square_to_round import square_to_round_page
from .transition import transition_page
from .tray import tray_page

PAGES = {"profile": strip_page, "tray": tray_page, "plate": plate_page, "sleeve": sleeve_page,
         "flat": flat_page, "guard": guard_page, "transition": transition_page,
         "cone": rolled_page, "tube": rolled_page, "elbow": rolled_page, "chain": rolled_page,
         "square-to-round": square_to_round_page, "rib": rib_page}
"""(ticket, units) → what the family's page shows, by its kind."""

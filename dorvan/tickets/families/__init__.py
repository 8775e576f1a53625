"""The Shape stage of each family of part, a module each."""

from .flat import flat_page
from .guard import guard_page
from .plate import plate_page
from .profile import strip_page
from .sleeve import sleeve_page
from .tray import tray_page

PAGES = {"profile": strip_page, "tray": tray_page, "plate": plate_page, "sleeve": sleeve_page,
         "flat": flat_page, "guard": guard_page}
"""(ticket, units) → what the family's page shows, by its kind."""

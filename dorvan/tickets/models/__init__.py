"""What a shop keeps of a ticket: itself, its changes, what was released, and what lies beside it."""

from .bought import BoughtIn
from .cut import BlankCut
from .gate import Asks, Hold, MockUp, Opened
from .history import CHOICES, Edit, write
from .kept import KeptOrder
from .photograph import Photograph
from .reading import Reading
from .revision import Override, Revision, asked_of
from .tags import number_in, tag_of
from .ticket import STAGES, Ticket

__all__ = ["CHOICES", "STAGES", "Asks", "BlankCut", "BoughtIn", "Edit", "Hold", "KeptOrder", "MockUp",
           "Opened", "Override", "Photograph", "Reading", "Revision", "Ticket", "asked_of", "number_in", "tag_of",
           "write"]

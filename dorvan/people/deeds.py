"""What is kept on record beyond the work itself: acts that ask less, take away, or speak for somebody."""

from .models import Deed, User

DEEDS = {"job": "Kind of job", "structural": "Structural part", "archive": "On or off the rack",
         "remove": "Taken off for good", "opened": "Gate opened", "asks": "What the gate asks for",
         "sample": "Sample dropped or taken back", "absence": "Absence", "hours": "Working hours"}
"""Every kind of act on record, by its word."""


def record(by: User, what: str, before: str, after: str, ticket: str = "", reason: str = "") -> None:
    """Put an act on record: ``before`` and ``after`` in words; ``ticket`` its tag, where it is about one. To be called
    within the transaction of the act itself."""
    if what not in DEEDS:
        raise ValueError(f"{what} is no kind of act")
    if before != after:
        Deed.objects.create(by=by, what=what, before=before[:300], after=after[:300], ticket=ticket,
                            reason=reason[:300])

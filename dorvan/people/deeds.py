"""What is kept on record beyond the work itself: acts that ask less, take away, or speak for somebody."""

from .models import Deed, User


def record(by: User, what: Deed.What, before: str, after: str, ticket: str = "", reason: str = "") -> None:
    """Put an act on record: ``before`` and ``after`` in words; ``ticket`` its tag, where it is about one. To be called
    within the transaction of the act itself. What changes nothing is no act."""
    if before != after:
        Deed.objects.create(by=by, what=Deed.What(what), before=before[:300], after=after[:300], ticket=ticket,
                            reason=reason[:300])

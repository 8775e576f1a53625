"""What a page shows already of a part's things, so that the answer to a change says again only what it changed.

A page carries a token (:func:`token_of`) of the part and the reader it was drawn for, and sends it with a change. What
was drawn for the last tokens is kept in this process; a token that is not known, or none, has everything drawn.
"""

import threading
from collections import OrderedDict
from collections.abc import Mapping, Sequence

from .families.hands import Thing

MOST = 64
_lock, _drawn = threading.Lock(), OrderedDict()


def token_of(stamp: str, units) -> str:
    """Of the part as ``stamp`` names it, for one who reads in ``units``."""
    return f"{stamp} {units} {units.tape} {units.included}"


def note(token: str, things: Sequence[Thing]) -> None:
    """These things are what a page of this token shows."""
    with _lock:
        _drawn[token] = {thing.name: thing for thing in things}
        _drawn.move_to_end(token)
        while len(_drawn) > MOST:
            _drawn.popitem(last=False)


def known(token: str) -> Mapping[str, Thing]:
    """What a page of this token shows, by name; nothing where that is not known any more."""
    with _lock:
        return _drawn.get(token, {})

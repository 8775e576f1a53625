"""What is to be said of a part: a notice says what, where, how far off, and ways out."""

from collections.abc import Callable, Collection, Iterable
from dataclasses import dataclass, replace

from .said import in_units

STOP, CAUTION, NOTE = "stop", "caution", "note"
"""``stop`` blocks release, ``caution`` and ``note`` do not."""
FEW = 3
"""So many places are named one by one even where they are all there are."""


@dataclass(frozen=True)
class Notice:
    """``message`` and ``ways_out`` are texts, or :class:`~bendcore.said.Said` where lengths are in them."""

    code: str
    severity: str
    where: str
    message: str
    ways_out: tuple[str, ...] = ()
    between: tuple[str, ...] = ()
    """Of a conflict, what runs into what: faces, and zones as ``bend`` and their id."""
    places: tuple[str, ...] = ()
    """Of several that say the same, where each is."""

    def placed(self, called: Callable[[str], str], bends: Collection[str] = ()) -> str:
        """Where it is, as people call the faces and bends; in a word where it is at all of the part's many ``bends``.

        >>> every = merged(Notice("thin", NOTE, name, "is thin") for name in ("B1", "B2", "B3", "B4"))[0]
        >>> every.placed(str.lower, ("B1", "B2", "B3", "B4")), every.placed(str.lower)
        ('every bend', 'b1, b2, b3, b4')
        """
        if len(self.places) > FEW and set(self.places) == set(bends):
            return "every bend"
        return ", ".join(called(place) for place in self.places or (self.where,))

    def in_units(self, units: str) -> "Notice":
        """The same for a reader in these units."""
        return replace(self, message=in_units(self.message, units),
                       ways_out=tuple(in_units(way, units) for way in self.ways_out))

    def as_dict(self) -> dict:
        """As files have it."""
        return {"code": self.code, "severity": self.severity, "where": self.where,
                "message": self.message, "ways_out": list(self.ways_out)}


def worst_first(notices: Iterable[Notice]) -> list[Notice]:
    """Stops before cautions before notes, else as they came."""
    rank = {STOP: 0, CAUTION: 1, NOTE: 2}
    return sorted(notices, key=lambda n: rank[n.severity])


def merged(notices: Iterable[Notice]) -> list[Notice]:
    """Notices that say the same of several places, as one; for showing."""
    places: dict[tuple, list[str]] = {}
    for n in notices:
        places.setdefault((n.code, n.severity, n.message, n.ways_out, n.between), []).append(n.where)
    return [Notice(code, severity, ", ".join(where), *rest, tuple(where))
            for (code, severity, *rest), where in places.items()]

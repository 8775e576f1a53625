"""How a figure was worked out, as data.

Every figure the program shows can be opened: the formula, the values put in,
where each value came from, and the result. A :class:`Working` holds that for one
figure; pages and printed sheets only set it in type.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Value:
    """One value put into a formula. ``source`` is where it came from."""

    symbol: str
    meaning: str
    value: float | str
    unit: str = "mm"
    source: str = "given on the part"


@dataclass(frozen=True)
class Working:
    """One figure: ``title`` = ``formula`` with ``values`` gives ``result`` in ``unit``."""

    title: str
    formula: str
    values: tuple[Value, ...]
    result: float
    unit: str = "mm"
    source: str = ""
    where: str = ""
    others: Mapping[str, float] = field(default_factory=dict)
    """What other schools would give for the same figure, by name."""
    metric: bool = False
    """Whether the formula holds only for lengths in mm."""

    def as_dict(self) -> dict:
        """The working as data."""
        return {
            "title": self.title, "formula": self.formula, "result": self.result,
            "unit": self.unit, "source": self.source, "where": self.where,
            "values": [vars(v) for v in self.values], "others": dict(self.others),
        }

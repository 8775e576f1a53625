"""All of a site sheet at once: what every rule comes to, what is still missing for it, and what a change moves."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from graphlib import CycleError, TopologicalSorter

from ..errors import Refusal
from ..said import Said
from .measured import SETTLED, Settled
from .rules import Rule, Value

ALIKE = 1e-6
"""Sizes that differ by less are the same, mm or degrees."""
TRIED, STEP = 101.3, 7.1
"""Rules are tried with sizes of which no two are alike."""


@dataclass(frozen=True)
class Measured:
    """A thing measured: its ``dimension``, what its readings came to, what it ``awaits``, in words, and whether it has
    ``several`` sides."""

    dimension: str
    settled: Settled
    awaits: str = ""
    several: bool = False

    @property
    def lacks(self) -> str:
        """What is still to do before it can be used, or nothing."""
        return f"waits for {self.awaits}" if self.awaits else self.settled.lacks


@dataclass(frozen=True)
class Sheet:
    """What was measured and the rules, by their names. A rule that cannot be read, or goes round in a circle, comes to
    nothing and takes with it what hangs on it; :meth:`check` refuses it."""

    measured: Mapping[str, Measured] = field(default_factory=dict)
    rules: Mapping[str, Rule] = field(default_factory=dict)

    @property
    def order(self) -> tuple[str, ...]:
        """The rules that have a place, each after those it hangs on."""
        return self._sorted[0]

    @cached_property
    def _sorted(self) -> tuple[tuple[str, ...], dict[str, str]]:
        """(the rules in order, why others have no place in it)."""
        arrows, lost = {}, {}
        for name, rule in self.rules.items():
            try:
                arrows[name] = rule.names
                strange = [n for n in rule.names if n not in self.rules and n not in self.measured]
                if strange:
                    raise Refusal("rule", f"hangs on {strange[0]}, which is not here")
            except Refusal as refusal:
                arrows.pop(name, None)
                lost[name] = refusal.message
        while True:
            kept = {name: [n for n in names if n in arrows] for name, names in arrows.items()}
            try:
                return tuple(TopologicalSorter(kept).static_order()), lost
            except CycleError as error:
                ring = error.args[1][::-1]
                lost |= dict.fromkeys(ring, "goes round in a circle: " + " hangs on ".join(ring))
                arrows = {name: names for name, names in arrows.items() if name not in ring}

    @cached_property
    def hangs_on(self) -> dict[str, frozenset[str]]:
        """By rule everything measured that it hangs on, through other rules too; of one without a place nothing."""
        found: dict[str, frozenset[str]] = dict.fromkeys(self.rules, frozenset())
        for name in self.order:
            found[name] = frozenset().union(*(found.get(n, {n}) for n in self.rules[name].names))
        return found

    def using(self, name: str) -> list[str]:
        """The rules that name it themselves, of those that have a place."""
        return [one for one in self.order if name in self.rules[one].names]

    @cached_property
    def lacks(self) -> dict[str, tuple[str, ...]]:
        """By rule what is still missing for it, in words; nothing for a rule that comes to a size."""
        return {name: tuple(Said("{name} {what}", name=one, what=self.measured[one].lacks)
                            for one in sorted(found) if self.measured[one].lacks)
                for name, found in self.hangs_on.items()}

    @property
    def values(self) -> dict[str, Value]:
        """Every size that is known: measured and settled, or ruled from such; and no others."""
        return self._worked[0]

    @property
    def failed(self) -> dict[str, str]:
        """By rule why it comes to no size although all is measured, or one that it hangs on does not."""
        return self._worked[1]

    @cached_property
    def _worked(self) -> tuple[dict[str, Value], dict[str, str]]:
        found = {name: Value(one.dimension, one.settled.values) for name, one in self.measured.items() if not one.lacks}
        failed: dict[str, str] = dict(self._sorted[1])
        for name in self.order:
            if self.lacks[name]:
                continue
            below = next((one for one in self.rules[name].names if one in failed), None)
            try:
                if below:
                    raise Refusal("rule", f"hangs on {below}, which {failed[below]}")
                found[name] = self.rules[name].value(found)
            except Refusal as refusal:
                failed[name] = refusal.message
        return found, failed

    def check(self) -> None:
        """Refuse a rule that could come to no size whatever is measured: one that cannot be read, a circle with the way
        round it, lengths added to angles, several sides where one is wanted."""
        meant = {}
        for n, (name, one) in enumerate(self.measured.items()):
            values = tuple(TRIED + STEP * (2 * n + side) for side in range(1 + one.several))
            meant[name] = Measured(one.dimension, Settled(SETTLED, values), several=one.several)
        name, message = next(iter(Sheet(meant, self.rules).failed.items()), ("", ""))
        if name:
            circle = message.startswith("goes round")
            raise Refusal("rule", message if circle else f"of {name} {message}")

    def working(self, name: str) -> Said:
        """How a rule comes to its size."""
        return self.rules[name].working(self.values)


def moved(before: Mapping[str, Value], after: Mapping[str, Value]) -> set[str]:
    """Names whose size is another now, or known only now, or no longer."""
    def same(one, other):
        return one is not None and other is not None and one.dimension == other.dimension and (
            len(one.values) == len(other.values)
            and all(abs(a - b) < ALIKE for a, b in zip(one.values, other.values, strict=True)))

    return {name for name in before.keys() | after.keys() if not same(before.get(name), after.get(name))}

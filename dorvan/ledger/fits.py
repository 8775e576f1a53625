"""What the samples of each stock and tool come to, worked out once for as long as none comes or goes."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property, lru_cache

from django.db.models import Count, Max

from bendcore.quality.ledger import Learnt, learn

from .models import Pair, Sample

KEPT = 256


@dataclass(frozen=True)
class Known:
    """What the ``samples`` kept of a pair, by their keys, come to."""

    samples: tuple[int, ...]
    learnt: Learnt

    @cached_property
    def places(self) -> dict[int, int]:
        """By key the place of a sample among them."""
        return {pk: n for n, pk in enumerate(self.samples)}

    def reason(self, pk: int) -> str:
        """Why a sample is proposed to be dropped."""
        return self.learnt.reasons[self.places[pk]] if pk in self.places else ""

    def weight(self, pk: int) -> float:
        """A sample's share in K."""
        return self.learnt.k.weights[self.places[pk]] if pk in self.places else 0.0


def known(pair: Pair) -> Known | None:
    """What is known of a pair; None where no sample of it is kept."""
    return known_of([pair])[pair.pk]


def known_of(pairs: Iterable[Pair]) -> dict[int, Known | None]:
    """The same of many, by their keys, looked up at once."""
    pairs = list(pairs)
    state = {row["pair"]: (row["n"], row["last"], row["mark"]) for row in Sample.objects.filter(
        pair__in=pairs).order_by().values("pair").annotate(n=Count("pk", distinct=True), last=Max("pk"),
                                                            mark=Max("marks__pk"))}
    newest = {row.pk: str(row.readings) for row in Sample.objects.filter(pk__in=[s[1] for s in state.values()])}
    return {pair.pk: _known(pair.pk, pair.hem, *state[pair.pk], newest.get(state[pair.pk][1], ""))
            if pair.pk in state else None for pair in pairs}


@lru_cache(maxsize=KEPT)
def _known(pair: int, hem: bool, n: int, last: int, mark: int | None, newest: str) -> Known | None:
    """By all that tells one state of the samples from another: they are only added and marked."""
    rows = list(Sample.objects.filter(pair=pair).kept())
    return Known(tuple(row.pk for row in rows), learn([row.core for row in rows], hem)) if rows else None

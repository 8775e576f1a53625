"""Bends in a row: legs that share bends, from one end to the other, and how an order locates each bend among them."""

from collections.abc import Sequence
from dataclasses import dataclass

from ..order.accuracy.finished import face_under
from ..order.plan import Step
from ..order.proof.gauge import EDGE, FACE
from ..part import Part
from ..sheet.model import Bend


@dataclass(frozen=True)
class Row:
    """Bends in a row as they are drawn on the blank: ``legs`` by name, one more than ``bends``, empty where no leg is
    measured; ``faces`` under them; ``flats`` and ``lines`` as drawn, mm."""

    legs: tuple[str, ...]
    faces: tuple[str, ...]
    bends: tuple[Bend, ...]
    flats: tuple[float, ...]

    @property
    def lines(self) -> list[float]:
        """The middle of each bend."""
        found, at = [], 0.0
        for flat, bend in zip(self.flats, self.bends, strict=False):
            found.append(at + flat + bend.figures.allowance / 2)
            at += flat + bend.figures.allowance
        return found

    @property
    def long(self) -> float:
        """From end to end."""
        return sum(self.flats) + sum(bend.figures.allowance for bend in self.bends)


BESIDE = 100.0
"""A face of which no leg is measured is taken to be so deep, mm."""


def rows(part: Part) -> list[Row]:
    """The rows of bends of a part: legs that share a bend lie in one."""
    legs = {leg.id: leg for leg in part.shape.legs}
    bends = {bend.id: bend for bend in part.sheet.bends}
    at = {name: [leg.id for leg in legs.values() if name in leg.ends] for name in bends}
    found, left = [], dict.fromkeys(bends)
    for hem in [name for name in bends if bends[name].is_hem]:
        at[hem] = [next((leg.id for leg in legs.values() if None in leg.ends
                         and face_under(part, leg) == bends[hem].parent), "")]
    while left:
        first = _end(next(iter(left)), at, legs)
        row = _along(first, at, left)
        found.append(_drawn(_upwards(row, part), part, legs, bends))
    return found


def _upwards(row, part) -> list[tuple[str, str]]:
    """The same from the end nearer to the blank's corner, from which lines are scribed."""
    middle = {line.bend.id: sum(sum(point) for point in line.line) for line in part.flat.bends}
    names = [name for _, name in row if name]
    if middle[names[0]] <= middle[names[-1]]:
        return row
    legs = [leg for leg, _ in reversed(row)]
    return list(zip(legs, [*reversed(names), ""], strict=True))


def _end(bend, at, legs) -> str:
    """The last bend one comes to from another, one way."""
    seen, came = {bend}, at[bend][0] if at[bend] else ""
    while came:
        following = next((name for name, sides in at.items() if came in sides and name not in seen), None)
        if following is None:
            return bend
        bend = following
        seen.add(bend)
        came = next((leg for leg in at[bend] if leg != came), "")
    return bend


def _along(bend, at, left) -> list[tuple[str, str]]:
    """From an end on: (the leg before a bend, the bend)."""
    sides = at[bend]
    inner = next((leg for leg in sides if any(leg in others for name, others in at.items() if name != bend)), "")
    before = next((leg for leg in sides if leg != inner), "")
    found = []
    while bend is not None:
        left.pop(bend, None)
        found.append((before, bend))
        before = next((leg for leg in at[bend] if leg != before), "")
        bend = next((name for name in left if before and before in at[name]), None)
    return [*found, (before, "")]


def _drawn(row, part, legs, bends) -> Row:
    hems = {hem.id: hem for hem in part.shape.hems}
    order = [bends[name] for _, name in row if name]
    faces, flats, names = [], [], []
    for n, (leg, _) in enumerate(row):
        beside = [bend for bend in order[max(n - 1, 0):n + 1] if n - 1 <= order.index(bend) <= n]
        hem = next((bend for bend in beside if bend.is_hem and not leg), None)
        faces.append(face_under(part, legs[leg]) if leg else hem.child if hem else _other(beside[0], faces))
        flats.append(legs[leg].flat if leg else hems[hem.id].flat if hem else BESIDE)
        names.append(leg or (hem.id if hem else ""))
    return Row(tuple(names), tuple(faces), tuple(order), tuple(flats))


def _other(bend, faces) -> str:
    return bend.child if faces and faces[-1] == bend.parent else bend.parent


@dataclass(frozen=True)
class Stroke:
    """How an order makes one bend of a row: at which ``step``, from 0; which ``bend``, by index; whether the side held
    is the ``right`` one; ``over`` the bend whose flange bears on the stop, ``at_edge`` whether the end of the row does.
    Neither of both: by a scribed line."""

    step: int
    bend: int
    right: bool
    over: int | None
    at_edge: bool


def strokes(row: Row, steps: Sequence[Step]) -> list[Stroke]:
    """An order's strokes on a row."""
    names, found = [bend.id for bend in row.bends], []
    for n, step in enumerate(steps):
        for name in step.bends:
            if name not in names or any(name in earlier.bends for earlier in steps[:n]):
                continue
            i = names.index(name)
            right, over, gauge = step.held in row.faces[i + 1:], None, step.gauge
            if gauge.kind == FACE and gauge.of in row.faces:
                over = row.faces.index(gauge.of) - (1 if right else 0)
            found.append(Stroke(n, i, right, over, gauge.kind == EDGE))
    return found


def from_far_end(row: Row, steps: Sequence[Step]) -> list[bool]:
    """By bend of a row, whether it is located from the far end of the blank; scribed lines are measured from the near
    one. One more at either end: the ends themselves."""
    far: dict[int, bool] = {}
    for stroke in strokes(row, steps):
        far[stroke.bend] = far.get(stroke.over, False) if stroke.over is not None else stroke.right and stroke.at_edge
    return [False, *(far.get(i, False) for i in range(len(row.bends))), True]


def closing(row: Row, steps: Sequence[Step]) -> tuple[int, dict[int, int]]:
    """Legs in a row are one more than the bends between them: one of them takes what is left over. Which that is, and
    by step the leg it sets; both by index. It is chosen so that as many strokes as can be set the leg between bend and
    stop; where lines are scribed, one that is bent at both its ends."""
    made = strokes(row, steps)
    last = len(row.legs) - 1

    def sets(stroke, root) -> int:
        return stroke.bend if stroke.bend < root else stroke.bend + 1

    def agrees(root) -> int:
        return sum(sets(s, root) == s.bend + s.right for s in made if s.at_edge or s.over is not None)

    named = [n for n, leg in enumerate(row.legs) if leg] or [0]
    root = max(named, key=lambda n: (agrees(n), 0 < n < last, row.flats[n]))
    return root, {s.step: sets(s, root) for s in made}

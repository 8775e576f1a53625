"""The states of an order as small pictures: what each step made stands out, and is shown larger where the eye would
not find it in the whole part."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bendcore.order.plan import Step
from bendcore.part import Part
from bendcore.sheet.fold import Folded, fold
from bendcore.sheet.model import Edge, Point
from bendcore.sheet.section import Piece
from bendcore.sheet.vectors import cross, unit

from .fit import Fit
from .section import pieces_of
from .still import AZIMUTH, projected, seen_from

WIDTH, HEIGHT = 180, 84
SEEN = 9.0
"""What a bend turns up is not seen where it is smaller than this, pixels."""
LENS = 50.0
"""The side of what is drawn larger, pixels; what was turned up fills a third of it."""
FACET = 30.0
"""How far an arc turns between its points, °."""
ALONG = 0.999
"""The cosine of how far a bend may turn from another and still be seen along with it."""
RIGHT, UP, AWAY = seen_from(AZIMUTH, np.radians(30))


@dataclass(frozen=True)
class Lens:
    """What a step bent, cut across and seen along the bend: at (``x``, ``y``), ``side`` wide and high, so many
    ``times`` as large as in the picture about it. ``box`` is its own viewBox in mm; ``lines`` and ``made`` are SVG
    paths down the middle of the sheet, to be drawn as thick as ``sheet``, mm."""

    x: float
    y: float
    side: float
    times: int
    box: str
    lines: str
    made: str
    sheet: float


@dataclass(frozen=True)
class Picture:
    """A state: ``d``, a strip's section, or the ``faces``; ``made``, the zones that the step bent, all SVG paths."""

    d: str
    faces: list[str]
    made: str = ""
    lens: Lens | None = None
    width: int = WIDTH
    height: int = HEIGHT


@dataclass(frozen=True)
class Card:
    """A state of the film: the part after ``step`` (0: flat), which made ``bend`` and those with it; ``done`` where
    that is bent already."""

    step: int
    title: str
    picture: Picture
    bend: str = ""
    done: bool = False


def film(part: Part, steps: Sequence[Step]) -> list[Card]:
    """The states of an order, flat first: a picture after each step, of a strip its section."""
    angles = {b.bend.id: 0.0 for b in part.flat.bends}
    strip = part.shape.is_strip
    draw = _section if strip else _faces
    cards = [Card(0, "flat", draw(part, angles, ()))]
    for n, step in enumerate(steps, 1):
        for name in step.bends:
            angles[name] = step.angle
        called = part.shape.short if strip else part.shape.called
        title = called(step.bends[0]) + (f" and {len(step.bends) - 1} more" if len(step.bends) > 1 else "")
        cards.append(Card(n, title, draw(part, angles, step.bends), step.bends[0]))
    return cards


def finished(part: Part) -> Picture:
    """A part as it is when all is bent: of a strip its section."""
    angles = {b.bend.id: b.bend.angle for b in part.flat.bends}
    return (_section if part.shape.is_strip else _faces)(part, angles, ())


def _section(part, angles, made) -> Picture:
    pieces = pieces_of(part, list(angles.values()))
    fit = Fit.into(np.concatenate([p.outline for p in pieces]), 10, 8, WIDTH - 20, HEIGHT - 16)
    bent = [fit.path(piece.outline) for piece in pieces if piece.id in made]
    drawn = np.concatenate([fit.all(p.outline) for p in pieces])
    return Picture(" ".join(fit.path(p.outline) for p in pieces), [], "".join(bent),
                   _lens(part, made, fit.scale, drawn, lambda name, _: _along(pieces, name)))


def _faces(part, angles, made) -> Picture:
    """Its faces as panes, seen from above and the front."""
    folded = fold(part.sheet, angles=angles, facet=FACET, flat=part.flat)
    seen = [projected(face.corners, RIGHT, UP) for face in folded.faces]
    fit = Fit.into(np.concatenate(seen), 10, 6, WIDTH - 20, HEIGHT - 12)
    order = np.argsort([float(np.mean(face.corners @ AWAY)) for face in folded.faces])[::-1]
    bent = [fit.path(projected(np.concatenate([bend.arc[:, 0], bend.arc[::-1, 1]]), RIGHT, UP))
            for bend in folded.bends if bend.id in made]
    drawn = np.concatenate([fit.all(ring) for ring in seen])
    return Picture("", [fit.path(seen[k]) for k in order], "".join(bent),
                   _lens(part, made, fit.scale, drawn, lambda name, far: _across(folded, name, far)))


def _lens(part, made, scale, drawn, cut) -> Lens | None:
    """About the step's first bend, where what it turned up is too small to be seen; in the corner farthest from all
    that is ``drawn``, pixels (n, 2). ``cut`` gives the lines of the sheet cut across a bend, so far about it, and the
    bend's own."""
    bend = next((bend for bend in part.sheet.bends if bend.id in made[:1]), None)
    if bend is None:
        return None
    outlines = {face.id: face.outline for face in part.sheet.faces}
    turned = min(_reach(outlines[bend.parent], bend.parent_edge), _reach(outlines[bend.child], bend.child_edge))
    if scale * turned >= SEEN:
        return None
    wide = max(3 * turned, 12 * part.sheet.thickness)
    lines, arc = cut(bend.id, wide)
    corners = [(left, top) for left in (3.0, WIDTH - LENS - 3) for top in (3.0, HEIGHT - LENS - 3)]
    free = [float(np.hypot(*(drawn - (left + LENS / 2, top + LENS / 2)).T).min()) for left, top in corners]
    left, top = corners[int(np.argmax(free))]
    x, y = middle = arc.mean(axis=0)
    lines = [line for line in lines if (line.min(axis=0) - wide <= middle).all() and (
        line.max(axis=0) + wide >= middle).all()]
    return Lens(left, top, LENS, round(LENS / wide / scale),
                f"{x - wide / 2:.2f} {-y - wide / 2:.2f} {wide:.2f} {wide:.2f}", "".join(map(_line, lines)), _line(arc),
                part.sheet.thickness)


def _along(pieces: Sequence[Piece], name: str) -> tuple[list[np.ndarray], np.ndarray]:
    """A strip's section as lines (n, 2) down the middle of its pieces, mm, and that of one of its bends."""
    lines = {piece.id: (piece.outline[:len(piece.outline) // 2] + piece.outline[:len(piece.outline) // 2 - 1:-1]) / 2
             for piece in pieces}
    return list(lines.values()), lines[name]


def _across(folded: Folded, name: str, within: float) -> tuple[list[np.ndarray], np.ndarray]:
    """The sheet cut across one of its bends, as lines (n, 2) down its middle, mm: what is joined to it by bends along
    it and no farther off, and the bend itself. The face that it is bent from lies level."""
    bends, faces = {bend.id: bend for bend in folded.bends}, {face.id: face for face in folded.faces}
    bend = bends[name]
    along = unit(bend.arc[0, 1] - bend.arc[0, 0])
    axes = np.stack([cross(along, bend.normals[0]), bend.normals[0]], axis=-1)
    origin, half = bend.arc[0].mean(axis=0), folded.thickness / 2
    lines, left, seen = [], [bend.parent, bend.child], {bend.id}
    while left:
        face = faces[left.pop()]
        cut = (face.corners - half * face.normal - origin) @ axes
        far = cut[np.argmax(np.hypot(*(cut - cut[0]).T))]
        lines.append(np.stack([cut[np.argmax(np.hypot(*(cut - far).T))], far]))
        for other in folded.bends:
            if other.id in seen or face.id not in (other.parent, other.child):
                continue
            if abs(unit(other.arc[0, 1] - other.arc[0, 0]) @ along) > ALONG:
                seen.add(other.id)
                arc = _middle(other, half, origin) @ axes
                if np.hypot(*arc.T).min() > within:
                    continue
                lines.append(arc)
                left.append(other.child if other.parent == face.id else other.parent)
    return lines, _middle(bend, half, origin) @ axes


def _middle(bend, half, origin) -> np.ndarray:
    return bend.arc.mean(axis=1) - half * bend.normals - origin


def _line(points) -> str:
    return "M" + "L".join(f"{x:.2f},{-y:.2f}" for x, y in points.tolist())


def _reach(outline: Sequence[Point], edge: Edge) -> float:
    """How far a face reaches from one of its edges, mm."""
    (x0, y0), (x1, y1) = edge
    long = math.hypot(x1 - x0, y1 - y0)
    return max(abs((x - x0) * (y1 - y0) - (y - y0) * (x1 - x0)) for x, y in outline) / long if long else 0.0

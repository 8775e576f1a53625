"""Where things are picked on a flat: faces, holes, edges and corners of the outline, lines."""

from typing import NamedTuple

from bendcore.part import Part
from bendcore.part_file import field_at

from .hands import WHOLE, Thing

FACE, LINE, POINT = "face", "line", "point"
POINT_SIZE = 11
"""Half the size of what is tapped for a corner, pixels."""


class Pick(NamedTuple):
    """A path to be tapped, and the thing that it takes in hand; or the ``field`` whose input stands beside it."""

    name: str
    title: str
    kind: str
    d: str
    field: str = ""


def net_picks(part: Part, view: dict, things: list[Thing]) -> list[Pick]:
    """Every thing of a part laid open where it lies, those that lie on others last."""
    shape, fit, titles = part.shape, view["fit"], {thing.name: thing.title for thing in things}
    found = {WHOLE: ""}
    for face, path in zip(part.flat.faces, fit.paths(list(part.flat.faces.values())), strict=True):
        name = shape.thing(face)
        name = name if name in titles else WHOLE
        found[name] = found.get(name, "") + path
    picks = [Pick(name, titles[name], FACE, d) for name, d in found.items() if d]
    for hole, drawn in zip(part.flat.holes, view["holes"], strict=True):
        place = field_at(f"shape.{hole.path}", shape.kind) if hole.path else None
        if place and place.thing in titles and place.thing not in found:  # those in a flange are the flange's
            picks.append(Pick(place.thing, titles[place.thing], FACE, drawn["d"]))
    dx, dy = part.flat.shift
    edges = [(n, [(x + dx, y + dy) for x, y in edge]) for n, edge in shape.counted_edges()]
    return picks + (outline_picks(edges, fit, things) if edges else [])


def line_picks(part: Part, view: dict, things: list[Thing]) -> list[Pick]:
    """The bend lines of a drawing."""
    titles = {thing.name: thing.title for thing in things}
    ends = view["fit"].all([b.line for b in part.flat.bends] or [((0, 0), (0, 0))]).tolist()
    return [Pick(b.bend.id, titles[b.bend.id], LINE, f"M{x0:g},{y0:g}L{x1:g},{y1:g}")
            for b, ((x0, y0), (x1, y1)) in zip(part.flat.bends, ends, strict=False)]


def outline_picks(numbered: list[tuple[int, tuple]], fit, things: list[Thing]) -> list[Pick]:
    """Edges and corners of an outline; (number, points from its corner to the next) by edge."""
    titles = {thing.name: thing.title for thing in things}
    lines = [(n, fit.all(edge).tolist()) for n, edge in numbered]
    found = [(f"edge-{n}", LINE, "M" + "L".join(f"{x:g},{y:g}" for x, y in line)) for n, line in lines]
    found += [(f"corner-{n}", POINT, square(line[0])) for n, line in lines]
    return [Pick(name, titles[name], kind, d) for name, kind, d in found if name in titles]


def square(at) -> str:
    """What is tapped for a point of the page."""
    (x, y), r = at, POINT_SIZE
    return f"M{x - r:.1f},{y - r:.1f}h{2 * r}v{2 * r}h{-2 * r}Z"



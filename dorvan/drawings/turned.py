"""How the sheet is turned before a step, drawn as one movement from where the operator stands: as it lay, on its way,
as it comes to lie, and the path of the corner that goes farthest."""

import numpy as np

from bendcore.order.explain.scene import FREE, HELD, Solid
from bendcore.order.explain.turning import Turning, part_of

from .fit import Fit
from .scene import AZIMUTH, ELEVATION, framed, panes
from .still import projected, seen_from

GHOSTS = ((0.0, 0.32), (0.35, 0.14), (0.68, 0.14))
"""How far along the sheet is shown, and how strongly; 1 as it comes to lie."""
POINTS = 24
HEAD = 11
"""Of the path's arrow, pixels."""
ROOM = 22


def turned_svg(lay: list[Solid], turning: Turning, good: str = "", width=300, height=240) -> str:
    """The picture as a file of its own; ``lay`` are the bodies after the stroke before."""
    part = [Solid(one.name, HELD, one.faces) for one in part_of(lay)]
    corners = np.concatenate([face for one in part for face in one.faces[:2]])
    right, up, _ = seen_from(AZIMUTH, ELEVATION)
    path = np.array([turning.at(corners, share) for share in np.linspace(0, 1, POINTS)])
    fit = Fit.into(projected(path.reshape(-1, 3), right, up), ROOM, ROOM, width - 2 * ROOM, height - 2 * ROOM)
    layers = ""
    for share, strength in (*GHOSTS, (1.0, 1.0)):
        kind = HELD if share == 1 else FREE
        drawn = panes([Solid(one.name, kind, one.faces) for one in turning.of(part, share)], good, fit)
        layers += f'<g opacity="{strength}">' + "".join(pane.svg for pane in drawn) + "</g>"
    farthest = np.argmax(np.linalg.norm(path[-1] - path[0], axis=1))
    return framed(layers + _arrow(fit.all(projected(path[:, farthest], right, up))), width, height)


def _arrow(points: np.ndarray) -> str:
    """A path with its head."""
    line = "M" + "L".join(f"{x:.1f},{y:.1f}" for x, y in points)
    tip = points[-1]
    back = next((one for one in points[::-1] if np.linalg.norm(tip - one) > HEAD), points[0])
    way = (tip - back) / max(np.linalg.norm(tip - back), 1e-9)
    side = np.array([-way[1], way[0]]) * HEAD * 0.45
    head = "L".join(f"{x:.1f},{y:.1f}" for x, y in (tip - way * HEAD + side, tip, tip - way * HEAD - side))
    return (f'<g fill="none" stroke="#7a1f0f" stroke-width="3" stroke-linecap="round"><path d="{line}"/>'
            f'<path d="M{head}"/></g>')

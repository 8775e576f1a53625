"""The finished part with the rows of its check sheet where they are measured, and how far readings are out."""

from collections.abc import Iterable

import numpy as np
import shapely

from bendcore.part import Part
from bendcore.quality.checksheet import CheckRow
from bendcore.quality.where import Corner, Stretch, where
from bendcore.sheet import fold
from bendcore.sheet.fold import Folded
from bendcore.sheet.rings import polygons
from bendcore.sheet.vectors import cross

from .fit import Fit
from .places import places as places_for
from .still import AZIMUTH, ELEVATION, projected, seen_from

WIDTH, HIGH, MARGIN = 560, 380, 34
ARC = 26.0
"""An angle is drawn at so many pixels from its apex."""
SEEN = 30.0
"""The reading that is farthest out is drawn so many pixels long."""
FACTORS = (1, 2, 5, 10, 20, 50, 100, 200)
ARC_STEPS = 12
LETTER, NAMED = 7.0, (14, 20, 28, 38, 52, 70)
"""Wide as a letter of a name, and how far off its line one may stand, pixels."""
FACET = 15.0
"""Bends are drawn in steps of so many degrees."""


def checked_view(part: Part, rows: Iterable[CheckRow] = ()) -> dict:
    """Faces and bends of the part, far to near, a line or an arc for each row that has a place on it, and for each of
    ``rows`` that was measured a bar from there, all of one factor. A strip is seen from its end, everything else from
    the front."""
    folded = fold(part.sheet, facet=FACET, flat=part.flat)
    places = where(part, folded)
    strip = part.shape.is_strip and bool(part.shape.bends)
    axes = _along_its_bends(part, folded) if strip else seen_from(AZIMUTH, ELEVATION)
    right, up, away = axes

    def seen(points):
        return projected(np.asarray(points), right, up)
    ends = [end for place in places.values() if isinstance(place, Stretch) for end in (place.first, place.second)]
    rings = sorted((_ends if strip else _tops)(folded), key=lambda ring: -float(np.mean(ring @ away)))
    fit = Fit.into(np.concatenate([*map(seen, rings), *([seen(ends)] if ends else [])]),
                   MARGIN, MARGIN, WIDTH - 2 * MARGIN, HIGH - 2 * MARGIN)
    drawn = {name: _stretch(fit, seen, place) if isinstance(place, Stretch) else _corner(fit, seen, place)
             for name, place in places.items()}
    out = {row.dimension.name: row for row in rows if row.dimension.name in drawn}
    factor = _factor(fit.scale, out.values())
    for name, row in out.items():
        off = row.measured - row.dimension.nominal
        bar = _stretched if isinstance(places[name], Stretch) else _turned
        drawn[name] |= {"off": bar(drawn[name], off * factor, fit.scale), "verdict": row.verdict}
    rings = [seen(ring) for ring in rings]
    metal = [fit.all(ring) for ring in rings]
    names = _names(part, places, drawn, shapely.union_all(shapely.make_valid(polygons(metal)) if strip else ()))
    return {"width": WIDTH, "height": HIGH, "rings": [ring.tolist() for ring in metal], "metal": fit.paths(rings),
            "names": names, "factor": factor if out else None,
            "places": [{"name": name, "d": _path(place["strokes"]), "strokes": place["strokes"],
                        "off": place.get("off"), "verdict": place.get("verdict", "")}
                       for name, place in drawn.items()]}


def _names(part: Part, places: dict, drawn: dict, metal) -> list[dict]:
    """What legs, edges and a strip's bends are called, beside their lines and clear of each other; none where there is
    no room for all."""
    strip, middle = part.shape.is_strip, np.array([WIDTH, HIGH]) / 2
    labels = []
    for name, place in places.items():
        if not name.startswith("hole-") and (strip or isinstance(place, Stretch)):
            at = drawn[name]["middle"]
            square = np.array([-drawn[name]["way"][1], drawn[name]["way"][0]])
            out = square if (at - middle) @ square >= 0 else -square
            text = part.shape.short(name).removeprefix("edge-").replace("-", " ")
            labels.append({"name": name, "text": text, "at": at, "away": float(np.arctan2(out[1], out[0]))})
    sizes = [(LETTER * len(label["text"]) + 6, 15) for label in labels]
    found = places_for(labels, sizes, NAMED, np.array([2, 2, WIDTH - 2, HIGH - 2]), metal) or []
    return [{"name": label["name"], "text": label["text"], "x": (left + right) / 2, "y": bottom - 3}
            for label, (left, _, right, bottom) in zip(labels, found, strict=False)]


def _tops(folded: Folded) -> list[np.ndarray]:
    """The top of every face and bend, (n, 3) each."""
    return [*(face.corners for face in folded.faces),
            *(np.concatenate([bend.arc[:, 0], bend.arc[::-1, 1]]) for bend in folded.bends)]


def _ends(folded: Folded) -> list[np.ndarray]:
    """The end of every face and bend of a strip, in the thickness of its sheet."""
    t, found = folded.thickness, []
    edges = {name: end for bend in folded.bends
             for name, end in ((bend.parent, bend.arc[0, 0]), (bend.child, bend.arc[-1, 0]))}
    along = folded.bends[0].arc[0, 1] - folded.bends[0].arc[0, 0]
    for face in folded.faces:
        across = cross(along, face.normal)
        reach = face.corners @ across / (across @ across)
        here = edges[face.id]
        one, other = (here + (at - here @ across / (across @ across)) * across for at in (reach.min(), reach.max()))
        found.append(np.array([one, other, other - t * face.normal, one - t * face.normal]))
    return found + [np.concatenate([bend.arc[:, 0], (bend.arc[:, 0] - t * bend.normals)[::-1]])
                    for bend in folded.bends]


def _along_its_bends(part: Part, folded: Folded) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Seen along the bends, the root face lying and its first bend to the right."""
    bend = part.sheet.bends[0]
    frame = folded.frames[bend.parent]
    near = frame(np.array(bend.parent_edge))
    away = (near[1] - near[0]) / np.linalg.norm(near[1] - near[0])
    right = cross(away, frame.normal)
    return right, frame.normal, away


def _stretch(fit: Fit, seen, place: Stretch) -> dict:
    """A line with a stroke across each end."""
    one, other = (fit.all(seen(end)) for end in (place.first, place.second))
    way = other - one
    long = float(np.hypot(*way)) or 1.0
    across = 5 * np.array([-way[1], way[0]]) / long
    strokes = [(one, other), (one - across, one + across), (other - across, other + across)]
    return {"strokes": [np.array(stroke).tolist() for stroke in strokes], "end": other, "way": way / long,
            "middle": (one + other) / 2}


def _corner(fit: Fit, seen, place: Corner) -> dict:
    """The arc from how the face before would run on to the face beyond, and a line on to it."""
    apex = fit.all(seen(place.apex))
    turns = np.linspace(0, 1, ARC_STEPS)[:, None]
    full = float(np.arccos(np.clip(place.on @ place.beyond, -1, 1)))
    square = place.beyond - (place.beyond @ place.on) * place.on
    square = square / (np.linalg.norm(square) or 1.0)

    def at(turn):
        turn = np.asarray(turn, float).reshape(-1, 1)
        found = seen(np.cos(turn) * place.on + np.sin(turn) * square)
        return apex + ARC * found * [1, -1]
    arc = at(full * turns)
    on = apex + 1.3 * (arc[0] - apex)
    chord = (arc[-1] - arc[0]) / (np.hypot(*(arc[-1] - arc[0])) or 1.0)
    return {"strokes": [[apex.tolist(), on.tolist()], arc.tolist()], "at": at, "full": full, "way": chord,
            "middle": arc[ARC_STEPS // 2]}


def _factor(scale: float, rows: Iterable[CheckRow]) -> int:
    """How many times too far readings are drawn, so that the one farthest out is seen: degrees as the arc is long."""
    far = [abs(row.measured - row.dimension.nominal) * (scale if row.dimension.unit == "mm" else np.radians(ARC))
           for row in rows]
    most = max(far, default=0.0)
    return max((factor for factor in FACTORS if factor * most <= SEEN), default=1)


def _stretched(place: dict, more: float, scale: float) -> str:
    """From the end of a line to where the reading would end."""
    beyond = place["end"] + np.clip(more * scale, -3 * SEEN, 3 * SEEN) * place["way"]
    return _path([[place["end"], beyond]])


def _turned(place: dict, more: float, _) -> str:
    """From the face beyond to how it would run with the angle as it was read."""
    turns = np.linspace(place["full"], place["full"] + np.clip(np.radians(more), -1.5, 1.5), ARC_STEPS)
    return _path([place["at"](turns)])


def _path(strokes: Iterable) -> str:
    """Each from its first point to its last."""
    return "".join("M" + "L".join(f"{x:.1f},{y:.1f}" for x, y in stroke) for stroke in strokes)


"""Limits, looked at before anything is cut. The one place for these rules.

Each check says what, where, how far off, and ways out. ``stop`` blocks release,
``caution`` and ``note`` do not. Rules are *start* values of general shop practice;
see handbook practice on minimum radius, shortest leg, die choice and force.
"""

from dataclasses import dataclass

from shapely import STRtree

from .. import bend as bends
from .section import Strip

STOP, CAUTION, NOTE = "stop", "caution", "note"
CLASH = 0.05
"""Faces of the folded part may touch; an overlap deeper than this is a clash, mm."""


@dataclass(frozen=True)
class Notice:
    code: str
    severity: str
    where: str
    message: str
    ways_out: tuple[str, ...] = ()

    def as_dict(self) -> dict:
        return {"code": self.code, "severity": self.severity, "where": self.where,
                "message": self.message, "ways_out": list(self.ways_out)}


def check_part(part) -> list[Notice]:
    """Every notice for a part as it stands, worst first."""
    found = [*_radius(part), *_legs(part), *_hems(part), *_clashes(part)]
    rank = {STOP: 0, CAUTION: 1, NOTE: 2}
    return sorted(found, key=lambda n: rank[n.severity])


def merged(notices: list[Notice]) -> list[Notice]:
    """Notices that say the same of several places, as one; for showing."""
    places: dict[tuple, list[str]] = {}
    for n in notices:
        places.setdefault((n.code, n.severity, n.message, n.ways_out), []).append(n.where)
    return [Notice(code, severity, ", ".join(where), message, ways_out)
            for (code, severity, message, ways_out), where in places.items()]


def _radius(part):
    alloy, t = part.stock.material, part.stock.thickness
    across, along = alloy.min_radius_over_t_across * t, alloy.min_radius_over_t_along * t
    for bend in part.shape.bends:
        r = bend.figures.inside_radius
        if r < across - 1e-9:
            yield Notice("radius", STOP, bend.id,
                         f"inside radius {r:.2f} mm is {across - r:.2f} mm below the least for "
                         f"{alloy.name} across the grain ({across:.2f} mm)",
                         (f"open the radius to {across:.2f} mm", "choose a softer temper or thinner stock"))
        elif r < along - 1e-9:
            yield Notice("radius-along", NOTE, bend.id,
                         f"inside radius {r:.2f} mm is enough across the grain but not along it "
                         f"({along:.2f} mm)",
                         ("lay the bend lines across the grain, or at 45° when bends run both ways",))


def _legs(part):
    die = part.die
    if not die:
        return
    shape = part.shape
    for i, leg in enumerate(shape.legs):
        for bend, far in ((shape.bends[i - 1] if i else None, i == len(shape.legs) - 1),
                          (shape.bends[i] if i < len(shape.bends) else None, i == 0)):
            if bend is None:
                continue
            need = bends.shortest_flat(bend.figures, die.v, die.shoulder_radius) + bends.LEG_MARGIN
            have = leg.flat + bend.figures.allowance / 2
            if have < need - 1e-9 and far:
                yield Notice("leg", STOP, leg.id,
                             f"{have:.2f} mm from the line of {bend.id}, {need - have:.2f} mm too short "
                             f"for the V {die.v:g} die",
                             (f"lengthen the leg by {need - have:.2f} mm", "use a narrower V",
                              "bend it long and cut it back"))
            elif have < need - 1e-9:
                yield Notice("jog", CAUTION, leg.id,
                             f"short web between bends: {have:.2f} mm from the line of {bend.id}, the "
                             f"V {die.v:g} die wants {need:.2f} mm",
                             ("use a narrower V", "use a jog tool", "open the step"))
    t = part.stock.thickness
    if not 5 * t <= die.v <= 12 * t:
        yield Notice("die", CAUTION, "die", f"V {die.v:g} on {t:g} mm: usual is {6 * t:g} to {10 * t:g}",
                     ("choose a die near 6 to 8 times the thickness",))


def _hems(part):
    t = part.stock.thickness
    for hem in part.shape.hems:
        if hem.length < 4 * t + hem.gap:
            yield Notice("hem", CAUTION, hem.id,
                         f"a hem of {hem.length:g} mm is short for {t:g} mm stock; it is hard to start",
                         (f"make it at least {4 * t + hem.gap:g} mm",))
        leg = part.shape.legs[0 if hem.id == "HS" else -1]
        if hem.length > leg.outside + 1e-9 and part.shape.bends:
            yield Notice("hem-long", CAUTION, hem.id,
                         f"the hem ({hem.length:g} mm) is longer than the leg it lies on ({leg.outside:g} mm)",
                         ("shorten the hem", "lengthen the leg"))


def _clashes(part):
    strip = Strip.of(part.sheet)
    pieces = strip.whole([b.figures.angle for b in strip.bends])
    inner = [piece.polygon.buffer(-CLASH / 2, join_style="mitre") for piece in pieces]
    tree = STRtree(inner)
    seen = set()
    for one, other in zip(*tree.query(inner, predicate="intersects"), strict=True):
        if other - one < 2 or inner[one].is_empty or inner[other].is_empty:
            continue
        pair = (pieces[one].id, pieces[other].id)
        if pair not in seen:
            seen.add(pair)
            yield Notice("clash", STOP, pair[0], f"{pair[0]} and {pair[1]} run through each other when folded",
                         ("shorten one of them", "change an angle or a direction"))

"""Bending on a press brake; where part and punch stand through a stroke is :mod:`.travel`'s.

Hems are creased by an acute pair and closed between flattening bars: a die of kind ``flatten`` below and its mirror
image above, centred on the flap.
"""

from collections.abc import Iterator

import numpy as np
import shapely
from shapely import Polygon, box
from shapely.affinity import scale, translate
from shapely.geometry.base import BaseGeometry

from ..bending import bend as bends
from ..bending.bend import BendFigures
from ..bending.radius import usual_opening
from ..said import Deg, Mm, Said
from .press import PressBrake
from .setting import (
    FRAME,
    FREE,
    HELD,
    HEM_CREASE,
    LEAST_CREASE,
    PIECES,
    WHOLE,
    Meeting,
    Path,
    Reason,
    Stroke,
    Tool,
    Way,
    disc,
    kept,
    still,
)
from .shapes import FAR, inset, swept
from .travel import Tools, Travel, daylight

HEM_FORCE = 4.0
"""Closing a hem takes about this many times the air-bending force (*start*)."""
SHARES = (0.0, 0.15, 0.3, 0.45, 0.6, 0.75, 0.9)
"""A part is lifted by this share of the daylight before it is drawn out forwards."""
PUNCH, DIE = "punch", "die"


class OnPress:
    """A :class:`~bendcore.brakes.setting.OnBrake` for press brakes; :attr:`mounts` are pairs of tools."""

    hangs, stops = False, True
    deepest = None

    def __init__(self, brake: PressBrake):
        self.brake, self.name, self.kind, self.costs = brake, brake.name, brake.kind, brake.costs
        self.most = brake.length
        self.mounts = tuple(Tools(p, d) for d in brake.dies if d.kind == "v" for p in brake.punches) + tuple(
            Tools(None, d) for d in brake.dies if d.kind == "flatten")

    def mounts_for(self, stroke: Stroke) -> tuple[int, ...]:
        """Pairs for bending, those over dies near the usual opening first; flatteners for closing hems."""
        fit = [m for m, tools in enumerate(self.mounts) if (tools.punch is None) == stroke.closing]
        usual = usual_opening(stroke.thickness)
        return tuple(sorted(fit, key=lambda m: abs(self.mounts[m].die.v - usual)))

    def pieces(self, mount: int) -> dict[str, tuple[float, ...]]:
        """The lengths of punch and die; the bar over a flattener is as long as the one below."""
        tools = self.mounts[mount]
        return {PUNCH: (tools.punch or tools.die).lengths, DIE: tools.die.lengths}

    def crease(self, springback: float) -> float:
        """How far a hem is creased: as far as the sharpest pair goes, at most 135°."""
        pairs = [max(t.punch.angle, t.die.angle) for t in self.mounts if t.punch]
        if not pairs:
            return LEAST_CREASE
        return max(LEAST_CREASE, min(HEM_CREASE, (180 - min(pairs)) / (1 + springback / 90)))

    # --- limits ------------------------------------------------------------------------

    def reasons(self, stroke: Stroke, mount: int) -> list[Reason]:
        """Length, daylight, angle and force, in every state."""
        tools, found = self.mounts[mount], []
        if stroke.length > self.brake.length + 1e-9:
            found.append(Reason("machine-length", Said("{wide} long; the brake is {brake}", wide=Mm(stroke.length),
                                                       brake=Mm(self.brake.length))))
        gap = daylight(self.brake, tools.punch, tools.die)
        if gap <= stroke.thickness:
            found.append(Reason("open-height", Said("{gap} are left between the tools with the ram up", gap=Mm(gap))))
        if not stroke.closing:
            for tool in (tools.punch, tools.die):
                if tool.angle > 180 - stroke.bend_to + 1e-6:
                    found.append(Reason("tool-angle", Said(
                        "{tool} is {own}°; bending to {angle} needs {needed}° or sharper", tool=tool.name,
                        own=f"{tool.angle:g}", angle=Deg(round(stroke.bend_to, 1)),
                        needed=f"{180 - stroke.bend_to:.1f}")))
            sharpest = max(tools.punch.angle, tools.die.angle)
            if stroke.is_hem and LEAST_CREASE * stroke.bend_to / stroke.angle > 180 - sharpest + 1e-6:
                found.append(Reason("acute-pair", "needs an acute pair to crease the hem"))
        return found + list(self._force(stroke, tools))

    def _force(self, stroke, tools):
        opening = 6 * stroke.thickness if stroke.closing else tools.die.v
        factor = HEM_FORCE if stroke.closing else 1.0
        per_metre = factor * bends.tonnage(stroke.tensile, stroke.thickness, opening)
        force = per_metre * stroke.length / 1000
        if force > self.brake.tonnage_kn:
            yield Reason("force", Said("{force} kN over V {v}; the brake gives {most} kN", force=f"{force:.0f}",
                                       v=Mm(opening), most=f"{self.brake.tonnage_kn:.0f}"))
        for tool in filter(None, (tools.punch, tools.die)):
            if tool.max_kn_per_m and per_metre > tool.max_kn_per_m:
                yield Reason("tool-force", f"{per_metre:.0f} kN/m; {tool.name} is rated {tool.max_kn_per_m:.0f} kN/m")

    def need(self, stroke: Stroke, mount: int, half: str) -> float:
        """The shortest flat that stays on the die, from the tangent line, for a hem at its crease."""
        if stroke.closing:
            return 0.0
        figures, die = stroke.figures, self.mounts[mount].die
        if stroke.is_hem:
            figures = BendFigures(stroke.angle, figures.radius_at(stroke.angle), figures.thickness, figures.allowance)
        return bends.shortest_flat(figures, die.v, die.shoulder_radius) + bends.LEG_MARGIN - figures.allowance / 2

    def sight(self, stroke: Stroke) -> float | None:
        """A press brake has none: the bend line lies under the punch."""
        return None

    # --- motion ------------------------------------------------------------------------

    def travel(self, stroke: Stroke, mount: int) -> Travel:
        """How part and punch go through this stroke."""
        return self._travel(stroke.figures, mount)

    @kept
    def _travel(self, figures, mount) -> Travel:
        tools = self.mounts[mount]
        return Travel(figures, tools.punch.tip_radius if tools.punch else 0.0,
                      tools.die if tools.die.kind == "v" else None)

    @kept
    def upper(self, mount: int) -> dict[str, Polygon]:
        """At rest with the punch tip, or the upper bar's face, at (0, 0)."""
        punch, die, ram = self.mounts[mount].punch, self.mounts[mount].die, np.asarray(self.brake.ram_section)
        if punch is None:
            plate = np.asarray(die.section) * (1, -1)
            return {PUNCH: Polygon(plate), "ram": Polygon(ram + (0, plate[:, 1].max()))}
        return {PUNCH: punch.polygon, "ram": Polygon(ram + (0, max(z for _, z in punch.section)))}

    @kept
    def lower(self, mount: int) -> dict[str, Polygon]:
        """What stands still: die, table, and side frames."""
        die = self.mounts[mount].die
        low = min(z for _, z in die.section)
        found = {DIE: die.polygon, "table": Polygon(np.asarray(self.brake.table_section) + (0, low))}
        if self.brake.frame_section:
            found[FRAME] = Polygon(np.asarray(self.brake.frame_section) + (0, low))
        return found

    def _spared(self, name, mount, t) -> BaseGeometry:
        """What faces of the bend being made may touch."""
        tools = self.mounts[mount]
        if name == PUNCH and tools.punch:
            return disc(tools.punch.tip_radius + t)
        if name == DIE:
            if tools.die.kind != "v":
                return box(-FAR, -1.0, FAR, FAR)
            half = tools.die.v / 2 + tools.die.shoulder_radius + 0.1
            return box(-half, -FAR, half, FAR)
        return Polygon()

    @kept
    def _regions(self, mount, t) -> dict[str, tuple[BaseGeometry, BaseGeometry]]:
        """By tool: inset for own faces, and for all others."""
        return {name: (inset(shape).difference(self._spared(name, mount, t)), inset(shape))
                for name, shape in (*self.upper(mount).items(), *self.lower(mount).items())}

    def depends(self, name: str, mount: int) -> str:
        """The tool whose section an answer depends on."""
        tools = self.mounts[mount]
        return tools.punch.name if name in (PUNCH, "ram") and tools.punch else tools.die.name

    def _met(self, name, mount, halves, regions, key, ends=None) -> list[Meeting]:
        """Both halves against one tool; the same from the front and the back where it is even and moves but up and
        down."""
        even = key[0] != "forwards" and self._is_even(name, mount)
        reach = FRAME if name == FRAME else PIECES if name in (PUNCH, DIE) else WHOLE
        return [Meeting(name, half, 1 if even else side, path, lambda: _thrice(regions()),
                        (id(self), name, *key, 1 if even else side), (id(self), *key, name in (PUNCH, "ram")), ends,
                        reach, name if reach == PIECES else "")
                for half, side, path in halves]

    @kept
    def swing(self, stroke: Stroke, mount: int) -> tuple[Meeting, ...]:
        """Punch and ram, die, table and frames, from touch to the overbent angle."""
        if stroke.closing:
            return self._flatten(stroke, mount)
        travel, end, found = self.travel(stroke, mount), stroke.bend_to, []

        def under(angles):
            y, z, h, tip = travel.path(angles)
            return y, z - tip, h

        def over(angles):
            return travel.path(angles)[:3]

        regions = self._regions(mount, stroke.thickness)
        for names, path in (((PUNCH, "ram"), under), ((DIE, "table", FRAME), over)):
            halves = ((HELD, 1, path), (FREE, -1, path))
            for name in names:
                if name in regions:
                    found += self._met(name, mount, halves, lambda name=name: regions[name],
                                       ("swing", self.depends(name, mount), end), (end, end, end))
        return tuple(found)

    def machine(self, stroke: Stroke, mount: int) -> tuple[Path, Path]:
        """Both halves alike."""
        if stroke.closing:
            return tuple(path for *_, path in self._halves(stroke, mount, 0.0))
        travel = self.travel(stroke, mount)

        def path(angles):
            return travel.path(angles)[:3]
        return path, path

    def tools(self, stroke: Stroke, mount: int) -> list[Tool]:
        """Punch and ram, die, table and frames."""
        travel, found, over = self.travel(stroke, mount), [], self.machine(stroke, mount)[0]

        def under(angles):
            y, z, h = over(angles)
            return y, z - (self.closed_at(stroke, mount, 0.0) if stroke.closing else travel.path(angles)[3]), h

        for rows, path, moves in ((self.upper(mount), under, "ram"), (self.lower(mount), over, "")):
            found += [Tool(name, shape, self._spared(name, mount, stroke.thickness), path, path,
                           FRAME if name == FRAME else PIECES if name in (PUNCH, DIE) else WHOLE, moves)
                      for name, shape in rows.items()]
        return found

    def _flatten(self, stroke, mount) -> tuple[Meeting, ...]:
        """The hem between the bars, centred on its flap; its own faces lie flat there."""
        found = []
        for name in (DIE, "table", FRAME, PUNCH, "ram"):
            if name in self._regions(mount, stroke.thickness):
                def shape(name=name):
                    return Polygon(), (self._column(stroke, mount, name, 0.0) if name in (PUNCH, "ram") else
                                       self._regions(mount, stroke.thickness)[name])[1]
                found += self._met(name, mount, self._halves(stroke, mount, 0.0), shape,
                                   ("flatten", self.depends(name, mount)))
        return tuple(found)

    def stop(self, stroke: Stroke, mount: int, at: float) -> Meeting | None:
        """The stop against the formed face that lies at it; it stays where it is through the stroke."""
        if self.brake.stops.section is None:
            return None
        travel = self.travel(stroke, mount)
        shape = translate(inset(self.brake.stops.polygon), at, 0.0)
        end = 1e-6 if stroke.closing else stroke.bend_to
        return Meeting("stop", HELD, 1, lambda angles: travel.path(angles)[:3], lambda: (Polygon(), shape, shape),
                       (id(self), "stop", self.mounts[mount].die.name, round(at, 6)),
                       (id(self), "stop", self.mounts[mount].die.name), (end, end, end))

    # --- in and out --------------------------------------------------------------------

    def closed_at(self, stroke: Stroke, mount: int, angle: float) -> float:
        """Height of the punch tip; of the upper bar when a hem is being closed."""
        if self.mounts[mount].punch is None:
            return 2 * (stroke.thickness + stroke.figures.inside_radius)
        return self.travel(stroke, mount).at(angle)[3]

    def open_at(self, mount: int) -> float:
        """Height of the punch tip with the ram up."""
        return daylight(self.brake, self.mounts[mount].punch, self.mounts[mount].die)

    def _column(self, stroke, mount, name, angle):
        """What a tool of the ram passes through from its place at an angle up to the top, (for own faces, others)."""
        low = self.closed_at(stroke, mount, angle)
        return self._risen(name, self.depends(name, mount), mount, stroke.thickness, round(low, 6),
                           round(max(0.0, self.open_at(mount) - low), 6))

    def _risen(self, name, tool, mount, t, low, way):
        """The same by tool, kept for all the pairs it is part of."""
        found = self.__dict__.setdefault("_columns", {})
        key = (name, tool, t, low, way)
        if key not in found:
            found[key] = tuple(translate(swept(shape, 0.0, way), 0.0, low) for shape in self._regions(mount, t)[name])
        return found[key]

    def _halves(self, stroke, mount, angle):
        """Both halves lying still; a hem being closed lies flat between the bars, centred on its flap."""
        y, z, h, _ = self.travel(stroke, mount).at(0.0 if stroke.closing else angle)
        y -= stroke.flap / 2 if stroke.closing else 0.0
        return (HELD, 1, still(y, z, h)), (FREE, -1, still(y, z, h))

    def ways_in(self, stroke: Stroke, mount: int) -> tuple[Way, ...]:
        """The sheet lies on the die; punch and ram come down to touch."""
        return () if stroke.closing else (self._down(stroke, mount),)

    @kept
    def _down(self, stroke, mount) -> Way:
        halves, light = self._halves(stroke, mount, 0.0), round(self.open_at(mount), 3)
        return Way("down", tuple(m for name in (PUNCH, "ram") for m in self._met(
            name, mount, halves, lambda name=name: self._column(stroke, mount, name, 0.0),
            ("opening", self.depends(name, mount), light))))

    def ways_out(self, stroke: Stroke, mount: int) -> Iterator[Way]:
        """Off an end, where there is room between the frames; else the ram goes up past it and it comes out forwards,
        lifted by some share of the daylight."""
        yield from (self._along(stroke, mount, end) for end in (1, -1))
        yield from (self._forwards(stroke, mount, share) for share in SHARES)

    @kept
    def _along(self, stroke, mount, along) -> Way:
        halves, low = self._halves(stroke, mount, stroke.angle), self.closed_at(stroke, mount, stroke.angle)
        met = []
        for name in self._regions(mount, stroke.thickness):
            def shapes(name=name):
                own, others = self._regions(mount, stroke.thickness)[name]
                up = low if name in (PUNCH, "ram") else 0.0
                return Polygon() if stroke.closing else translate(own, 0, up), translate(others, 0, up)
            met += self._met(name, mount, halves, shapes, ("along", *self.mounts[mount].key))
        return Way("along", tuple(met), along)

    @kept
    def _forwards(self, stroke, mount, share) -> Way:
        halves, met = self._halves(stroke, mount, stroke.angle), []
        light = round(self.open_at(mount), 3)
        for name in self._regions(mount, stroke.thickness):
            tools = self.mounts[mount].key if name in (PUNCH, "ram") else self.mounts[mount].key[1:]
            met += self._met(name, mount, halves,
                             lambda name=name: self._drawn_out(stroke, mount, share, name),
                             ("forwards", share, light, *tools))
        return Way("forwards", tuple(met))

    def _drawn_out(self, stroke, mount, share, name) -> tuple[BaseGeometry, BaseGeometry]:
        """What a tool passes through, as the part sees it, when the ram goes up and the part comes up and forwards."""
        light, regions = self.open_at(mount), self._regions(mount, stroke.thickness)[name]
        up = share * light
        if name in (PUNCH, "ram"):
            top = translate(regions[1], 0.0, light)
            away = shapely.union_all([swept(top, 0.0, -up), swept(translate(top, 0.0, -up), FAR, 0.0)])
            shapes = [shapely.union_all([shape, away]) for shape in self._column(stroke, mount, name, stroke.angle)]
        else:
            shapes = [shapely.union_all([swept(shape, 0.0, -up), swept(translate(shape, 0.0, -up), FAR, 0.0)])
                      for shape in regions]
        return Polygon() if stroke.closing else shapes[0], shapes[1]

    @kept
    def _is_even(self, name, mount) -> bool:
        """Whether a tool is the same from the front and the back, and so the same region in every motion up and
        down."""
        return _even(dict(self.upper(mount), **self.lower(mount))[name])


def _thrice(regions: tuple[BaseGeometry, BaseGeometry]) -> tuple[BaseGeometry, BaseGeometry, BaseGeometry]:
    """A closed hem is met by dies like any other face."""
    own, others = regions
    return own, others, others


def _even(shape: BaseGeometry) -> bool:
    """Whether a region is the same from the front and the back."""
    return shape.is_empty or bool(shape.equals(scale(shape, -1, 1, origin=(0, 0))))

"""A wall of a tray, with what stands on it: a lip, a hem."""

from dataclasses import dataclass

from ...errors import Refusal
from ...said import Mm, Said
from ..common import Given, make_leg, read_bend, read_hem, read_size
from ..legs import INSIDE, OUTSIDE, Hem, Leg, ShapeBend

OPPOSITE = {"up": "down", "down": "up"}
IN, OUT = "in", "out"


@dataclass(frozen=True)
class Wall:
    """``outward`` is the lip's direction as seen from the tray; None without a lip."""

    id: str
    leg: Leg
    bend: ShapeBend
    lip: Leg | None = None
    lip_bend: ShapeBend | None = None
    lip_way: str = ""
    hem: Hem | None = None
    hem_way: str = ""

    @property
    def folds_in(self) -> bool:
        """Whether anything on it stands into the tray."""
        return self.lip_way == IN or (self.hem is not None and self.hem_way == IN)


def read_wall(side: str, block: dict, dims: str, direction: str, given: Given) -> Wall:
    """A wall from its block, bent ``direction`` from the base; refusals name the field below ``shape``."""
    path = f"walls.{side}"
    bend = read_bend(side, block, direction, path, given, 90)
    lip_bend = hem = None
    lip_way = hem_way = ""
    if "lip" in block:
        lip_way = block["lip"]["direction"]
        lip_bend = read_bend(f"{side}-lip", block["lip"], _way(lip_way, direction), f"{path}.lip", given, 90)
    if "hem" in block:
        hem_way = block["hem"].get("direction", IN)
        hem = read_hem(f"{side}-hem", block["hem"], _way(hem_way, direction), f"{path}.hem",
                       given, f"{side}-lip" if lip_bend else side)
    size = read_size(block["height"], f"{path}.height", given.length, dims)
    leg = make_leg(side, *size, (bend, lip_bend or hem), f"{path}.height")
    lip = _read_lip(block["lip"], dims, (lip_bend, hem), lip_way, path, given) if lip_bend else None
    if hem and hem.flat > (lip or leg).flat + 1e-9:
        most = (lip or leg).flat + hem.length - hem.flat
        raise Refusal(f"{path}.hem.length", Said(
            "folds back further than what it lies on: at most {most}", most=Mm(most)))
    return Wall(side, leg, bend, lip, lip_bend, lip_way, hem, hem_way)


def _way(way: str, direction: str) -> str:
    return direction if way == IN else OPPOSITE[direction]


def _read_lip(block, dims, ends, way, path, given) -> Leg:
    """A lip's size runs from the wall's outer face: of a lip turned out that is the bend's
    inside, so it loses the inside setback and is kept by :func:`make_leg` as such."""
    where, bend = f"{path}.lip.width", ends[0]
    size, dims = read_size(block["width"], where, given.length, dims)
    outer = size + (bend.figures.outside_setback - bend.figures.inside_setback if dims == INSIDE else 0.0)
    leg = make_leg(bend.id, outer, INSIDE if way == OUT else OUTSIDE, ends, where)
    return Leg(leg.id, size, dims, leg.flat, leg.setbacks, leg.outside, leg.ends)

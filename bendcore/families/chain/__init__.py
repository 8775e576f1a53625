"""Cones one after another along a bent centre line: ``chain``."""

from ...develop.chains import Station
from ...errors import Refusal
from ...fields import Count, Field, Group, Length, Many, Number
from ...units import in_mm
from ..chained import GROUP, Chained, chain_of, piece_of
from ..common import Given
from ..declared import dims, kind
from ..family import Family, ReadMm, Sized
from ..rolled import NEUTRAL, SEAM, K, mirror_seam

STATION = Group("", {
    "diameter": Length("diameter", start=100, needed=True, over=0, grows=True),
    "length": Length("length", label="Length from the one before", start=100, over=0, grows=True),
    "turn": Number("turn", label="Turn, degrees", low=-150, high=150, start=0),
    "plane": Number("plane of the turn", label="In the plane at, degrees", low=-360, high=360)})
_OWN: dict[str, Field] = {
    "dims": dims("the diameters are given", "outside", "inside", "neutral"),
    "stations": Many("Station {n}", STATION, least=2, most=65, extra=True, listed=True, thing="S{n}"),
    "piece": Count("which piece", low=1, high=64, default=1, picked=True), "group": GROUP,
    "k": K, "seam": SEAM}
FIELDS = kind("chain", _OWN)


class Chain(Chained):
    """One piece of a chain, read."""

    kind = "chain"
    fields = FIELDS

    def place(self, name: str) -> str:
        """The stations: the whole."""
        return "stations"


def read_chain(shape: dict, given: Given) -> Chain:
    """One piece of a chain from the part file's ``shape``; refusals name the field below ``shape``."""
    stations, last = [], len(shape["stations"]) - 1
    for n, block in enumerate(shape["stations"]):
        path = f"stations[{n}]"
        if n and "length" not in block:
            raise Refusal(f"{path}.length", "is missing: how far it is from the one before")
        if n in (0, last) and block.get("turn"):
            raise Refusal(f"{path}.turn", "belongs to a station between two pieces: the line ends here")
        stations.append(Station(STATION.mm(block, "diameter", path, given.length) / 2,
                                STATION.mm(block, "length", path, given.length) if n else 0.0,
                                float(block.get("turn", 0.0)), float(block.get("plane", 0.0))))

    def where(n, what):
        return f"stations[{n + (what == 'length')}].{what}"

    line, number = chain_of(stations, shape, given, where), shape.get("piece", 1)
    if number > last:
        raise Refusal("piece", f"must be one of the {last}")
    sizes = [(f"{end}-circle", f"Diameter at the {end} end, {line.dims}", 2 * station.radius)
             for end, station, at in (("first", stations[0], 1), ("last", stations[-1], last))
             if at == number and line.dims != NEUTRAL]
    described = {"stations": [
        {"diameter": in_mm(2 * one.radius)} | ({"length": in_mm(one.length)} if n else {})
        | ({"turn": one.turn, "plane": one.plane} if 0 < n < last else {}) for n, one in enumerate(stations)]}
    return piece_of(Chain, line, number, shape, given, sizes, described)


def start(s: Sized) -> dict:
    """A cowl that leans over and narrows."""
    return {"kind": "chain", "dims": "outside", "stations": [
        {"diameter": s(120)}, {"length": s(90), "diameter": s(110), "turn": 20, "plane": 0},
        {"length": s(90), "diameter": s(95), "turn": 20, "plane": 0}, {"length": s(90), "diameter": s(80)}],
        "seam": {"kind": "lap", "width": s(8), "at": 90}}


def mirror(shape: dict, length: ReadMm) -> dict:
    """Every turn in the plane on the other side of the zero line."""
    for station in shape["stations"]:
        if "plane" in station:
            station["plane"] = -station["plane"]
    return mirror_seam(shape, length)


FAMILY = Family(Chain, "Chain of cones", read_chain, mirror, start)

__all__ = ["FAMILY", "Chain", "read_chain"]

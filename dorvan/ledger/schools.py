"""The schools this shop adds to the books': its ledger and its charts; and its default."""

from dataclasses import dataclass, replace

from bendcore.errors import Refusal
from bendcore.part import Part
from bendcore.quality.comparison import book_schools
from bendcore.quality.spreads import Spreads
from bendcore.schools.school import School, from_chart, k_factor

from .models import Adoption, Chart, Pair, Rules

LEDGER = "Shop ledger"


@dataclass(frozen=True)
class ShopAllowance:
    """What the shop lays a part out by: an allowance block, and springback when adopted."""

    block: dict
    springback: float | None = None
    hem_k: float | None = None
    adoption: Adoption | None = None


def source_of(adoption: Adoption) -> str:
    return f"ledger: {adoption.n} samples of {adoption.pair}, adopted by {adoption.by} {adoption.at:%Y-%m-%d}"


NOTHING, MEASURED, WAITING, USED = "nothing measured", "measured", "adopted, not used yet", "used"


@dataclass(frozen=True)
class Standing:
    """How far a shop's own K has come: one ``word`` for it everywhere, and ``why`` it is not used."""

    word: str
    why: str = ""

    @property
    def is_used(self) -> bool:
        """Whether tickets are laid out by it."""
        return self.word == USED


def standing(pair: Pair | None) -> Standing:
    """Of a stock and tool."""
    adoption, enough = pair.adopted if pair else None, Rules.now().enough
    if adoption is None:
        measured = bool(pair and pair.is_measured)
        return Standing(MEASURED, "a lead has not adopted it") if measured else Standing(NOTHING)
    if adoption.n < enough:
        count = f"{adoption.n} sample{'s' if adoption.n != 1 else ''}"
        return Standing(WAITING, f"it stands on {count}, and the shop asks for {enough}: measure more, or ask for "
                                 "fewer at Ledger")
    return Standing(USED)


def standing_here(pair: Pair | None, follows_shop: bool) -> Standing:
    """The same as a ticket of this stock and tool has it."""
    found = standing(pair)
    if found.is_used and not follows_shop:
        return Standing("adopted, not used here", "this ticket has an allowance of its own: choose the ledger above")
    return Standing("used here") if found.is_used else found


def shop_allowance(part: Part, tool: str) -> ShopAllowance:
    """The ledger where it has enough samples for this stock and tool, else the shop's default."""
    stock = (part.stock.material.name, part.stock.thickness, tool)
    pair, hem = Pair.near(*stock), Pair.near(*stock, hem=True)
    hem_k = hem.adopted.k if hem and hem.adopted else None
    adoption = pair.adopted if pair else None
    if adoption and adoption.n >= Rules.now().enough:
        return ShopAllowance({"method": "k_factor", "k": round(adoption.k, 4), "source": source_of(adoption)},
                             None if adoption.springback is None else round(adoption.springback, 2), hem_k, adoption)
    return ShopAllowance(dict(Rules.now().default), hem_k=hem_k)


def shop_spreads(part: Part, tool: str) -> Spreads:
    """How far what the shop does spreads, K as well as its ledger knows it for this stock and tool."""
    pair = Pair.near(part.stock.material.name, part.stock.thickness, tool)
    adoption = pair.adopted if pair else None
    return Spreads().known(k=adoption.u_k if adoption else None)


def ledger_school(part: Part, tool: str) -> School | None:
    """The ledger as a school for this stock and tool, if a lead adopted a fit."""
    pair = Pair.near(part.stock.material.name, part.stock.thickness, tool)
    adoption = pair.adopted if pair else None
    return adoption and replace(k_factor(adoption.k, source_of(adoption)), title=LEDGER)


def own_schools(part: Part, tool: str) -> list[School]:
    """The ledger and every chart, as schools for this stock and tool."""
    ledger = ledger_school(part, tool)
    found = [ledger] if ledger else []
    for chart in Chart.objects.all():
        try:
            rows = chart.rows.for_tool(tool)
        except Refusal:
            continue
        found.append(replace(from_chart(rows, f"chart {chart.name}"), title=chart.name))
    return found


def own_schools_for(pair: Pair) -> list[School]:
    """What a proof bend on this pair is compared with: the adopted figure, the charts, the books."""
    adopted = pair.adopted
    found = [replace(k_factor(adopted.k, source_of(adopted)), title=f"{LEDGER}, adopted")] if adopted else []
    for chart in Chart.objects.all():
        try:
            found.append(replace(from_chart(chart.rows.for_tool(pair.tool)), title=chart.name))
        except Refusal:
            continue
    return [*found, *book_schools()]


def chart_block(chart: Chart, part: Part, tool: str) -> dict:
    """A chart as a part file's allowance: its rows about this thickness."""
    rows = chart.rows.for_tool(tool)
    steps = {r.thickness for r in rows.rows if r.thickness is not None}
    near = sorted(steps, key=lambda t: abs(t - part.stock.thickness))[:3]
    return {"method": "deduction_chart", "source": f"chart {chart.name}", "rows": [
        {"angle": r.angle, rows.kind: f"{r.figure} mm"}
        | ({} if r.thickness is None else {"thickness": f"{r.thickness} mm"})
        | ({} if r.radius is None else {"inside_radius": f"{r.radius} mm"})
        for r in rows.rows if r.thickness is None or r.thickness in near]}

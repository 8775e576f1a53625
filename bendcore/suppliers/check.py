"""Whether a part keeps to what its supplier can do: every limit once, each told where it is broken and by how much."""

from collections.abc import Iterator

from ..checks.webs import near_lines
from ..notices import CAUTION, STOP, Notice
from ..part import Part
from ..quality.checklist import checklist
from ..said import Fine, Mm, Said
from ..sheet.edges import bearing
from .profile import Carried, Profile

EXACT = 0.005
"""Radii that differ by less are the same, mm."""
SAME_K = 5e-4
TINY = 0.01
"""Area below which a narrow cut is only a rounding, mm²."""
ANGLE = 1e-6


def check_for(part: Part, profile: Profile) -> list[Notice]:
    """Every limit of the supplier that the part breaks; stops before cautions. A stock that is not carried is told
    alone of what hangs on it."""
    stock = profile.carried(part.stock.material.name, part.stock.thickness)
    found = [*_blank(part, profile), *_work(part), *_angles(part, profile), *_lines(part, profile),
             *_tolerances(part, profile), *_kerf(part, profile)]
    if stock is None:
        found.append(Notice("stock", STOP, "stock", Said("{name} does not carry {metal} of {t}", name=profile.name,
                                                         metal=part.stock.material.title, t=Mm(part.stock.thickness)),
                            tuple(_carries(part, profile))))
    else:
        found += [*_figures(part, stock), *_flanges(part, stock), *_holes(part, stock)]
    return sorted(found, key=lambda notice: notice.severity != STOP)


def _carries(part, profile):
    own = sorted({one.thickness for one in profile.stocks if one.material == part.stock.material.name})
    for t in own:
        yield Said("take {t}", t=Mm(t))
    if not own:
        yield "choose a metal that it carries"


def _blank(part, profile) -> Iterator[Notice]:
    size, largest = sorted(part.flat.size), sorted(profile.largest)
    if any(have > most + 1e-6 for have, most in zip(size, largest, strict=True)):
        yield Notice("sheet", STOP, "blank", Said("the blank of {a} × {b} is larger than its largest sheet, {c} × {d}",
                                                  a=Mm(size[1]), b=Mm(size[0]), c=Mm(largest[1]), d=Mm(largest[0])),
                     ("make it of two pieces", "ask another supplier"))
    least = sorted(profile.smallest)
    if any(have < want - 1e-6 for have, want in zip(size, least, strict=True)):
        yield Notice("small", STOP, "blank", Said("the blank of {a} × {b} is smaller than it takes, {c} × {d}",
                                                  a=Mm(size[1]), b=Mm(size[0]), c=Mm(least[1]), d=Mm(least[0])),
                     ("leave a tab on it that is cut off after",))


def _work(part) -> Iterator[Notice]:
    if part.shape.making:
        yield Notice("work", STOP, "shape", "it bends along straight lines only: this is rolled or hammered",
                     ("keep this piece in the shop",))


def _angles(part, profile) -> Iterator[Notice]:
    least, most = profile.angles
    for bend in part.shape.bends:
        if not least - ANGLE <= bend.figures.angle <= most + ANGLE:
            yield Notice("angle", STOP, bend.id,
                         f"{bend.figures.angle:.4g}° is outside the {least:g}° to {most:g}° that it bends",
                         ("change the angle", "finish this bend in the shop"))


def _lines(part, profile) -> Iterator[Notice]:
    for flat in part.flat.bends:
        (x0, y0), (x1, y1) = flat.line
        long = ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5
        if profile.longest_bend and long > profile.longest_bend + 1e-6:
            yield Notice("longest", STOP, flat.bend.id, Said("a bend of {long}, the longest it makes is {most}",
                                                             long=Mm(long), most=Mm(profile.longest_bend)),
                         ("make it of two pieces",))
        if profile.parallel and not bearing(part.flat, flat).edges:
            yield Notice("parallel", CAUTION, flat.bend.id,
                         "no straight edge lies parallel to it, which its stops need",
                         ("a tab to be cut off goes into the pack",))


def _tolerances(part, profile) -> Iterator[Notice]:
    asked = {"mm": ("length", Fine), "°": ("angle", None)}
    for one in checklist(part):
        key, kind = asked.get(one.unit, ("", None))
        holds = profile.tolerances.get(key)
        if holds is not None and one.tolerance < holds - 1e-9:
            words = Said("{title}: ± {asked} is asked for, it holds ± {holds}", title=one.title,
                         asked=kind(one.tolerance), holds=kind(holds)) if kind else (
                f"{one.title}: ± {one.tolerance:g}° is asked for, it holds ± {holds:g}°")
            yield Notice("tolerance", CAUTION, one.name, words, ("loosen the fit", "agree on it with the supplier"))


def _kerf(part, profile) -> Iterator[Notice]:
    """Cuts into the outline that are narrower than what the cutter takes away: closing them changes the blank."""
    if not profile.kerf:
        return
    blank, half = part.flat.blank, profile.kerf / 2 - 1e-6
    closed = blank.buffer(half, join_style="mitre").buffer(-half, join_style="mitre")
    if closed.difference(blank).area > TINY:
        yield Notice("kerf", STOP, "blank", Said("a cut into the outline is narrower than its kerf of {kerf}",
                                                 kerf=Fine(profile.kerf)), ("open the gap",))


def _figures(part, stock: Carried) -> Iterator[Notice]:
    wrong = [bend for bend in part.shape.bends if abs(bend.figures.inside_radius - stock.inside_radius) > EXACT]
    for bend in wrong:
        yield Notice("radius", STOP, bend.id, Said("inside radius {have}; its tools make {made}",
                                                   have=Mm(bend.figures.inside_radius), made=Mm(stock.inside_radius)),
                     ("take the supplier's radius and K",))
    for bend in part.shape.bends:
        if bend not in wrong and abs(bend.figures.k - stock.k) > SAME_K:
            yield Notice("k", STOP, bend.id, f"laid out for K {bend.figures.k:.3f}; it bends by K {stock.k:.3f}",
                         ("take the supplier's radius and K",))
    if not stock.hems:
        for hem in part.shape.hems:
            yield Notice("hem", STOP, hem.id, "it folds no hems of this stock", ("close the hem in the shop",))


def _flanges(part, stock: Carried) -> Iterator[Notice]:
    for leg in part.shape.legs:
        if any(part.shape.at_ends(leg)) and leg.outside < stock.shortest_flange - 1e-6:
            yield Notice("flange", STOP, leg.id, Said("{have} outside, its shortest flange is {least}",
                                                      have=Mm(leg.outside), least=Mm(stock.shortest_flange)),
                         (Said("lengthen it by {by}", by=Mm(stock.shortest_flange - leg.outside)),
                          "leave it long and cut it back"))


def _holes(part, stock: Carried) -> Iterator[Notice]:
    for where, _, joint, have in near_lines(part):
        if have < stock.hole_to_bend - 1e-6:
            yield Notice("hole", STOP, where, Said("{have} from the tangent line of {bend}, it wants {least}",
                                                   have=Mm(have), bend=joint.id, least=Mm(stock.hole_to_bend)),
                         ("move it away", "pierce it after bending"))
    for n, hole in enumerate(part.flat.holes, 1):
        wide = min(_sides(hole))
        if wide < stock.smallest_opening - 1e-6:
            yield Notice("opening", STOP, f"opening {n}", Said("{wide} wide, its smallest in this stock is {least}",
                                                               wide=Mm(wide), least=Mm(stock.smallest_opening)),
                         ("drill it in the shop: let it be marked only",))


def _sides(hole) -> tuple[float, float]:
    """Of the rectangle round an opening; its diameter where it is round."""
    if not hole.ring:
        return hole.diameter, hole.diameter
    xs, ys = zip(*hole.ring, strict=True)
    return max(xs) - min(xs), max(ys) - min(ys)

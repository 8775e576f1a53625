"""The order in which pieces go together, what is squared first, and what can hurt."""

from collections.abc import Iterator, Sequence

from ..families.joint import CLEAT, FOLD, RIVET, SCREW, SPOT, WELD, Joint
from ..part import Part
from ..said import Mm, Said

QUALIFIED = "Welds are for qualified people, to the procedure of the job: Dorvan lists where they are, not how."


def steps(part: Part, joints: Sequence[tuple[Joint, str]], lined: bool = False, sealed: bool = False) -> Iterator[Said]:
    """What is done in turn, for joints with the way each is made."""
    kinds = {kind for _, kind in joints}
    yield Said("Clean the edges, take the film back from every joint, and try everything together dry.")
    diagonals = [(title, size) for name, title, size in part.shape.openings() if name.startswith("diagonal")]
    closing = [joint.place for joint, _ in joints if joint.closes]
    if closing:
        yield Said("Hold {places}: tack or cleco the ends and the middle only.", places=", ".join(closing[:6]))
    if diagonals:
        words = "; ".join(f"{{t{n}}} {{d{n}}}" for n in range(len(diagonals)))
        values = {f"t{n}": title[:1].lower() + title[1:] for n, (title, _) in enumerate(diagonals)}
        values |= {f"d{n}": Mm(size) for n, (_, size) in enumerate(diagonals)}
        yield Said("Square it before anything more: " + words + ". They must agree; write both down.", **values)
    if WELD in kinds:
        yield Said("Weld in short runs, opposite ones in turn, from the middle outwards; let it cool; measure the "
                   "diagonals again.")
    if kinds & {RIVET, SPOT, SCREW}:
        yield Said("Fasten from the middle outwards, every second place first, then those between.")
    if kinds & {CLEAT, FOLD}:
        yield Said("Hook locks and cleats all along before any is set down; turn over their ends last.")
    if lined:
        yield Said("Line or insulate while the inside can still be reached, clear of every place that is welded later.")
    if sealed:
        yield Said("Mastic or sealant last, on clean dry metal, into the joint and not over it; leave it its time to "
                   "cure before it is moved.")
    yield Said("Dress what stands out, deburr, and check it against its sheet.")


def hazards(part: Part, kinds: Sequence[str], sealed: bool) -> Iterator[str]:
    """What can hurt; local rules decide."""
    if WELD in kinds or SPOT in kinds:
        yield QUALIFIED
        yield "Arc and spatter: screen, hood, gloves, nothing that burns nearby, somebody to watch after."
        if part.stock.is_coated:
            yield ("Zinc and paint: their fumes make ill. Better rivet or fold it; else take the coat off beside the "
                   "weld and draw the air away.")
        if part.stock.material.name.startswith("stainless"):
            yield "Stainless: the fumes hold chromium. Draw the air away at the weld."
    if RIVET in kinds or SCREW in kinds:
        yield "Eye protection for drilling and for the stems that fly off."
    if sealed:
        yield "Sealants and sprays: air, gloves, no flame; read what is on the tin."
    yield "Edges are sharp until they are dressed: gloves for handling, not near what turns."

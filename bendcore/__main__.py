"""The commands: ``python -m bendcore COMMAND FILE``; ``-`` reads standard input.

A refused input gives exit status 2 and one line on standard error.
"""

import argparse
import json
import sys
from pathlib import Path

from .brakes.brake import read_brake
from .brakes.press import PressBrake
from .checks.notices import STOP
from .errors import Refusal
from .files import MAX_BYTES, read_json
from .formats.drawing import MOST_BYTES as MOST_DRAWING
from .formats.export import WRITERS, export
from .formats.pack import Order, pack
from .formats.reading import read_shape_in
from .formats.results import bend_result, flat_result, fold_result, proof_result
from .joining.joints import joints_of
from .joining.spacing import spaced
from .order.patience import Patience
from .order.planning import plan_order
from .order.remedies import find_remedies
from .order.stackup import stack_up, written
from .part import read_part
from .said import in_units
from .suppliers.check import check_for
from .suppliers.profile import read_profile

MOST_SECONDS = 60.0
"""An order, and what would free a part, is looked for so long unless said otherwise, s."""


def read_file(name: str) -> dict:
    """JSON from a file or standard input, never more than the limit."""
    try:
        if name == "-":
            return read_json(sys.stdin.buffer.read(MAX_BYTES + 1))
        with Path(name).open("rb") as file:
            return read_json(file.read(MAX_BYTES + 1))
    except OSError as error:
        raise Refusal(name[:80], error.strerror or "cannot be read") from None


def names(text: str) -> list[str]:
    """Bends named with commas between."""
    return [name.strip() for name in text.split(",") if name.strip()]


def run_bend(args: argparse.Namespace) -> dict:
    """One bend from a bend file."""
    return bend_result(read_file(args.file))


def run_proof(args: argparse.Namespace) -> dict:
    """Proof bends from a proof file."""
    return proof_result(read_file(args.file))


def run_flat(args: argparse.Namespace) -> dict:
    """The flat of a part file."""
    return flat_result(read_part(read_file(args.file)))


def run_read(args: argparse.Namespace) -> dict:
    """A flat from a DXF or SVG, a chain from the CSV of its stations: its shape for a part file, and the report."""
    try:
        with Path(args.file).open("rb") as file:
            drawing = read_shape_in(file.read(MOST_DRAWING + 1), Path(args.file).name[-80:])
    except OSError as error:
        raise Refusal(args.file[:80], error.strerror or "cannot be read") from None
    return {"shape": drawing.shape, "report": list(drawing.report)}


def run_fold(args: argparse.Namespace) -> dict:
    """The part folded, or only the bends named."""
    made = names(args.made) if args.made is not None else None
    return fold_result(read_part(read_file(args.file)), made)


def run_order(args: argparse.Namespace) -> dict:
    """The best order on a brake or over several, or the one named; what would free the part where there is none."""
    data, brakes = read_file(args.file), [read_brake(read_file(name)) for name in args.brake]
    mounted = [brake.with_tools(args.punch, args.die) if isinstance(brake, PressBrake) else brake for brake in brakes]
    for brake in mounted:
        if isinstance(brake, PressBrake) and not (brake.punches and brake.dies):
            raise Refusal("die" if brake.punches else "punch", "is not on this brake's rack")
    tried = names(args.try_order) if args.try_order is not None else None
    part = read_part(data)
    patience = Patience(args.seconds)
    plan = plan_order(part, mounted, tried, patience, args.important or ())
    if not plan.feasible:
        others = [read_brake(read_file(name)) for name in args.other or ()]
        plan = find_remedies(data, brakes, mounted, plan, tried is not None, patience.again(), others)
    told = stack_up(part, plan.steps, brakes) if plan.feasible else []
    return plan.written(part.units) | {"dimensions": written(told, part.units)}


def run_export(args: argparse.Namespace) -> dict:
    """The flat or the model written to a file, by its ending."""
    path = Path(args.to)
    ending = path.suffix.lstrip(".").lower()
    options = {"paper": args.paper} if ending == "pdf" else {}
    before = path.with_suffix("").suffix.lstrip(".").lower()
    if before in WRITERS and ending in ("pdf", "dxf", "svg"):  # NAME.model.pdf, NAME.blocks.dxf, NAME.gauge.svg
        ending = before
    made = export(read_part(read_file(args.file)), ending, **options)
    try:
        path.write_bytes(made if isinstance(made, bytes) else made.encode())
    except OSError as error:
        raise Refusal("to", error.strerror or "cannot be written") from None
    return {"written": args.to}


def run_outside(args: argparse.Namespace) -> dict:
    """A part against a supplier's profile; with ``--pack`` what leaves for it as a zip, if nothing stops it."""
    data, profile = read_file(args.file), read_profile(read_file(args.supplier))
    part = read_part(data)
    notices = [notice.in_units(part.units) for notice in check_for(part, profile)]
    stops = [notice for notice in notices if notice.severity == STOP]
    if args.pack and stops:
        raise Refusal(stops[0].where, str(stops[0].message))
    if args.quantity < 1:
        raise Refusal("quantity", "must be at least 1")
    if args.pack:
        made = pack(part, data, profile, Order(Path(args.pack).stem[:40], args.quantity))
        try:
            Path(args.pack).write_bytes(made)
        except OSError as error:
            raise Refusal("pack", error.strerror or "cannot be written") from None
    return {"supplier": profile.name, "can": not stops, "notices": [notice.as_dict() for notice in notices]}


def run_joins(args: argparse.Namespace) -> dict:
    """What has to be joined on a part, each with the places of its fasteners, in the part's units."""
    part = read_part(read_file(args.file))
    found = []
    for joint in joints_of(part):
        at = spaced(joint, part.stock.thickness)
        found.append({"where": joint.place, "kind": joint.kind, "times": joint.times,
                      "length": joint.length / part.per_unit, "places": [p / part.per_unit for p in at.places],
                      "source": in_units(at.source, part.units)})
    return {"joints": found}


def parser() -> argparse.ArgumentParser:
    """The command line."""
    top = argparse.ArgumentParser(prog="bendcore", description="The trade of bending sheet metal.")
    commands = top.add_subparsers(dest="command", required=True, metavar="COMMAND")

    def add(name, run, text):
        command = commands.add_parser(name, help=text)
        command.add_argument("file", metavar="FILE")
        command.set_defaults(run=run)
        return command

    add("bend", run_bend, "one bend's figures")
    add("proof", run_proof, "a proof bend's K and its uncertainty")
    add("read", run_read, "a DXF or SVG of a flat → shape for a part file")
    add("flat", run_flat, "part → flat pattern")
    add("fold", run_fold, "part → folded faces").add_argument("--made", metavar="B1,B2")
    order = add("order", run_order, "best bend order on a brake")
    order.add_argument("--brake", required=True, action="append", metavar="FILE",
                       help="may be repeated: a route over several")
    order.add_argument("--seconds", type=float, default=MOST_SECONDS, metavar="60",
                       help="how long to look; the best so far is given then")
    order.add_argument("--other", action="append", metavar="FILE",
                       help="a brake of the shop beside, to look for a way out on (may be repeated)")
    order.add_argument("--important", action="append", metavar="NAME",
                       help="a leg to be gauged directly (may be repeated)")
    order.add_argument("--try", dest="try_order", metavar="B2,B1,B3")
    order.add_argument("--punch", action="append", metavar="NAME", help="use only this punch (may be repeated)")
    order.add_argument("--die", action="append", metavar="NAME", help="use only this die (may be repeated)")
    outside = add("outside", run_outside, "part against a supplier's profile")
    outside.add_argument("--supplier", required=True, metavar="FILE")
    outside.add_argument("--pack", metavar="NAME.zip", help="write what leaves for the supplier")
    outside.add_argument("--quantity", type=int, default=1, metavar="1")
    add("joins", run_joins, "what has to be joined on a part")
    out = add("export", run_export, "flat pattern to .dxf, .svg, .csv, .json or .pdf, folded part to .stl or .glb, "
                                    "paper model to .model.pdf")
    out.add_argument("--to", required=True, metavar="NAME.dxf")
    out.add_argument("--paper", default="A4", metavar="A4", help="of a .pdf: A4, Letter or A3")
    return top


def main(argv: list[str] | None = None) -> int:
    """Run one command: its result as JSON and 0, or 2 and one line on stderr where the input is refused."""
    args = parser().parse_args(argv)
    try:
        result = args.run(args)
    except Refusal as refusal:
        line = " ".join(str(refusal).split())
        print(f"bendcore: {line}", file=sys.stderr)
        return 2
    json.dump(result, sys.stdout, ensure_ascii=False, indent=1)
    print()
    return 0


if __name__ == "__main__":
    sys.exit(main())

"""The commands: ``python -m bendcore COMMAND FILE``; ``-`` reads standard input.

A refused input gives exit status 2 and one line on standard error.
"""

import argparse
import json
import sys
from importlib import import_module

from .errors import Refusal

MOST_SECONDS = 60.0
"""An order, and what would free a part, is looked for so long unless said otherwise, s."""


def parser() -> argparse.ArgumentParser:
    """The command line."""
    top = argparse.ArgumentParser(prog="bendcore", description="The trade of bending sheet metal.")
    commands = top.add_subparsers(dest="command", required=True, metavar="COMMAND")

    def add(name, text):
        command = commands.add_parser(name, help=text)
        command.add_argument("file", metavar="FILE")
        return command

    add("bend", "one bend's figures")
    add("proof", "a proof bend's K and its uncertainty")
    add("read", "a DXF or SVG of a flat, a STEP solid → shape for a part file")
    add("panels", "part → the same part told as panels")
    add("flat", "part → flat pattern")
    add("fold", "part → folded faces").add_argument("--made", metavar="B1,B2")
    order = add("order", "best bend order on a brake")
    order.add_argument("--brake", required=True, action="append", metavar="FILE",
                       help="may be repeated: a route over several")
    order.add_argument("--seconds", type=float, default=MOST_SECONDS, metavar="60",
                       help="how long to look; the best so far is given then")
    order.add_argument("--other", action="append", metavar="FILE",
                       help="a brake of the shop beside, to look for a way out on (may be repeated)")
    order.add_argument("--important", action="append", metavar="NAME",
                       help="a leg to be gauged directly, 'larger still' or 'one setting' (may be repeated)")
    order.add_argument("--try", dest="try_order", metavar="B2,B1,B3")
    order.add_argument("--punch", action="append", metavar="NAME", help="use only this punch (may be repeated)")
    order.add_argument("--die", action="append", metavar="NAME", help="use only this die (may be repeated)")
    outside = add("outside", "part against a supplier's profile")
    outside.add_argument("--supplier", required=True, metavar="FILE")
    outside.add_argument("--pack", metavar="NAME.zip", help="write what leaves for the supplier")
    outside.add_argument("--quantity", type=int, default=1, metavar="1")
    add("joins", "what has to be joined on a part")
    out = add("export", "flat pattern to .dxf, .svg, .csv, .json or .pdf, folded part to .stl, .glb or .step, "
                                    "paper model to .model.pdf")
    out.add_argument("--to", required=True, metavar="NAME.dxf")
    out.add_argument("--paper", default="A4", metavar="A4", help="of a .pdf: A4, Letter or A3")
    return top


def main(argv: list[str] | None = None) -> int:
    """Run one command: its result as JSON and 0, or 2 and one line on stderr where the input is refused."""
    args = parser().parse_args(argv)
    try:
        result = import_module(f".commands.{args.command}", __package__ or "bendcore").run(args)
    except Refusal as refusal:
        line = " ".join(str(refusal).split())
        print(f"bendcore: {line}", file=sys.stderr)
        return 2
    json.dump(result, sys.stdout, ensure_ascii=False, indent=1)
    print()
    return 0


if __name__ == "__main__":
    sys.exit(main())

"""The best bend order on a brake."""

import argparse

from ..brakes.brake import read_brake
from ..brakes.press import PressBrake
from ..errors import Refusal
from ..order.accuracy.stackup import stack_up, written
from ..order.planning import plan_order
from ..part import read_part, settled
from ..patience import Patience
from .reading import names, read_file


def run(args: argparse.Namespace) -> dict:
    """The best order on a brake or over several, or the one named; what would free the part where there is none."""
    data, brakes = read_file(args.file), [read_brake(read_file(name)) for name in args.brake]
    mounted = [brake.with_tools(args.punch, args.die) if isinstance(brake, PressBrake) else brake for brake in brakes]
    for brake in mounted:
        if isinstance(brake, PressBrake) and not (brake.punches and brake.dies):
            raise Refusal("die" if brake.punches else "punch", "is not on this brake's rack")
    tried = names(args.try_order) if args.try_order is not None else None
    part, (data, _) = read_part(data), settled(data)
    patience = Patience(args.seconds)
    plan = plan_order(part, mounted, tried, patience, args.important or ())
    if not plan.feasible:
        from ..order.advice.remedies import find_remedies  # takes long to come, and is not wanted by most
        others = [read_brake(read_file(name)) for name in args.other or ()]
        plan = find_remedies(data, brakes, mounted, plan, tried is not None, patience.again(), others)
    told = stack_up(part, plan.steps, brakes) if plan.feasible else []
    return plan.written(part.units) | {"dimensions": written(told, part.units)}

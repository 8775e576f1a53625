"""What has to be joined on a part."""

import argparse

from ..joining.joints import joints_of
from ..joining.spacing import spaced
from ..part import read_part
from ..said import in_units
from .reading import read_file


def run(args: argparse.Namespace) -> dict:
    """What has to be joined on a part, each with the places of its fasteners, in the part's units."""
    part = read_part(read_file(args.file))
    found = []
    for joint in joints_of(part):
        at = spaced(joint, part.stock.thickness)
        found.append({"where": joint.place, "kind": joint.kind, "times": joint.times,
                      "length": joint.length / part.per_unit, "places": [p / part.per_unit for p in at.places],
                      "source": in_units(at.source, part.units)})
    return {"joints": found}

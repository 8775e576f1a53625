"""A part against a supplier's profile."""

import argparse
from pathlib import Path

from ..errors import Refusal
from ..formats.pack import Order, pack
from ..notices import STOP
from ..part import read_part, settled
from ..suppliers.check import check_for
from ..suppliers.profile import read_profile
from .reading import read_file


def run(args: argparse.Namespace) -> dict:
    """A part against a supplier's profile; with ``--pack`` what leaves for it as a zip, if nothing stops it."""
    data, profile = read_file(args.file), read_profile(read_file(args.supplier))
    part, (data, _) = read_part(data), settled(data)
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

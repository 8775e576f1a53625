"""A shop to be fuzzed: the demo's, with a part without bends, a drawn flat, the bare beginning of each family,
and files of every kind that is read."""

import io
import json

from django.core.management import call_command
from PIL import Image

from bendcore.brakes.measured.described import KINDS, begun
from bendcore.edits import new_part
from bendcore.families import FAMILIES
from bendcore.fields import walk
from bendcore.formats.dxf_in import read_dxf
from bendcore.formats.export import export
from bendcore.part import read_part
from bendcore.part_file import declared
from dorvan.brakes.models import Brake
from dorvan.people.models import User
from dorvan.tickets.models import Ticket
from tests.core.plates import plate_file
from tests.core.samples import ROOT, part_file


def fields() -> list[str]:
    """Every field that a part file of any family may have, and some that none has."""
    found = {path.replace("[]", f"[{place}]") for kind in FAMILIES for path, _ in walk(declared(kind)) for place in (0, 1)}
    return [*sorted(found), "__class__", "shape.legs[²]", "shape.holes[99999]", "shape.walls.left[0]"]


def fill() -> list[int]:
    """The numbers of all tickets."""
    call_command("demo", stdout=io.StringIO())
    ines, brake = User.objects.get(username="ines"), Brake.objects.first()
    flat = plate_file() | {"shape": read_dxf(export(read_part(plate_file()), "dxf").encode()).shape}
    parts = [new_part(family, units, family) for family in FAMILIES if FAMILIES[family].start for units in ("mm", "in")]
    parts += [flat, part_file([60], []), plate_file(flanges=[])]
    for n, part in enumerate(parts, 900):
        Ticket.objects.create(number=n, part=part, brake=brake if n %
                              2 else None, made_by=ines, follows_shop=n % 3 == 0)
    return list(Ticket.objects.values_list("number", flat=True))


def corpus() -> dict[str, list[tuple[str, bytes]]]:
    """(name, bytes) of files by what they are sent as."""
    part = read_part(plate_file(holes=[{"x": 40, "y": 60, "diameter": 8}]))
    drawings = [(f"plate.{kind}", export(one, kind).encode()) for kind in ("dxf", "svg")
                for one in (part, read_part(part_file()))]
    drawings.append(("horn.csv", b"length (in),diameter,turn,plane\n,120,,\n4,110 mm,20,10\n3.5,95 mm,-15,0\n3,80 mm,,\n"))
    pictures = []
    for kind in ("PNG", "JPEG", "WEBP"):
        out = io.BytesIO()
        Image.new("RGB", (40, 30), (90, 60, 20)).save(out, kind)
        pictures.append((f"sample.{kind.lower()}", out.getvalue()))
    chart = b"thickness,radius,angle,deduction\n1.5,1.5,90,2.9\n1.5,1.5,45,1.2\n2,2,90,3.8\n"
    return {"drawing": drawings, "picture": pictures, "chart": [("chart.csv", chart)],
            "brake": [(f"{name}.json", (ROOT / "demo" / f"{name}.json").read_bytes())
                      for name in ("press-60t", "finger-1270", "bench-bars")] + [
                          (f"{name}.json", json.dumps(begun(kind, name, "mm")).encode()) for name, kind in KINDS.items()],
            "ledger": [("ledger.csv", (ROOT / "demo" / "ledger.csv").read_bytes())],
            "supplier": [("supplier.json", json.dumps(row).encode()) for row in json.loads(
                (ROOT / "demo" / "suppliers.json").read_text("utf-8"))],
            "part": [("part.json", json.dumps(part_file()).encode())]}

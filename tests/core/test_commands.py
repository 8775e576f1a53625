"""The commands against the reference numbers, and against bad files."""

import io
import json
import subprocess
import sys
import tempfile
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path

import ezdxf
from django.test import SimpleTestCase

from bendcore.__main__ import main
from tests.core.samples import ROOT, part_file, press_file, reference


def run(command, data, *extra):
    """(exit status, result or None, standard error) of a command on a file's data or raw text."""
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "in.json"
        file.write_bytes(data if isinstance(data, bytes) else json.dumps(data).encode())
        out, err = io.StringIO(), io.StringIO()
        with redirect_stdout(out), redirect_stderr(err):
            status = main([command, str(file), *extra])
    text = out.getvalue()
    return status, json.loads(text) if text else None, err.getvalue()


class Reference(SimpleTestCase):
    def agree(self, got, wanted):
        self.assertLessEqual(abs(got - wanted), 1e-3 * max(1, abs(wanted)), f"{got} ≠ {wanted}")

    def bend(self, row, allowance, **extra):
        status, result, err = run("bend", {k: row[k] for k in ("angle", "inside_radius", "thickness")}
                                  | {"allowance": allowance} | extra)
        self.assertEqual(status, 0, err)
        return result

    def test_bends(self):
        for row in reference("bends"):
            for convention in ("apex", "tangent"):
                result = self.bend(row, {"method": "k_factor", "k": row["k"]}, convention=convention)
                self.agree(result["allowance"], row["allowance"])
                self.agree(result["outside_setback"], row[f"outside_setback_{convention}"])
                self.agree(result["deduction"], row[f"deduction_{convention}"])
            self.agree(self.bend(row, {"method": "din6935"})["k"], row["k_din6935"])
            self.agree(self.bend(row, {"method": "aircraft"})["allowance"], row["allowance_aircraft"])
            self.agree(self.bend(row, {"method": "handbook", "group": "medium"})["allowance"],
                       row["allowance_handbook_medium"])

    def test_air_bending_and_force(self):
        for row in reference("air"):
            die = {"v": row["v"], "shoulder_radius": row["shoulder_radius"]}
            result = self.bend(row, {"method": "k_factor", "k": 0.4}, die=die, tensile=415)
            self.agree(result["punch_travel"], row["punch_travel"])
            self.agree(result["travel_per_degree"], row["travel_per_degree"])
            self.agree(result["natural_radius"], max(0.16 * row["v"], 0.63 * row["thickness"]))
        for row in reference("tonnage"):
            result = self.bend({"angle": 90, "inside_radius": 2, "thickness": row["thickness"]},
                               {"method": "generic"}, die={"v": row["v"]}, tensile=row["tensile"])
            self.agree(result["tonnage_kn_per_m"] * row["length"] / 1000, row["kilonewtons"])

    def test_profiles(self):
        for row in reference("profiles"):
            status, flat, err = run("flat", row["part"])
            self.assertEqual(status, 0, err)
            self.agree(flat["blank"]["length"], row["expect"]["developed_length"])
            for bend, x in zip(flat["bends"], row["expect"]["bend_centres"], strict=True):
                self.agree(bend["line"][0][0], x)
            _, folded, _ = run("fold", row["part"])
            for face, length in zip(folded["faces"], row["expect"]["flats"], strict=True):
                (x0, _, z0), (x1, _, z1) = face["corners"][:2]
                self.agree(((x1 - x0) ** 2 + (z1 - z0) ** 2) ** 0.5, length)

    def test_hems(self):
        for row in reference("hems"):
            hem = {k: row[k] for k in ("length", "gap", "k")} | {"direction": "up"}
            data = part_file([50], [], thickness=row["thickness"], start_hem=hem)
            _, flat, _ = run("flat", data)
            self.agree(flat["blank"]["length"], row["flat"] + 50 - row["gap"] / 2 - row["thickness"])

    def test_tangent_hem_folds_back_over_its_leg(self):
        data = part_file([50], [], start_hem={"length": 10, "gap": 2, "direction": "up"})
        _, folded, _ = run("fold", data)
        hem = next(f for f in folded["faces"] if f["id"] == "HS")
        self.assertAlmostEqual(hem["normal"][2], -1)
        self.assertAlmostEqual(hem["corners"][0][2], 2.0)

    def test_made_names_the_bends(self):
        _, folded, _ = run("fold", part_file(), "--made", "B2")
        self.assertEqual([b["angle"] for b in folded["bends"]], [0, 90])
        status, _, err = run("fold", part_file(), "--made", "B7")
        self.assertEqual((status, err.startswith("bendcore: made: ")), (2, True))


class Files(SimpleTestCase):
    def test_units_give_the_same_part(self):
        inches = part_file(["1 1/2", "2 3/8", 1.25], thickness="16 ga", radius="1/16 in", width=12) | {"units": "in"}
        metric = part_file([38.1, 60.325, 31.75], thickness=1.51892, radius=1.5875, width=304.8)
        _, a, _ = run("flat", inches)
        _, b, _ = run("flat", metric)
        self.assertAlmostEqual(a["blank"]["length"] * 25.4, b["blank"]["length"], 5)
        self.assertAlmostEqual(a["blank"]["mass_kg"], b["blank"]["mass_kg"], 5)

    def test_exports_are_read_back(self):
        data = part_file([30, 60, 30], [(90, "up"), (60, "down")])
        _, flat, _ = run("flat", data)
        with tempfile.TemporaryDirectory() as folder:
            for ending in ("dxf", "svg", "csv", "json", "pdf", "stl", "glb"):
                status, _, err = run("export", data, "--to", f"{folder}/out.{ending}")
                self.assertEqual(status, 0, err)
            doc = ezdxf.readfile(f"{folder}/out.dxf")
            space = doc.modelspace()
            outline = space.query("LWPOLYLINE[layer=='CUT']").first
            self.assertTrue(outline.closed)
            self.assertEqual((doc.dxfversion, doc.units), ("AC1024", 4))
            self.assertAlmostEqual(max(p[0] for p in outline.get_points()), flat["blank"]["length"])
            lines = [*space.query("LINE[layer=='BEND_UP']"), *space.query("LINE[layer=='BEND_DOWN']")]
            self.assertEqual(sorted(round(line.dxf.start.x, 6) for line in lines),
                             sorted(round(b["line"][0][0], 6) for b in flat["bends"]))
            self.assertEqual(json.loads(Path(f"{folder}/out.json").read_text())["blank"], flat["blank"])
            self.assertIn('viewBox="0 0', Path(f"{folder}/out.svg").read_text())
            self.assertEqual(len(Path(f"{folder}/out.csv").read_text().splitlines()), 3)
            status, _, err = run("export", data, "--to", f"{folder}/out.exe")
            self.assertEqual(status, 2)
            endings = (".dxf, .svg, .csv, .json, .pdf, .model, .gauge, .blocks, .formblock, .backing, .set, "
                       ".stl, .glb, .step")
            self.assertEqual(err, f"bendcore: to: must end in {endings}\n")

    def test_the_real_command_refuses_in_one_line(self):
        bad = json.dumps(part_file([30, 60, -1]))
        done = subprocess.run([sys.executable, "-m", "bendcore", "flat", "-"], input=bad, cwd=ROOT,
                              capture_output=True, text=True, check=False)
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertEqual(done.stderr, "bendcore: shape.legs[2]: must be greater than 0\n")


def worst_inputs():
    """(what, where, value, field refused) from the table in docs/worst-inputs.md."""
    for line in (ROOT / "docs" / "worst-inputs.md").read_text("utf-8").splitlines():
        cells = [c.strip().strip("`") for c in line.strip("|").split("|")]
        if len(cells) == 5 and cells[0].isdigit():
            yield cells[1:]


def spoiled(where, value):
    """The sample part with one thing put wrong."""
    data = part_file()
    keys = [int(k) if k.isdigit() else k for k in where.replace("[", ".").replace("]", "").split(".")]
    holder = data
    for key in keys[:-1]:
        holder = holder[key]
    if value == "(taken out)":
        del holder[keys[-1]]
    else:
        holder[keys[-1]] = json.loads(value)
    return data


RAW = {
    "(empty file)": b"", "(not JSON)": b"legs: 3", "(a list)": b"[1, 2]", "(10 MB)": b"[" + b"0," * 5_000_000 + b"0]",
    "(deep nesting)": b'{"a":' * 200_000 + b"1" + b"}" * 200_000, "(not UTF-8)": b'{"name": "\xff\xfe"}',
    "(NaN)": json.dumps(part_file(thickness=float("nan"))).encode(),
    "(a key twice)": b'{"format": "dorvan-part", "format": "x"}',
    "(5,000 digits)": json.dumps(part_file()).replace("300", "9" * 5000).encode(),
}


class Refusals(SimpleTestCase):
    def test_the_forty_worst(self):
        rows = list(worst_inputs())
        self.assertGreaterEqual(len(rows), 40)
        for what, where, value, field in rows:
            with self.subTest(what):
                data = RAW[where] if where in RAW else spoiled(where, value)
                status, result, err = run("flat", data)
                self.assertEqual((status, result), (2, None))
                self.assertEqual(err.count("\n"), 1)
                self.assertTrue(err.startswith(f"bendcore: {field}: " if field != "–" else "bendcore: "), err)

    def test_brakes_are_refused_by_name_and_place(self):
        for change, field in [({"dies": []}, "dies"), ({"stroke": -1}, "stroke"), ({"kind": "leaf"}, "rated"),
                              ({"kind": "vice"}, "kind"),
                              ({"ram_section": [[0, 0], [1, 1], [0, 1], [1, 0]]}, "ram_section"),
                              ({"stops": {"min": 9, "max": 3}}, "stops.max"), ({"colour": 1}, "colour")]:
            with tempfile.NamedTemporaryFile("w", suffix=".json") as brake:
                json.dump(press_file() | change, brake)
                brake.flush()
                status, _, err = run("order", part_file(), "--brake", brake.name)
            self.assertEqual((status, err.startswith(f"bendcore: {field}: ")), (2, True), err)

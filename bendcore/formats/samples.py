"""The ledger's samples as CSV, out and in. Lengths in mm, angles in degrees.

One row a sample; the columns are :data:`COLUMNS`. Only the readings, the material,
the nominal thickness and the tool are needed. A text that a spreadsheet would take
for a formula is written behind an apostrophe, which reading takes off again.
"""

import csv
import io
import re
from dataclasses import dataclass

from ..errors import Refusal
from ..quality.ledger import Sample
from ..quality.proof import NAMES, ProofBend, Uncertainty, check_proof

WORDS = ("date", "who", "ticket", "lot", "material", "nominal", "tool", "kind", "note", "dropped")
COLUMNS = (*WORDS, *NAMES, "convention", "bent_to", *(f"u_{n}" for n in NAMES))
NEEDED = ("material", "nominal", "tool", *NAMES)
KINDS = ("proof", "part")
MOST_ROWS, MOST_BYTES = 5000, 1_000_000
_FORMULA = re.compile(r"^[=+\-@\t\r]")


@dataclass(frozen=True)
class Entry:
    """One row: the sample, its nominal thickness in mm, and the words that go with it."""

    sample: Sample
    nominal: float
    words: dict[str, str]


def write_samples(entries: list[Entry]) -> str:
    """Entries as CSV, to be read again by :func:`read_samples`."""
    out = io.StringIO()
    writer = csv.DictWriter(out, COLUMNS, lineterminator="\n")
    writer.writeheader()
    for entry in entries:
        proof = entry.sample.proof
        row = {key: _safe(text) for key, text in entry.words.items() if key in WORDS}
        row |= {name: repr(getattr(proof, name)) for name in NAMES}
        row |= {f"u_{name}": repr(getattr(proof.u, name)) for name in NAMES}
        row |= {"nominal": repr(entry.nominal), "convention": proof.convention,
                "bent_to": "" if entry.sample.held is None else repr(entry.sample.held)}
        writer.writerow(row)
    return out.getvalue()


def _safe(text: str) -> str:
    return f"'{text}" if _FORMULA.match(text) else text


def read_samples(text: str) -> list[Entry]:
    """Entries from CSV text; refuses the first fault by line and column."""
    if len(text) > MOST_BYTES:
        raise Refusal("file", f"is larger than {MOST_BYTES // 1_000_000} MB")
    reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff"), newline=None), strict=True, restkey="", restval="")
    try:
        header = reader.fieldnames or []
        _check_header(header)
        entries = []
        for row in reader:
            if len(entries) == MOST_ROWS:
                raise Refusal("file", f"has more than {MOST_ROWS} rows")
            entries.append(_entry(row, reader.line_num))
    except csv.Error as error:
        raise Refusal("file", f"line {reader.line_num} is not CSV: {error}") from None
    if not entries:
        raise Refusal("file", "holds no samples")
    return entries


def _check_header(header):
    for name in header:
        if name not in COLUMNS:
            raise Refusal("file", f"has a column “{name[:20]}”; known are " + ", ".join(COLUMNS))
    missing = [name for name in NEEDED if name not in header]
    if missing:
        raise Refusal("file", "lacks the columns " + ", ".join(missing))


def _entry(row, line) -> Entry:
    if "" in row:
        raise Refusal("file", f"line {line} has more cells than the header")
    words = {key: (row.get(key) or "").removeprefix("'").strip()[:200] for key in WORDS}
    for key in ("material", "tool"):
        if not words[key]:
            raise Refusal("file", f"line {line}, {key}: is empty")
    if words["kind"] not in ("", *KINDS):
        raise Refusal("file", f"line {line}, kind: must be one of " + ", ".join(KINDS))
    nominal = _number(row, "nominal", line)
    if not 0 < nominal <= 50:
        raise Refusal("file", f"line {line}, nominal: must be above 0 and at most 50 mm")
    u = {name: _number(row, f"u_{name}", line) for name in NAMES if row.get(f"u_{name}")}
    convention = row.get("convention") or "apex"
    if convention not in ("apex", "tangent"):
        raise Refusal("file", f"line {line}, convention: must be apex or tangent")
    proof = ProofBend(**{name: _number(row, name, line) for name in NAMES}, convention=convention, u=Uncertainty(**u))
    held = _number(row, "bent_to", line) if row.get("bent_to") else None
    try:
        check_proof(proof)
    except Refusal as refusal:
        raise Refusal("file", f"line {line}, {refusal.path}: {refusal.message}") from None
    if held is not None and not proof.angle <= held < 180:
        raise Refusal("file", f"line {line}, bent_to: must be at least the angle found, and less than 180")
    return Entry(Sample(proof, held), nominal, words)


def _number(row, name, line) -> float:
    try:
        value = float((row.get(name) or "").strip())
    except ValueError:
        value = float("nan")
    if not abs(value) < 100_000:
        raise Refusal("file", f"line {line}, {name}: “{(row.get(name) or '')[:20]}” is not a number")
    return value

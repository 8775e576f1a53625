"""JSON text → data that is safe to walk, and schema checks in plain words.

Files come from anywhere. Size, depth, names given twice and numbers that are not
numbers are refused here, before anything looks at the meaning; then the JSON
Schema in ``schemas/`` says which keys, words and types may stand where. Tables as people paste them are cut into
cells here too.
"""

import csv
import io
import json
import math
from collections import Counter
from functools import cache
from importlib.resources import files

from .errors import Refusal

MAX_BYTES = 1_000_000
MAX_DEPTH = 20
MOST = 1e12
FEW = 3
"""So many of a kind are checked without compiling."""


def read_json(text: str | bytes) -> dict:
    """A JSON object from text of at most 1 MB, nested at most 20 deep."""
    raw = text.encode("utf-8", "surrogatepass") if isinstance(text, str) else text
    if len(raw) > MAX_BYTES:
        raise Refusal("", f"is larger than {MAX_BYTES // 1_000_000} MB")
    try:
        data = json.loads(raw.decode("utf-8-sig"), parse_constant=_not_a_number,
                          object_pairs_hook=_no_twins)
    except UnicodeDecodeError:
        raise Refusal("", "is not UTF-8 text") from None
    except json.JSONDecodeError as error:
        raise Refusal("", f"is not JSON: {error.msg} at line {error.lineno}, column {error.colno}") from None
    except RecursionError:
        raise Refusal("", f"is nested deeper than {MAX_DEPTH}") from None
    except Refusal:
        raise
    except ValueError:
        raise Refusal("", "holds a number with too many digits") from None
    if not isinstance(data, dict):
        raise Refusal("", "must be a JSON object")
    _walk(data, "", 0)
    return data


def _not_a_number(word):
    raise Refusal("", f"holds {word}, which is not a number")


def _no_twins(pairs):
    seen = {}
    for key, value in pairs:
        if key in seen:
            raise Refusal("", f"names “{key[:30]}” twice in one object")
        seen[key] = value
    return seen


def _walk(value, path, depth):
    if depth > MAX_DEPTH:
        raise Refusal(path[:60], f"is nested deeper than {MAX_DEPTH}")
    if isinstance(value, dict):
        for key, item in value.items():
            _walk(item, f"{path}.{key}" if path else key, depth + 1)
    elif isinstance(value, list):
        for i, item in enumerate(value):
            _walk(item, f"{path}[{i}]", depth + 1)
    elif isinstance(value, float) and not math.isfinite(value):
        raise Refusal(path, "must be a finite number")
    elif isinstance(value, (int, float)) and abs(value) > MOST:
        raise Refusal(path, "must be a number of at most 12 digits")


_put: dict[str, dict] = {}


def put_schema(name: str, found: dict) -> None:
    """Another schema in place of the one that ships."""
    _put[name] = found
    for known in (schema, _validator, _quick):
        known.cache_clear()


@cache
def schema(name: str) -> dict:
    """The JSON schema called so."""
    return _put.get(name) or json.loads(files("bendcore").joinpath("schemas", f"{name}.schema.json").read_text("utf-8"))


@cache
def _validator(name: str):
    from jsonschema import Draft202012Validator  # takes long to come: not wanted by every command
    return Draft202012Validator(schema(name))


@cache
def _quick(name: str, kind: str):
    """Compiled; of schemas that go on by the kind of shape, with what is for this one alone."""
    found = schema(name) | {"$schema": "http://json-schema.org/draft-07/schema#"}
    shape = found["properties"].get("shape", {})
    if "allOf" in shape:
        own = [row for row in shape["allOf"] if row["if"]["properties"]["kind"] == {"const": kind}]
        found["properties"] = found["properties"] | {"shape": shape | {"allOf": own}}
    from fastjsonschema import compile as compiled
    return compiled(found, use_default=False)


_checked: Counter = Counter()


def _kind(name: str, data) -> str:
    """The kind of shape, of those the schema knows; nothing for any other, so that no more is kept than there are."""
    shape = data.get("shape") if isinstance(data, dict) else None
    kind = shape.get("kind") if isinstance(shape, dict) else None
    known = schema(name)["properties"].get("shape", {}).get("properties", {}).get("kind", {}).get("enum", ())
    return kind if kind in known else ""


def _passes(name: str, kind: str, data) -> bool:
    from fastjsonschema import JsonSchemaException
    try:
        _quick(name, kind)(data)
    except JsonSchemaException:
        return False
    return True


def check(data: object, name: str) -> None:
    """Refuse ``data`` where it leaves the schema called ``name``, at the first field.

    Compiled checks pass what is right, thirty times as fast, but take as long to compile as a hundred others: they are
    used where one of a kind has been checked before. Only what is wrong is looked at again, for the place and the
    words.
    """
    kind = _kind(name, data)
    _checked[name, kind] += 1
    if _checked[name, kind] > FEW and _passes(name, kind, data):
        return
    errors = sorted(_validator(name).iter_errors(data), key=lambda e: [str(p) for p in e.absolute_path])
    if errors:
        raise _in_words(errors[0])


_TYPES = {"object": "an object", "array": "a list", "string": "a text", "number": "a number",
          "integer": "a whole number", "boolean": "true or false"}


def _in_words(error) -> Refusal:
    path = ""
    for part in error.absolute_path:
        path += f"[{part}]" if isinstance(part, int) else f".{part}" if path else str(part)
    kind, limit = error.validator, error.validator_value
    if kind == "additionalProperties":
        unknown = sorted(set(error.instance) - set(error.schema.get("properties", {})))[0]
        return Refusal(f"{path}.{unknown[:40]}".lstrip("."), "is not a known key")
    if kind == "required":
        missing = next(key for key in limit if key not in error.instance)
        return Refusal(f"{path}.{missing}".lstrip("."), "is missing")
    if kind == "type":
        types = limit if isinstance(limit, list) else [limit]
        return Refusal(path, "must be " + " or ".join(_TYPES.get(t, t) for t in types))
    messages = {
        "enum": lambda: "must be one of " + ", ".join(str(v) for v in limit),
        "const": lambda: f"must be {limit}",
        "exclusiveMinimum": lambda: f"must be greater than {limit}",
        "minimum": lambda: f"must be at least {limit}",
        "exclusiveMaximum": lambda: f"must be less than {limit}",
        "maximum": lambda: f"must be at most {limit}",
        "minItems": lambda: f"must have at least {limit} entries",
        "maxItems": lambda: f"must have at most {limit} entries",
        "minLength": lambda: "must not be empty",
        "maxLength": lambda: f"must be at most {limit} characters",
    }
    return Refusal(path, messages.get(kind, lambda: "does not fit the file's schema")())


def table_rows(text: str, path: str, wrong: str) -> list[tuple[int, list[str]]]:
    """The lines of a table as text that say anything, each with its number; cells between semicolons, tabs or commas,
    whichever the first line has. Raises Refusal at ``path`` for a line that is ``wrong``.

    >>> table_rows("a; b\\n\\n1,5; 2\\n", "table", "cannot be read")
    [(1, ['a', 'b']), (3, ['1,5', '2'])]
    """
    first = next(iter(text.lstrip("\ufeff \r\n").splitlines()), "")
    mark = next((mark for mark in ";\t" if mark in first), ",")
    reader = csv.reader(io.StringIO(text.lstrip("\ufeff"), newline=None), delimiter=mark, strict=True)
    try:
        return [(reader.line_num, [cell.strip() for cell in row]) for row in reader if any(map(str.strip, row))]
    except csv.Error as error:
        raise Refusal(path, f"line {reader.line_num} {wrong}: {error}") from None

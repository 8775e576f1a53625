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
from functools import cache
from importlib.resources import files

from .errors import Refusal

MAX_BYTES = 1_000_000
MAX_DEPTH = 20
MOST = 1e12


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
    schema.cache_clear()
    _validator.cache_clear()


@cache
def schema(name: str) -> dict:
    """The JSON schema called so."""
    return _put.get(name) or json.loads(files("bendcore").joinpath("schemas", f"{name}.schema.json").read_text("utf-8"))


@cache
def _validator(name: str):
    from jsonschema_rs import Draft202012Validator  # not wanted by every command
    return Draft202012Validator(schema(name))


def check(data: object, name: str) -> None:
    """Refuse ``data`` where it leaves the schema called ``name``, at the first field."""
    validator = _validator(name)
    try:
        fits = validator.is_valid(data)
    except ValueError:  # a number that numpy made: as it stands in a file
        data = json.loads(json.dumps(data, default=float))
        fits = validator.is_valid(data)
    if not fits:
        raise _in_words(min(validator.iter_errors(data), key=lambda e: [str(part) for part in e.instance_path]))


_TYPES = {"number": "a number", "integer": "a whole number", "string": "a text", "object": "an object",
          "array": "a list", "boolean": "true or false"}
_LIMITS = {"exclusiveMinimum": "must be greater than {}", "minimum": "must be at least {}",
           "exclusiveMaximum": "must be less than {}", "maximum": "must be at most {}",
           "minItems": "must have at least {} entries", "maxItems": "must have at most {} entries",
           "minLength": "must not be empty", "maxLength": "must be at most {} characters", "const": "must be {}"}


def _in_words(error) -> Refusal:
    path = ""
    for part in error.instance_path:
        path += f"[{part}]" if isinstance(part, int) else f".{part}" if path else str(part)
    match error.kind.name, getattr(error.kind, "value", None):
        case "additionalProperties", _:
            return Refusal(f"{path}.{min(error.kind.unexpected)[:40]}".lstrip("."), "is not a known key")
        case "required", missing:
            return Refusal(f"{path}.{missing}".lstrip("."), "is missing")
        case "type", types:
            return Refusal(path, "must be " + " or ".join(words for name, words in _TYPES.items() if name in types))
        case "enum", values:
            return Refusal(path, "must be one of " + ", ".join(map(str, values)))
        case kind, limit:
            return Refusal(path, _LIMITS.get(kind, "does not fit the file's schema").format(limit))


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

"""Opening a bundle that came from anywhere: its names, sizes and rows are looked at before anything is done with them.

Everything is refused whole, with its place: a name that leads out of the box, more than is claimed, more than there is
room for, a row that its table could not hold or that points to none, rows that lead to each other in a circle.
"""

import io
import re
import uuid
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from typing import IO, BinaryIO

from django.core.exceptions import ValidationError
from django.db import models
from PIL import Image, UnidentifiedImageError

from bendcore.errors import Refusal
from bendcore.files import check, read_json
from bendcore.suppliers.profile import read_profile
from dorvan.brakes.models import parsed as read_machine
from dorvan.tickets.file.joined import with_values

from .packing import FORMAT, VERSION
from .tables import PEOPLE, columns, pointers, tables

MOST_PACKED, MOST_UNPACKED, MOST_ENTRIES = 64_000_000, 1_000_000_000, 40_000
MOST_PICTURE, MOST_PIXELS, MOST_ROWS = 12_000_000, 40_000_000, 1_000_000
MOST_LINE = 1_000_000
NAME = re.compile(r"[A-Za-z0-9 ._-]{1,80}(/[A-Za-z0-9 ._-]{1,80}){0,2}", re.ASCII)


@dataclass(frozen=True)
class Row:
    """A row of the bundle: its ``key`` there, the ``values`` of its columns, ``pointers`` to keys of other tables by
    column, the ``origin`` (shop, key) of the row, and of a ticket what its shop says of its ``metal``."""

    key: int
    values: dict[str, object]
    pointers: dict[str, int | None]
    origin: tuple[uuid.UUID, int]
    metal: dict | None = None


@dataclass(frozen=True)
class Opened:
    """A bundle as read: ``of`` a ``shop`` or a ``ticket``, made in the shop called ``name``; rows by table, in an order
    in which each stands after those it points to."""

    of: str
    uid: uuid.UUID
    name: str
    rows: dict[str, list[Row]]


def opened(file: BinaryIO) -> Opened:
    """A bundle from its file; refuses, with the place, what is none or is not sound."""
    try:
        box = zipfile.ZipFile(file)
    except Exception as error:  # whatever a file that is none gives
        raise Refusal("bundle", f"is no sound zip ({type(error).__name__})") from None
    names = _names(box)
    of, uid, name = _head(_json("bundle.json", _read(box, "bundle.json", MOST_LINE)))
    pictures = {name for name in names if name.startswith("pictures/")}
    rows: dict[str, list[Row]] = {}
    for label, model in tables().items():
        place = f"tables/{label}.jsonl"
        if place in names:
            rows[label] = list(_rows(box, place, model, uid, pictures))
    unknown = sorted(one for one in names if one.startswith("tables/") and one[7:-6] not in tables())
    if unknown:
        raise Refusal(unknown[0], "is a table that this version does not know")
    _point_somewhere(rows)
    return Opened(of, uid, name, {label: _in_order(label, found) for label, found in rows.items()})


def _names(box: zipfile.ZipFile) -> set[str]:
    """The names in the box, once each, none of which leads out of it; what they claim to hold has room."""
    found, claimed = set(), 0
    if len(box.infolist()) > MOST_ENTRIES:
        raise Refusal("bundle", f"holds more than {MOST_ENTRIES} files")
    for info in box.infolist():
        if not NAME.fullmatch(info.filename) or ".." in info.filename.split("/") or info.filename.endswith("/"):
            raise Refusal(info.filename[:80] or "bundle", "is no name that a bundle has")
        if info.filename in found:
            raise Refusal(info.filename, "stands in it twice")
        if info.flag_bits & 1:
            raise Refusal(info.filename, "is enciphered")
        found.add(info.filename)
        claimed += info.file_size
        if claimed > MOST_UNPACKED:
            raise Refusal(info.filename, f"makes the bundle larger than {MOST_UNPACKED // 1_000_000} MB unpacked")
    return found


@contextmanager
def _undamaged(box: zipfile.ZipFile, name: str) -> Iterator[IO[bytes]]:
    """A file of the box, open; refuses one that breaks off or does not come to what it says."""
    try:
        with box.open(name) as file:
            yield file
    except Refusal:
        raise
    except Exception as error:  # zlib's own, and whatever else a damaged entry gives
        raise Refusal(name, f"is damaged ({type(error).__name__})") from None


def _read(box: zipfile.ZipFile, name: str, most: int) -> bytes:
    """A file of the box, of at most so many bytes whatever it claims."""
    if name not in box.namelist():
        raise Refusal(name, "is missing")
    with _undamaged(box, name) as file:
        data = file.read(most + 1)
    if len(data) > most:
        raise Refusal(name, f"is larger than {most // 1_000_000} MB")
    return data


def _head(head: dict) -> tuple[str, uuid.UUID, str]:
    if head.get("format") != FORMAT:
        raise Refusal("bundle.json", f"must say format “{FORMAT}”")
    if head.get("version") != VERSION:
        said = str(head.get("version"))[:20]
        raise Refusal("bundle.json", f"is of version {said}; version {VERSION} can be read here")
    if head.get("of") not in ("shop", "ticket"):
        raise Refusal("bundle.json", "must be of a shop or of a ticket")
    shop = head.get("shop")
    try:
        uid, name = uuid.UUID(shop["uid"]), shop.get("name")
    except (TypeError, KeyError, ValueError, AttributeError):
        raise Refusal("bundle.json", "does not say which shop it is of") from None
    return head["of"], uid, name[:80] if isinstance(name, str) else ""


def _json(place: str, text: bytes) -> dict:
    try:
        return read_json(text)
    except Refusal as refusal:
        raise Refusal(place, f"{refusal.path} {refusal.message}".strip()) from None


def _lines(box: zipfile.ZipFile, place: str) -> Iterator[tuple[str, dict]]:
    """(where, what) of each line."""
    with _undamaged(box, place) as file:
        n = 0
        while line := file.readline(MOST_LINE + 1):
            n += 1
            where = f"{place}, line {n}"
            if len(line) > MOST_LINE:
                raise Refusal(where, "is longer than a row may be")
            if n > MOST_ROWS:
                raise Refusal(where, "is one row too many")
            yield where, _json(where, line)


def _rows(box, place, model, uid, pictures) -> Iterator[Row]:
    seen = set()
    own = {one.attname: one for one in columns(model)}
    for where, data in _lines(box, place):
        origin, metal = data.pop("origin", None), {}
        if model._meta.label == "tickets.Ticket":
            metal = data.pop("metal", {})
        if unknown := sorted(data.keys() - own.keys()):
            raise Refusal(where, f"has a column “{unknown[0][:40]}” that its table has not")
        key = data.pop("id", None)
        if not _is_key(key) or key in seen:
            raise Refusal(where, "has no id of its own")
        seen.add(key)
        try:
            row = _row(box, model, own, key, data, _origin(origin, uid, key), pictures)
            if not isinstance(metal, dict):
                raise Refusal("metal", "must be a mapping")
            if metal:
                check(with_values(row.values["part"], metal), "part")
            yield replace(row, metal=metal)
        except Refusal as refusal:
            raise Refusal(where, f"{refusal.path}: {refusal.message}" if refusal.path else refusal.message) from None


def _is_key(value) -> bool:
    return isinstance(value, int) and not isinstance(value, bool) and 0 < value < 2 ** 63


def _origin(origin, uid, key) -> tuple[uuid.UUID, int]:
    if origin is None:
        return uid, key
    try:
        shop, theirs = origin
        found = uuid.UUID(shop)
    except (TypeError, ValueError, AttributeError):
        raise Refusal("origin", "must be a shop and a key") from None
    if not _is_key(theirs):
        raise Refusal("origin", "must be a shop and a key")
    return found, theirs


def _row(box, model, own, key, data, origin, pictures) -> Row:
    points, made = {}, model()
    for name, field in own.items():
        if name == "id" or name not in data:
            continue
        value = data[name]
        if field.is_relation:
            if value is not None and not _is_key(value):
                raise Refusal(name, "is no key")
            points[name] = value
        elif isinstance(field, models.BinaryField):
            setattr(made, name, _picture(box, name, value, pictures))
        else:
            setattr(made, name, _value(field, value))
    _sound(made)
    values = {name: getattr(made, name) for name, field in own.items()
              if name != "id" and not field.is_relation and name in data}
    return Row(key, values, points, origin)


def _value(field, value):
    """A value of the field's own type: texts are texts, numbers are numbers, and what a table keeps as a list or a
    mapping is one."""
    if value is None:
        if not field.null:
            raise Refusal(field.name, "must be given")
        return None
    if isinstance(field, models.JSONField):
        usual = type(field.default()) if callable(field.default) else None
        if usual in (list, dict) and not isinstance(value, usual):
            raise Refusal(field.name, f"must be a {'list' if usual is list else 'mapping'}")
        return value
    if isinstance(field, models.BooleanField):
        wanted = bool
    elif isinstance(field, models.FloatField):
        wanted = int | float
    elif isinstance(field, models.IntegerField):
        wanted = int
    else:
        wanted = str  # texts, times, days and uuids are written as texts
    if not isinstance(value, wanted) or (wanted is not bool and isinstance(value, bool)):
        raise Refusal(field.name, "is of another kind than its column")
    if isinstance(value, str) and "\x00" in value:
        raise Refusal(field.name, "holds a character that no text has")
    try:
        found = field.to_python(value)
        field.run_validators(found)
    except (ValidationError, ValueError, OverflowError) as error:
        raise Refusal(field.name, f"cannot be read: {' '.join(getattr(error, 'messages', ['']))[:120]}") from None
    if field.choices and found not in dict(field.flatchoices) and not (field.blank and found == ""):
        raise Refusal(field.name, f"is none of {', '.join(str(key) for key, _ in field.flatchoices)}"[:200])
    return found


def _picture(box, name, value, pictures) -> bytes:
    """A picture by its name in the bundle; refuses what is no JPEG."""
    if value == "":
        return b""
    place = f"pictures/{value}.jpg"
    if not isinstance(value, str) or place not in pictures:
        raise Refusal(name, "names a picture that is not in the bundle")
    data = _read(box, place, MOST_PICTURE)
    try:
        picture = Image.open(io.BytesIO(data), formats=("JPEG",))
        if picture.width * picture.height > MOST_PIXELS:
            raise Refusal(name, "is larger than a picture may be")
        picture.verify()
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError):
        raise Refusal(name, "is no JPEG") from None
    return data


READERS = {
    "brakes.Brake": lambda one: read_machine(one.file),
    "suppliers.Supplier": lambda one: read_profile(read_json(one.file)),
    "tickets.Ticket": lambda one: check(one.part, "part"), "tickets.Revision": lambda one: check(one.part, "part"),
    "brakes.KnownPart": lambda one: check(one.part, "part"),
    "tickets.Edit": lambda one: check(one.part, "part"), "floor.CheckSheet": lambda one: one.measured,
    "ledger.Sample": lambda one: one.core, "ledger.Chart": lambda one: one.rows,
    "day.Plan": lambda one: (one.core, one.found, one.calendar)}
"""What a row of a table must be readable as, beyond its columns."""


def _sound(made: models.Model) -> None:
    reader = READERS.get(made._meta.label)
    if reader is None:
        return
    try:
        reader(made)
    except Refusal:
        raise
    except (TypeError, ValueError, KeyError, IndexError, AttributeError, ArithmeticError, RecursionError):
        raise Refusal("", f"cannot be read as a {made._meta.verbose_name}") from None


def _point_somewhere(rows: dict[str, list[Row]]) -> None:
    """Every pointer leads to a row of the bundle."""
    keys = {label: {row.key for row in found} for label, found in rows.items()}
    for label, found in rows.items():
        for field in pointers(tables()[label]):
            there = keys.get(field.related_model._meta.label, set())
            for row in found:
                to = row.pointers.get(field.attname)
                if to is None and not field.null:
                    raise Refusal(f"tables/{label}.jsonl, id {row.key}", f"{field.attname} must point to a row")
                if to is not None and to not in there:
                    raise Refusal(f"tables/{label}.jsonl, id {row.key}",
                                  f"{field.attname} points to {to}, which is not in the bundle")


def _in_order(label: str, found: list[Row]) -> list[Row]:
    """Rows after those of their own table that they point to; refuses a circle."""
    own = [field.attname for field in pointers(tables()[label]) if field.related_model._meta.label == label]
    if not own or label == PEOPLE:
        return found
    rows, done, sorted_rows = {row.key: row for row in found}, set(), []
    for row in found:
        way, on = [row], {row.key}
        while way:
            ahead = [rows[to] for name in own if (to := way[-1].pointers.get(name)) is not None and to not in done]
            if not ahead:
                last = way.pop()
                if last.key not in done:
                    done.add(last.key)
                    sorted_rows.append(last)
            elif ahead[0].key in on and any(one.key == ahead[0].key for one in way):
                raise Refusal(f"tables/{label}.jsonl, id {ahead[0].key}", "leads in a circle to itself")
            else:
                way.append(ahead[0])
                on.add(ahead[0].key)
    return sorted_rows

"""Reading a bundle in: a whole shop moves into an empty one; into a shop with a record of its own come tickets, brakes,
tools and suppliers, each new, the same, or refused with why.

A row is known by where it was made (:class:`~.models.Origin`), not by its name: read in twice it is there once, and one
that comes back to its own shop is its own.
"""

import hashlib
from collections import Counter
from dataclasses import dataclass, field

from django.db import models, transaction
from django.utils.text import slugify

from bendcore.errors import Refusal
from bendcore.files import read_json
from dorvan.brakes.models import written
from dorvan.people.deeds import record
from dorvan.people.models import Deed, User
from dorvan.shop.models import Shop, forget
from dorvan.stockroom.models import MaterialValue
from dorvan.tickets.file.joined import with_values

from .models import Origin
from .opening import Opened, Row
from .tables import DOCUMENTS, EMPTY, OWNED, PEOPLE, SHOP, tables

NEW, SAME, REFUSED = "new", "same", "refused"
NUMBERED = {"tickets.Ticket": "number"}
SINGLE = (SHOP, "ledger.Rules")
NAMED = {"brakes.Brake": "name", "suppliers.Supplier": "name", "brakes.Tooling": "name"}


@dataclass(frozen=True)
class Told:
    """What became of a document: its ``title``, whether it is new, the same or refused, and ``why``."""

    title: str
    state: str
    why: str = ""


@dataclass
class Report:
    """Documents one by one, and how many rows of each table are ``new``, ``same`` and ``refused``."""

    documents: list[Told] = field(default_factory=list)
    counts: dict[str, Counter] = field(default_factory=dict)

    def count(self, label: str, state: str) -> None:
        """One row more."""
        self.counts.setdefault(label, Counter())[state] += 1


def is_empty() -> bool:
    """Whether a whole shop may move in."""
    return not any(tables()[label]._default_manager.exists() for label in EMPTY)


def read_in(bundle: Opened, by: User) -> Report:
    """Take in what can be taken in, all of it or, where something fails, none."""
    report = Report()
    with transaction.atomic():
        whole = bundle.of == "shop" and is_empty()
        _Taking(bundle, by, report, whole).all()
        told = Counter(one.state for one in report.documents)
        record(by, Deed.What.SHOP, "", f"read in a bundle of {bundle.name or 'another shop'}: "
                                       + ", ".join(f"{n} {state}" for state, n in sorted(told.items())))
        transaction.on_commit(forget)
    return report


class _Taking:
    """One bundle being taken in: which rows of it are which here."""

    def __init__(self, bundle: Opened, by: User, report: Report, whole: bool):
        self.bundle, self.by, self.report, self.whole = bundle, by, report, whole
        self.here: dict[tuple[str, int], int] = {}
        self.states: dict[tuple[str, int], str] = {}
        self.home = Shop.row().uid
        self.known = {(one.shop, one.table, one.theirs): one for one in Origin.objects.all()}
        self.taken = {(one.table, one.ours) for one in self.known.values()}
        self.origins: list[Origin] = []
        self.keys: dict[str, set[int]] = {}

    def all(self) -> None:
        for label, rows in self.bundle.rows.items():
            for row in rows:
                if label == PEOPLE:
                    state = self._person(row)
                elif label in SINGLE:
                    state = self._single(label, row)
                elif self.whole:
                    state = self._put(label, row)
                elif label in DOCUMENTS:
                    state = self._document(label, row)
                elif label in OWNED:
                    state = self._owned(label, row)
                else:
                    state = REFUSED
                self.states[label, row.key] = state
                self.report.count(label, state)
        kept = any(self.bundle.rows[label] for label in self.bundle.rows.keys() - {PEOPLE, *DOCUMENTS, *OWNED})
        if kept and not self.whole:
            self.report.documents.append(Told("Stock, ledger, site, cutting, day, settings, what was let pass", REFUSED,
                                              "this shop keeps its own"))
        Origin.objects.bulk_create(self.origins)

    def _person(self, row: Row) -> str:
        """Who moves with a whole shop is who has that name; of another shop's people nobody is one of this shop's, and
        what they did stands under a name of their own. Nobody comes in without a lead's doing."""
        names = [name for name in (row.values["username"], row.values.get("known_as")) if name]
        namesakes = (one for name in names for one in _called(name)[:1])
        same = next(namesakes, None) if self.whole else self._ours(PEOPLE, row)
        if same:
            self._is(PEOPLE, row, same.pk)
            return SAME
        made = User(**row.values | {"is_active": False, "username": self._name(row.values["username"]), "known_as": ""})
        made.set_unusable_password()
        made.save()
        self._is(PEOPLE, row, made.pk)
        self.report.documents.append(Told(made.username, NEW, "stopped, until a lead lets them in"))
        return NEW

    def _name(self, name: str) -> str:
        """The name, or where somebody here has it the name and where they are from."""
        found, n = name, 1
        while _called(found).exists():
            found = f"{name[:80]}@{slugify(self.bundle.name)[:40] or 'elsewhere'}{n if n > 1 else ''}"
            n += 1
        return found

    def _single(self, label: str, row: Row) -> str:
        """What a shop has one of takes the place of this shop's."""
        if not self.whole:
            return REFUSED
        model = tables()[label]
        ours = model._default_manager.first()
        if ours is None:
            return self._put(label, row)
        model._default_manager.filter(pk=ours.pk).update(**row.values)
        self.here[label, row.key] = ours.pk
        return NEW

    def _values(self, label: str, row: Row) -> dict:
        """The row's columns as they are here; what it points to that did not come along is none."""
        found = dict(row.values)
        for one in tables()[label]._meta.concrete_fields:
            if one.is_relation and one.attname in row.pointers:
                to = row.pointers[one.attname]
                found[one.attname] = None if to is None else self.here.get((one.related_model._meta.label, to))
        return found

    def _put(self, label: str, row: Row, **other) -> str:
        """Write the row as it is, under its own key where that is free."""
        model, values = tables()[label], self._values(label, row) | other
        missing = [one.attname for one in model._meta.concrete_fields
                   if one.is_relation and not one.null and values.get(one.attname) is None]
        if missing:
            raise Refusal(f"tables/{label}.jsonl, id {row.key}", f"{missing[0]} points to a row that was not taken")
        if twin := _twin(model, values):
            self._is(label, row, twin)
            return SAME
        if self.whole and label not in self.keys:
            self.keys[label] = set(model._default_manager.values_list("pk", flat=True))
        free = self.whole and row.key not in self.keys[label]
        made = model(**values, **({"id": row.key} if free else {}))
        made.save_base(raw=True, force_insert=True)  # as it was: nothing is dated anew
        if self.whole:
            self.keys[label].add(made.pk)
        self._is(label, row, made.pk)
        if label in DOCUMENTS:
            why = f"{row.values['name']} is another here" if "name" in other else \
                "its number was taken here" if "number" in other else ""
            self.report.documents.append(Told(_title(made), NEW, why))
        return NEW

    def _is(self, label: str, row: Row, ours: int) -> None:
        """The row is this one here; it is known by its origin from now on."""
        self.here[label, row.key] = ours
        shop, theirs = row.origin
        if label in (PEOPLE, *DOCUMENTS, *OWNED) and shop != self.home and (label, ours) not in self.taken:
            self.origins.append(Origin(shop=shop, table=label, theirs=theirs, ours=ours, digest=_digest(label, row)))
            self.taken.add((label, ours))

    def _ours(self, label: str, row: Row) -> models.Model | None:
        """The row as it is here already, by its origin."""
        shop, theirs = row.origin
        known = self.known.get((shop, label, theirs))
        key = theirs if shop == self.home else known and known.ours
        return key and tables()[label]._default_manager.filter(pk=key).first()

    def _document(self, label: str, row: Row) -> str:
        ours = self._ours(label, row)
        if ours is None and label in NAMED:
            ours = self._by_name(label, row)
        if ours is not None:
            self._is(label, row, ours.pk)
            why = self._why_not(label, row, ours)
            state = REFUSED if why else SAME
            self.report.documents.append(Told(_title(ours), state, why or "is here already"))
            return state
        other = {}
        if label in NUMBERED and self._is_taken(label, number=row.values["number"]):
            other = {"number": tables()[label].next_number()}
        if label in NAMED:
            other = self._another_name(label, row)
        if row.metal:
            known = MaterialValue.of(row.values["part"]["stock"]["material"])
            if known != row.metal:
                other["part"] = with_values(row.values["part"], row.metal)
        return self._put(label, row, **other)

    def _why_not(self, label: str, row: Row, ours: models.Model) -> str:
        """Why a document that is here is not the same; nothing where it is."""
        if known := self.known.get((row.origin[0], label, row.origin[1])):
            return "" if known.digest == _digest(label, row) else "was changed there since: it stays as it is here"
        differs = _differs(ours, self._values(label, row), label)
        return differs and f"{differs} is another here: this shop's stays"

    def _is_taken(self, label, **values) -> bool:
        return tables()[label]._default_manager.filter(**values).exists()

    def _by_name(self, label, row: Row) -> models.Model | None:
        """One of the same name that is the same."""
        found = tables()[label]._default_manager.filter(name__iexact=row.values["name"]).first()
        return found if found and not _differs(found, self._values(label, row), label) else None

    def _another_name(self, label, row: Row) -> dict:
        name, n = row.values["name"], 1
        while self._is_taken(label, name__iexact=name):
            n += 1
            name = f"{row.values['name'][:70]} ({n})"
        if name == row.values["name"]:
            return {}
        if "file" not in row.values:
            return {"name": name}
        return {"name": name, "file": written(read_json(row.values["file"]) | {"name": name})}

    def _owned(self, label: str, row: Row) -> str:
        """A row that belongs to a document goes the way of that."""
        owner = tables()[label]._meta.get_field(OWNED[label])
        above = (owner.related_model._meta.label, row.pointers[owner.attname])
        state = self.states[above]
        if state == NEW:  # what was released there is proved and released here before it is bent here
            return self._put(label, row, **({"elsewhere": True} if label == "tickets.Revision" else {}))
        ours = self._ours(label, row)
        if ours is None:
            return REFUSED
        self._is(label, row, ours.pk)
        return state


def _called(name: str) -> models.QuerySet:
    """Who has this name, or had it."""
    return User.objects.filter(models.Q(username__iexact=name) | models.Q(known_as__iexact=name))


IGNORED = {"tickets.Ticket": {"number", "version", "changed_at", "place"},
           "brakes.Brake": {"version"}, "suppliers.Supplier": {"version", "at", "by_id"},
           "brakes.Tooling": {"at", "by_id"}}
"""Columns in which two that are the same may differ."""


def _differs(ours: models.Model, values: dict, label: str) -> str:
    """The first column in which the row here is another, in words; nothing where it is none."""
    for name, value in values.items():
        pointer = ours._meta.get_field(name.removesuffix("_id")).is_relation if name.endswith("_id") else False
        if name in IGNORED.get(label, ()) or (pointer and value is None):
            continue
        if getattr(ours, name) != value:
            return name.removesuffix("_id").replace("_", " ")
    return ""


def _digest(label: str, row: Row) -> str:
    """Tells a row as it was made from the same row changed."""
    kept = {name: value for name, value in (row.values | row.pointers).items() if name not in IGNORED.get(label, ())}
    return hashlib.sha256(repr(sorted(kept.items())).encode()).hexdigest()


def _twin(model, values: dict) -> int | None:
    """The key of the row that is here already in the place that this one must have alone."""
    alone = [(one.name,) for one in model._meta.concrete_fields if one.unique and not one.primary_key]
    alone += [tuple(one.fields) for one in model._meta.constraints if isinstance(one, models.UniqueConstraint)]
    for names in [*alone, *model._meta.unique_together]:
        given = {model._meta.get_field(name).attname for name in names}
        if all(values.get(name) is not None for name in given):
            found = model._default_manager.filter(**{name: values[name] for name in given}).values_list("pk", flat=True)
            if found:
                return found[0]
    return None


def _title(one: models.Model) -> str:
    tag = getattr(one, "tag", "")
    return f"{tag} {one.name}".strip()

"""Rules by which a size follows from what was measured, as a person writes them.

    opening less 2 × clearance
    tyre plus travel
    half of perimeter of side
    smallest of door width less 6 mm

``+ plus``, ``− less minus``, ``× times``, ``÷ /``, ``half of``, ``twice``, brackets; of what has several sides
``perimeter of``, ``smallest of``, ``largest of`` and ``mean of``. A bare number added to a length is one in the
units that the rule was typed in; elsewhere it is a number. Products before sums, as always.
"""

import math
import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from functools import cached_property

from ..errors import Refusal
from ..said import Deg, Mm, Said
from ..units import MM_PER, WITHIN, read_length
from .measured import ANGLE, BARE, LENGTH

MOST_TEXT, MOST_DEEP = 200, 12
NAME = re.compile(r"[A-Za-z][\w' .-]{0,39}", re.ASCII)
PLUS, LESS, TIMES, OVER = "+", "−", "×", "÷"
WORDS = {"plus": PLUS, "+": PLUS, "less": LESS, "minus": LESS, "-": LESS, "−": LESS, "times": TIMES, "×": TIMES,
         "*": TIMES, "x": TIMES, "÷": OVER, "/": OVER, "over": OVER}
OF = {"perimeter": "perimeter", "sum": "perimeter", "smallest": "smallest", "least": "smallest", "largest": "largest",
      "greatest": "largest", "mean": "mean", "average": "mean"}
SCALES = {"half": 0.5, "twice": 2.0}
TAKEN = {*WORDS, *OF, *SCALES, "of"}
"""Words that no name may hold."""


@dataclass(frozen=True)
class Value:
    """A size as it stands: its ``dimension`` (length in mm, angle in degrees, number) and ``values``, more than one of
    what has several sides. ``typed`` is a bare number in mm, should it be a length."""

    dimension: str
    values: tuple[float, ...]
    typed: float | None = None

    @property
    def one(self) -> float:
        """Its only value."""
        return self.values[0]

    @property
    def said(self) -> object:
        """For something said."""
        kind = {LENGTH: Mm, ANGLE: Deg, BARE: float}[self.dimension]
        if len(self.values) > 1:
            return Said("; ".join(f"{{v{n}}}" for n in range(len(self.values))),
                        **{f"v{n}": kind(v) for n, v in enumerate(self.values)})
        return kind(self.one) if self.dimension != BARE else f"{self.one:.10g}"

    @property
    def told(self) -> str:
        """By itself, for a reader's units."""
        return str(self.said) if self.dimension == BARE else Said("{it}", it=self.said)


def check_name(name: str, others: Iterable[str] = (), field: str = "name") -> str:
    """The name, if rules can tell it from their own words and from the ``others``."""
    name = " ".join(name.split())
    if not NAME.fullmatch(name):
        raise Refusal(field, "must begin with a letter and have letters, digits, spaces, - . and ' only, 40 at most")
    words = {word for word in re.split(r"[ .-]", name.lower())} & TAKEN
    if words or "-" in name and any(part.strip() == "" for part in name.split("-")):
        raise Refusal(field, f"must not hold a word that rules use: {', '.join(sorted(words)) or '-'}")
    if name.lower() in {other.lower() for other in others}:
        raise Refusal(field, f"“{name}” is there already: give it another")
    return name


@dataclass(frozen=True)
class Rule:
    """A rule as typed, in whose units, read with the names there are. Refuses at ``rule`` what cannot be read."""

    text: str
    units: str
    known: tuple[str, ...]

    @cached_property
    def tree(self) -> tuple:
        """(operation, parts …), (``name``, name) or (``value``, :class:`Value`)."""
        if len(self.text) > MOST_TEXT:
            raise Refusal("rule", f"is longer than {MOST_TEXT} characters")
        reader = _Reader(_tokens(self.text, self.units, self.known))
        found = reader.sum()
        if reader.at < len(reader.tokens):
            raise Refusal("rule", f"has “{reader.shown}” where it should go on with plus, less, times or end")
        return found

    @cached_property
    def names(self) -> tuple[str, ...]:
        """What it hangs on, each once."""
        found: dict[str, None] = {}

        def walk(tree):
            if tree[0] == "name":
                found[tree[1]] = None
            for part in tree[1:]:
                if isinstance(part, tuple):
                    walk(part)

        walk(self.tree)
        return tuple(found)

    def value(self, values: Mapping[str, Value]) -> Value:
        """What it comes to; refuses sums of lengths with angles and their like."""
        found = _value(self.tree, values)
        if len(found.values) > 1:
            raise Refusal("rule", "comes to several sizes: say perimeter of, smallest of, largest of or mean of")
        if not math.isfinite(found.one):
            raise Refusal("rule", "divides by nothing")
        return Value(LENGTH, (found.typed,)) if found.typed is not None else found

    def working(self, values: Mapping[str, Value]) -> Said:
        """The rule with every name's value behind it and what it comes to."""
        names = [name for name in self.names if name in values]
        pattern = "|".join(map(re.escape, sorted(names, key=len, reverse=True)))
        places = {name: f"n{i}" for i, name in enumerate(names)}
        text = self.text.replace("{", "(").replace("}", ")")
        if pattern:
            text = re.sub(rf"(?<![\w])(?:{pattern})(?![\w])",
                          lambda m: f"{m[0]} ({{{places[_same(m[0], names)]}}})", text, flags=re.IGNORECASE)
        return Said(text + " = {result}", result=self.value(values).said,
                    **{places[name]: values[name].said for name in names})


def _same(text, names) -> str:
    return next(name for name in names if name.lower() == text.lower())


def _tokens(text: str, units: str, known) -> list[tuple[str, object]]:
    """(``name``, name), (``number``, Value), (``word``, sign, word of OF, SCALES or a bracket)."""
    found, rest = [], text.strip()
    names = sorted(known, key=len, reverse=True)
    while rest:
        name = next((n for n in names if rest.lower().startswith(n.lower())
                     and not re.match(r"\w", rest[len(n):len(n) + 1])), None)
        number, word = WITHIN.match(rest), re.match(r"[A-Za-z]+|\S", rest)
        if name:
            found.append(("name", name))
            taken = len(name)
        elif number:
            found.append(("number", _number(number, units)))
            taken = number.end()
        else:
            low = word[0].lower()
            if low not in TAKEN and low not in "()":
                raise Refusal("rule", f"“{rest[:24]}” is neither measured nor ruled here, nor a word of a rule")
            found.append(("word", low))
            taken = word.end()
        rest = rest[taken:].lstrip()
    return found


def _number(match, units) -> Value:
    unit, text = match["unit"], match[0]
    if unit == "°":
        return Value(ANGLE, (float(text[:-1].replace(",", ".")),))
    mm = read_length(text.strip(), units, "rule")
    return Value(LENGTH, (mm,)) if unit or match["feet"] else Value(BARE, (mm / MM_PER[units],), mm)


class _Reader:
    """Reads tokens into a tree: sums of products of factors."""

    def __init__(self, tokens):
        self.tokens, self.at, self.deep = tokens, 0, 0

    @property
    def shown(self) -> str:
        return str(self.tokens[self.at][1]) if self.at < len(self.tokens) else "the end"

    def word(self, known) -> str | None:
        if self.at < len(self.tokens) and self.tokens[self.at][0] == "word" and self.tokens[self.at][1] in known:
            self.at += 1
            return self.tokens[self.at - 1][1]
        return None

    def chain(self, part, signs) -> tuple:
        found = part()
        while word := self.word([w for w, sign in WORDS.items() if sign in signs]):
            found = (WORDS[word], found, part())
        return found

    def sum(self) -> tuple:
        return self.chain(self.product, (PLUS, LESS))

    def product(self) -> tuple:
        return self.chain(self.factor, (TIMES, OVER))

    def factor(self) -> tuple:
        self.deep += 1
        if self.deep > MOST_DEEP:
            raise Refusal("rule", f"goes more than {MOST_DEEP} deep: make a rule of a part of it")
        try:
            if word := self.word(SCALES):
                self.word(["of"])
                return ("×", ("value", Value(BARE, (SCALES[word],))), self.factor())
            if word := self.word(OF):
                if not self.word(["of"]):
                    raise Refusal("rule", f"says {word} without of")
                return (OF[word], self.factor())
            if self.word(["("]):
                found = self.sum()
                if not self.word([")"]):
                    raise Refusal("rule", "opens a bracket that is not closed")
                return found
            if self.at < len(self.tokens) and self.tokens[self.at][0] in ("name", "number"):
                what, value = self.tokens[self.at]
                self.at += 1
                return ("name", value) if what == "name" else ("value", value)
            raise Refusal("rule", f"has “{self.shown}” where a size should stand")
        finally:
            self.deep -= 1


REDUCE = {"perimeter": sum, "smallest": min, "largest": max, "mean": lambda values: sum(values) / len(values)}


def _value(tree: tuple, values: Mapping[str, Value]) -> Value:
    what, *parts = tree
    if what == "value":
        return parts[0]
    if what == "name":
        return values[parts[0]]
    found = [_value(part, values) for part in parts]
    if what in REDUCE:
        return Value(found[0].dimension, (REDUCE[what](found[0].values),), None)
    if any(len(one.values) > 1 for one in found):
        raise Refusal("rule", "counts with something that has several sides: say perimeter of, smallest of, largest of "
                              "or mean of")
    return _sum(what, *found) if what in (PLUS, LESS) else _product(what, *found)


def _sum(what, one: Value, other: Value) -> Value:
    sign = 1 if what == PLUS else -1
    typed = None
    if one.typed is not None and other.typed is not None:
        typed = one.typed + sign * other.typed
    elif one.dimension != other.dimension:
        one, other = _as_length(one), _as_length(other)
    if one.dimension != other.dimension:
        raise Refusal("rule", f"adds {_a(one)} and {_a(other)}")
    return Value(one.dimension, (one.one + sign * other.one,), typed)


def _as_length(value: Value) -> Value:
    return Value(LENGTH, (value.typed,)) if value.typed is not None else value


def _product(what, one: Value, other: Value) -> Value:
    if what == TIMES:
        if BARE not in (one.dimension, other.dimension):
            raise Refusal("rule", f"multiplies {_a(one)} by {_a(other)}")
        kept = other if one.dimension == BARE else one
        typed = next((a.typed * b.one for a, b in ((one, other), (other, one)) if a.typed is not None), None)
        return Value(kept.dimension, (one.one * other.one,), typed if kept.dimension == BARE else None)
    if other.dimension not in (BARE, one.dimension):
        raise Refusal("rule", f"divides {_a(one)} by {_a(other)}")
    share = one.one / other.one if other.one else math.inf
    if other.dimension == one.dimension != BARE:
        return Value(BARE, (share,))
    typed = one.typed / other.one if one.typed is not None and other.one else None
    return Value(one.dimension, (share,), typed)


def _a(value: Value) -> str:
    return {LENGTH: "a length", ANGLE: "an angle", BARE: "a number"}[value.dimension]

"""``make words``: every string that a page, a script or a message says, where it stands, and what is odd about it.

Templates are read as Django reads them, scripts and Python by their literals; what is put in while a page is made
stands as … in the list, what is said or not with a ‖ before and after. Odd is: an id or a field's path, a word that
is neither English nor in the glossary nor among those of the trade (``tests/trade-words.txt``), and what a list of
known slips catches.
"""

import argparse
import ast
import re
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from html.parser import HTMLParser
from pathlib import Path

from django.template.base import Lexer, TokenType
from spellchecker import SpellChecker

ROOT = Path(__file__).resolve().parents[1]
SAID_BY = ("aria-label", "title", "placeholder", "alt")
"""Attributes that are read out."""
INLINE = {"b", "i", "em", "u", "span", "q", "strong", "kbd", "code", "tspan", "sup", "sub", "abbr"}
UNSAID = {"script", "style"}
PUT_IN, CHOICE = "…", "‖"
NOT_SAID = {"compile", "getLogger", "get", "filter", "execute", "executescript", "add_argument", "append_html", "sub",
            "findall", "match", "split", "format_html", "mark_safe", "startswith", "endswith", "setdefault", "RunSQL",
            "partition", "rpartition", "strftime", "joinpath", "glob", "encode", "decode", "replace", "cssselect"}
"""Calls whose strings nobody reads."""
ID = re.compile(r"(?<![\w./@])(?:[a-z]+_[a-z_]+|[a-z]{2,}(?:\.[a-z]{2,}){1,}(?!\w|\()|"
                r"(?:edge|hole|slot|corner|tab)-[A-Z\d]\S*|\w+\[\d\])")
NAMES = {"manage.py", "shop.md", "bent_to"}
"""A command and a text for whoever runs the server; a column of a table that people write."""
SLIPS = {
    r"\b([a-z]+) \1\b": "a word twice",
    r"(?<![Ll]egs )\ba [aeio]\w(?!ne\b|nce\b)": "a before a vowel",
    r"\ban [bcdfgjklmnpqrstvwxyz]\w": "an before a consonant",
    r"\b1 (?:bend line|bend|hole|piece|row|step|sheet|blank|ticket)s\b": "one of many",
    r"\w ,|\w \.(?![\da-z])|\(\s|\w\s\)": "a space before a mark",
    r"\b(?:[Ll]ook(?:ed)? over|[Ss]tands? alone|[Rr]ub out|[Ll]et (?:it|a stop) pass|Lay it(?! out)|Take it so"
    r"|Keeps clear by|Before it |Plan round|Let it go|to minute|Until the ledger|None is found)\b": "said privately",
    r"\binformations\b|\ban other\b|\bmore easy\b|\bsince \w+ (?:years|days)\b|\bactual(?:ly)? the\b": "not English",
    r"\b(?:doesnt|cant|wont|isnt|its is)\b": "an apostrophe is missing",
}
WORD = re.compile(r"\b[A-Za-z][a-z']*[a-z]\b")


@dataclass(frozen=True)
class Said:
    """A string and where it stands."""

    where: str
    text: str


class _Page(HTMLParser):
    """What is read of a template, sentence by sentence."""

    def __init__(self):
        super().__init__()
        self.found, self.open, self.unsaid = [], [], 0

    def handle_starttag(self, tag, attrs):
        if tag not in INLINE:
            self.end()
        self.unsaid += tag in UNSAID
        for name, value in attrs:
            if value and (name in SAID_BY or (name == "value" and tag == "button")):
                self.found.append((self.getpos()[0], value))

    def handle_endtag(self, tag):
        if tag not in INLINE:
            self.end()
        self.unsaid -= tag in UNSAID

    def handle_data(self, data):
        if not self.unsaid and data.strip():
            self.open.append((self.getpos()[0], data))

    def end(self):
        """The sentence is over."""
        if self.open:
            self.found.append((self.open[0][0], "".join(text for _, text in self.open)))
            self.open = []


def of_template(text: str) -> list[tuple[int, str]]:
    """(line, text) of all that a template says."""
    page, instead = _Page(), {TokenType.VAR: PUT_IN, TokenType.BLOCK: CHOICE, TokenType.COMMENT: ""}
    page.feed("".join(instead.get(token.token_type, token.contents) for token in Lexer(text).tokenize()))
    page.end()
    return page.found


def of_python(text: str) -> Iterator[tuple[int, str]]:
    """(line, text) of the strings of a module that may be read by somebody: no docstrings, keys, patterns."""
    tree = ast.parse(text)
    unsaid = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            unsaid.add(id(node.value))
        if isinstance(node, ast.Call):
            name = getattr(node.func, "attr", getattr(node.func, "id", ""))
            if name in NOT_SAID:
                unsaid.update(id(one) for arg in node.args for one in ast.walk(arg))
        if isinstance(node, ast.keyword) and node.arg == "help_text":
            unsaid.add(id(node.value))
        if isinstance(node, ast.JoinedStr):
            unsaid.update(id(one) for one in node.values)
        if isinstance(node, ast.Subscript | ast.Compare):
            unsaid.update(id(one) for one in ast.walk(node))
    for node in ast.walk(tree):
        if id(node) in unsaid:
            continue
        if isinstance(node, ast.Constant) and isinstance(node.value, str):
            yield node.lineno, node.value
        elif isinstance(node, ast.JoinedStr):
            yield node.lineno, "".join(one.value if isinstance(one, ast.Constant) else PUT_IN for one in node.values)


def of_script(text: str) -> Iterator[tuple[int, str]]:
    """(line, text) of a script's literals."""
    for n, line in enumerate(text.splitlines(), 1):
        if not line.lstrip().startswith("//"):
            for match in re.finditer(r'"([^"\n]*)"|`([^`\n]*)`', line):
                yield n, re.sub(r"\$\{[^}]*\}", PUT_IN, match[1] or match[2] or "")


def reads(text: str) -> bool:
    """Whether somebody reads a literal: words with a space between them, and nothing that only machines write."""
    return bool(re.search(r"[A-Za-z]{2,} +[A-Za-z…“(]|… [a-z]{2,}", text)) and not re.search(
        r"[<>{}\\=;|]|\w\(|/\w+/|^\W*[.#\[]\w|--|__|%[sdr(]|\bSELECT\b|charset|attachment|px\b", text)


def every() -> list[Said]:
    """All that is said, in the order of the tree."""
    found = []
    for path in sorted(ROOT.glob("dorvan/**/templates/**/*.html")):
        found += [Said(f"{path.relative_to(ROOT)}:{n}", text) for n, text in of_template(path.read_text("utf-8"))]
    for path in sorted([*ROOT.glob("bendcore/**/*.py"), *ROOT.glob("dorvan/**/*.py")]):
        if "migrations" not in path.parts and "management" not in path.parts:
            found += [Said(f"{path.relative_to(ROOT)}:{n}", text) for n, text in of_python(path.read_text("utf-8"))
                      if reads(text)]
    for path in sorted(ROOT.glob("assets/js/*.js")):
        found += [Said(f"{path.relative_to(ROOT)}:{n}", text) for n, text in of_script(path.read_text("utf-8"))
                  if reads(text)]
    told = [Said(one.where, " ".join(one.text.split())) for one in found]
    return list(dict.fromkeys(one for one in told if re.search("[A-Za-z]{2}", one.text)))


def trade_words() -> set[str]:
    """Words that no dictionary has: the glossary's, the fields', and those listed."""
    listed = (ROOT / "tests" / "trade-words.txt").read_text("utf-8").split()
    glossary = WORD.findall((ROOT / "docs" / "glossary.md").read_text("utf-8"))
    return {word.casefold() for word in [*listed, *glossary]}


def odd(said: list[Said]) -> list[tuple[Said, str]]:
    """What is odd about some of them, in words."""
    english, trade, found = SpellChecker(language="en"), trade_words(), []
    slips = [(re.compile(pattern), words) for pattern, words in SLIPS.items()]
    for one in said:
        found += [(one, f"an id: {name}") for name in ID.findall(one.text) if name not in NAMES]
        found += [(one, f"{words}: “{match[0]}”") for pattern, words in slips for match in pattern.finditer(one.text)]
        words = {word.removesuffix("'s") for word in WORD.findall(ID.sub("", one.text))}
        unknown = {word for word in words if word.casefold() not in trade and english.unknown([word])}
        found += [(one, f"no word: {word}") for word in sorted(unknown)]
    return found


def main() -> int:
    """The list, unless only what is odd is asked for; 1 where anything is."""
    wanted = argparse.ArgumentParser(prog="tests.words")
    wanted.add_argument("--odd", action="store_true", help="only what is odd")
    said = every()
    if not wanted.parse_args().odd:
        for one in said:
            print(f"{one.where}: {one.text}")
    faults = odd(said)
    for one, words in faults:
        print(f"\033[31m{words}\033[0m   {one.where}: {one.text[:110]}")
    print(f"{len(said)} strings, {len(faults)} odd")
    return bool(faults)


if __name__ == "__main__":
    sys.exit(main())

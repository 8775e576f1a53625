"""The words of the trade as Dorvan uses them, from the one text that documents and pages share."""

import re
from dataclasses import dataclass
from functools import cache

from django.conf import settings
from django.http import JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

FILE = settings.BASE_DIR / "docs" / "glossary.md"
_ROW = re.compile(r"^\| (\*\*.+?) \| (.+) \|$", re.MULTILINE)
_STRONG, _MARKS = re.compile(r"\*\*(.+?)\*\*"), re.compile(r"[*`]")


@dataclass(frozen=True)
class Term:
    """A row of the glossary: its ``words`` as they stand there, the ``names`` it is looked up by, what it ``means``."""

    words: str
    names: tuple[str, ...]
    means: str

    def has(self, text: str) -> bool:
        """Whether it is looked for by this text, in its names or in what it says."""
        return text.casefold() in f"{self.words} {self.means}".casefold()


@cache
def terms() -> tuple[Term, ...]:
    """Every row, by the alphabet."""
    rows = [Term(_MARKS.sub("", words), tuple(_STRONG.findall(words)), _MARKS.sub("", means))
            for words, means in _ROW.findall(FILE.read_text("utf-8"))]
    return tuple(sorted(rows, key=lambda term: term.words.casefold()))


@require_safe
def every_word(request):
    """All of them for the page that asks where a word stands."""
    return JsonResponse({"terms": [{"names": term.names, "means": term.means} for term in terms()]})


@require_safe
def words(request):
    """All of them, or those in which a text stands; what is called so first."""
    asked = request.GET.get("q", "").strip()[:40]
    found = [term for term in terms() if term.has(asked)]
    found.sort(key=lambda term: not any(asked.casefold() == name.casefold() for name in term.names))
    return render(request, "glossary.html", {"at": "words", "found": found, "asked": asked})

"""Tables handed on as CSV, and brought: as a file or pasted."""

import csv

from django.http import HttpResponse

from bendcore.errors import Refusal

FORMULA = tuple("=+-@\t\r")


def table(name: str):
    """(an answer that is a file of that ``name``, what writes rows into it)."""
    answer = HttpResponse(content_type="text/csv; charset=utf-8", headers={
        "Content-Disposition": f'attachment; filename="{name}.csv"'})
    return answer, csv.writer(answer)


def brought(request, name: str, most: int) -> str:
    """A table of at most so many characters: the file sent with it, or what was pasted; refused at its name."""
    file = request.FILES.get("file")
    if not file:
        return request.POST.get(name, "")
    raw = file.read(4 * most + 1)
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refusal(name, "is a file that is not UTF-8 text: save it as CSV, UTF-8") from None
    if len(raw) > 4 * most:
        raise Refusal(name, f"is longer than {most} characters")
    return text


def plain(words: str) -> str:
    """What people typed, so that no spreadsheet takes it for a formula."""
    return f"'{words}" if words.startswith(FORMULA) else words

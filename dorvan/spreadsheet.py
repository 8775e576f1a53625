"""Tables handed on as CSV."""

import csv

from django.http import HttpResponse

FORMULA = tuple("=+-@\t\r")


def table(name: str):
    """(an answer that is a file of that ``name``, what writes rows into it)."""
    answer = HttpResponse(content_type="text/csv; charset=utf-8", headers={
        "Content-Disposition": f'attachment; filename="{name}.csv"'})
    return answer, csv.writer(answer)


def plain(words: str) -> str:
    """What people typed, so that no spreadsheet takes it for a formula."""
    return f"'{words}" if words.startswith(FORMULA) else words

"""A full disk or a database that must not be written: said plainly, with nothing half-written.

Every change is one transaction, so what could not be written was not written at all.
"""

import sqlite3

from django.db import DatabaseError, connection
from django.shortcuts import render

SAYS = {"readonly": "The data of this shop may only be read: its file or folder is write-protected.",
        "full": "The disk is full.", "i/o error": "The disk does not answer as it should.",
        "unable to open": "The data of this shop cannot be opened.", "locked": "Others are writing just now."}


def why(error: Exception) -> str:
    """What keeps the database from being written, in words; empty for any other error."""
    cause = error.__cause__ if isinstance(error, DatabaseError) else error
    text = str(cause).lower()
    return next((words for part, words in SAYS.items() if part in text), "") if isinstance(
        cause, sqlite3.OperationalError) else ""


class CannotWrite:
    """Answers 503 with a plain page where the database cannot be written."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        return self.get_response(request)

    def process_exception(self, request, error):
        words = why(error)
        if not words:
            return None
        connection.close()  # the next request begins afresh
        return render(request, "cannot_write.html", {"why": words}, status=503)

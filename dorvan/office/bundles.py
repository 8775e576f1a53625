"""Bundles: the shop or a ticket to take along, and one from elsewhere read in, with what became of each part of it."""

import tempfile

from django.http import FileResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from bendcore.errors import Refusal
from dorvan.bundle.opening import MOST_PACKED, opened
from dorvan.bundle.packing import pack_shop, pack_ticket
from dorvan.bundle.reading_in import Report, is_empty, read_in
from dorvan.bundle.tables import tables
from dorvan.tickets.pages.lookup import ticket_or_404
from dorvan.versions.doing import status_of


@require_safe
def bundles(request):
    """The ways out and in."""
    return _page(request)


def _page(request, error: Refusal | None = None, report: Report | None = None):
    rows = [(str(tables()[label]._meta.verbose_name_plural), counts) for label, counts in report.counts.items()] \
        if report else []
    return render(request, "office/bundles.html", {
        "at": "shop", "error": error, "report": report, "rows": rows, "empty": is_empty()}, status=status_of(error))


def _sent(pack, name: str) -> FileResponse:
    file = tempfile.TemporaryFile()  # noqa: SIM115 - closed with the answer
    pack(file)
    file.seek(0)
    return FileResponse(file, as_attachment=True, filename=name, content_type="application/zip")


@require_safe
def whole(request):
    """Everything, to take along."""
    return _sent(lambda file: pack_shop(file, request.user), f"shop-{timezone.localdate():%Y-%m-%d}.zip")


@require_safe
def ticket(request, number: int):
    """A ticket with its brake, to hand on."""
    found = ticket_or_404(number)
    return _sent(lambda file: pack_ticket(file, request.user, found), f"{found.tag}-bundle.zip")


@require_POST
def read(request):
    """Take a bundle in, and tell what became of it."""
    file = request.FILES.get("bundle")
    try:
        if file is None:
            raise Refusal("bundle", "must be chosen")
        if file.size > MOST_PACKED:
            raise Refusal("bundle", f"is larger than {MOST_PACKED // 1_000_000} MB")
        report = read_in(opened(file), request.user)
    except Refusal as refusal:
        return _page(request, refusal)
    return _page(request, report=report)

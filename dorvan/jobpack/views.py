"""The job pack as a page to choose from, and as a PDF."""

from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_safe

from bendcore.formats.jobpack import job_pack
from dorvan.joining.listing import kit_of
from dorvan.longwork.desk import Working
from dorvan.longwork.waiting import waiting
from dorvan.shop.models import Shop
from dorvan.tickets.pages.kit import lead_or_404
from dorvan.tickets.pages.lookup import ticket_or_404

from .content import SECTIONS, Writer


@require_safe
def pack(request, number: int):
    """What may go into the pack of a kit."""
    lead = lead_or_404(number)
    return render(request, "jobpack/pack.html", {"ticket": ticket_or_404(number), "lead": lead, "at": "rack",
                                                 "sections": SECTIONS, "pieces": kit_of(lead)})


@require_safe
def printed(request, number: int):
    """The pack as one PDF: the sections chosen, all of them where none is."""
    lead = lead_or_404(number)
    chosen = {name for name in SECTIONS if request.GET.get(name) == "on"} or set(SECTIONS)
    writer = Writer(request.user.units, request.build_absolute_uri)
    try:
        sections = list(writer.sections(lead, chosen))
    except Working as working:
        return waiting(request, working, "Job pack", "The pictures of its steps are being drawn.", ticket=lead,
                       back=reverse("jobpack:pack", args=[number]), at="rack")
    data = job_pack(f"{lead.tag} {lead.name}", sections, Shop.now().letterhead)
    return HttpResponse(data, content_type="application/pdf", headers={
        "Content-Disposition": f'inline; filename="{lead.tag}-job-pack.pdf"'})

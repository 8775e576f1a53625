"""The first hour of a shop: a brake, a stock, a proof bend, a first part; what is still a start value, and what that
costs. Left at any point, and come back to under *shop*."""

from dataclasses import dataclass

from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST, require_safe

from bendcore.quality.certainty import CALIPER, blank_uncertainty
from bendcore.quality.spreads import THICKNESS as BY_THICKNESS
from bendcore.quality.spreads import K as BY_K
from bendcore.quality.spreads import Spreads
from dorvan.brakes.models import Brake
from dorvan.ledger.models import Adoption, Sample
from dorvan.shop.models import Shop
from dorvan.stockroom.models import Lot
from dorvan.tickets.models import Ticket
from dorvan.versions.doing import retried

BENDS, PLAIN = 2, 1.0
"""What uncertainty is told of: a blank with two square bends, of 1 mm where there is no lot yet."""


@dataclass(frozen=True)
class Step:
    """A ``title``, why it is worth while, whether it is ``done`` and how far, and where it is done."""

    title: str
    why: str
    done: bool
    told: str
    link: str
    go: str


def steps(lot: Lot | None) -> list[Step]:
    """The four steps as this shop stands, ``lot`` the last one measured."""
    brake, strips = Brake.objects.order_by("pk").last(), Sample.objects.count()
    unmeasured = len(brake.not_measured) if brake and brake.is_described else 0
    part = Ticket.objects.filter(order_found=True).order_by("pk").last()
    return [
        Step("A brake", "Every order is proved in its section. Tape, caliper and protractor; a first one stands in two "
             "minutes and is made truer later.", bool(brake),
             f"{brake}, {unmeasured} sizes are start values still" if unmeasured else str(brake or ""),
             reverse("brakes:sizes", args=[brake.pk]) if unmeasured else
             reverse("brakes:rack") if brake else reverse("brakes:new"),
             "Measure the rest" if unmeasured else "The brakes" if brake else "Describe a brake"),
        Step("A stock", "The same nominal is not the same thickness. Three readings with a caliper.", bool(lot),
             f"{lot.code}, {len(lot.readings)} readings" if lot else "", reverse("stockroom:lots"),
             "The stockroom" if lot else "Enter a lot"),
        Step("A proof bend", "One strip of it, bent and measured, says more than any book: the K of your metal on your "
             "tool.", bool(strips), f"{strips} measured" if strips else "", reverse("ledger:new-proof"),
             "Another strip" if strips else "Bend a strip"),
        Step("A first part", "Sizes as the drawing has them; its blank, the order of its bends, the set-up, card by "
             "card.", bool(part), f"{part.tag} {part.name}" if part else "", part.get_absolute_url() if part else
             reverse("tickets:rack"), "Look at it" if part else "Begin one")]


@require_safe
def first_hour(request):
    """Where the shop stands, and what what is not known yet comes to."""
    lot, adopted = Lot.objects.exclude(readings=[]).order_by("pk").last(), Adoption.objects.order_by("pk").last()
    thickness = lot.best if lot else PLAIN
    known = Spreads().known(k=adopted.u_k if adopted else None, thickness=CALIPER / thickness if lot else None)
    found = blank_uncertainty(thickness, thickness, BENDS, known)
    rows = steps(lot)
    return render(request, "office/first_hour.html", {
        "at": "shop", "steps": rows, "left": sum(not one.done for one in rows), "thickness": thickness, "bends": BENDS,
        "by_k": found[BY_K], "by_thickness": found[BY_THICKNESS], "adopted": adopted, "lot": lot,
        "units": request.user.units, "shown": Shop.now().first_hour})


@require_POST
@retried
def leave(request):
    """Not on the rack any more; or on it again."""
    Shop.row().put(request.user, "first_hour", "left the first hour", first_hour=request.POST.get("again") == "1")
    return redirect("office:first-hour" if request.POST.get("again") == "1" else "tickets:rack")

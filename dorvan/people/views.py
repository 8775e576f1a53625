"""Signing in and out, and how a person reads lengths."""

from django.contrib import messages
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView
from django.core.paginator import Paginator
from django.http import HttpResponseRedirect
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from bendcore.errors import Refusal
from bendcore.units import Reading
from dorvan import fields
from dorvan.shop.models import Shop, forget

from . import pins, rest, tablets
from .guesses import guessed_from
from .joining import join
from .models import Deed, User

READINGS = {"mm": ("mm", "Millimetres"), "0": ("in", "Inches, in decimals"), "16": ("in", "Inches, to 1/16"),
            "32": ("in", "Inches, to 1/32"), "64": ("in", "Inches, to 1/64")}
"""What a person may choose, by the form's value: the units, and what it is called."""
ANGLES = {"bent": "Bent from flat: a square corner 90°, one opened to 105° is 75°",
          "included": "Included between the legs: that corner is 105°"}
"""How a person may measure angles, by the form's value."""
ON_A_PAGE = 50
EXAMPLES = (200.0, 41.3, 3.2, 0.08)
"""Lengths shown as each choice would write them, mm."""


@require_POST
def switch_units(request):
    """Turn the figures shown between mm and inches, and go back."""
    request.user.units = "in" if request.user.units == "mm" else "mm"
    request.user.save(update_fields=["unit"])
    return HttpResponseRedirect(fields.way(request, request.POST.get("back")) or "/")


@require_safe
def deeds(request):
    """The shop's log of acts on record, newest first; by person, kind of act or ticket."""
    asked = {key: request.GET.get(key, "")[:40] for key in ("by", "what", "ticket")}
    found = Deed.objects.select_related("by")
    if asked["by"]:
        found = found.filter(by__username=asked["by"])
    if asked["what"] in Deed.What.values:
        found = found.filter(what=asked["what"])
    if asked["ticket"].strip():
        number = fields.number(asked["ticket"].strip().upper().removeprefix("T-"))
        found = found.filter(ticket__regex=rf"^T-0*{number}$") if number is not None else found.none()
    page = Paginator(found, ON_A_PAGE).get_page(request.GET.get("page", "1")[:9])
    return render(request, "people/deeds.html", {
        "page": page, "asked": asked, "kinds": Deed.What.choices, "at": "deeds",
        "people": User.objects.order_by("username")})


@require_safe
def reading(request):
    """The ways to read a length, with the same lengths in each, and an angle."""
    now = "mm" if request.user.unit == "mm" else str(request.user.tape)
    rows = [{"value": value, "title": title, "on": value == now, "examples": EXAMPLES,
             "units": Reading(units, 0 if value == "mm" else int(value))} for value, (units, title) in READINGS.items()]
    return render(request, "people/reading.html", {"rows": rows, "angles": ANGLES, "included": request.user.included})


@require_POST
def read_so(request):
    """Take one of the ways to read a length."""
    value = request.POST.get("reading")
    if value not in READINGS:
        messages.error(request, "Choose one of the ways to read a length.")
        return redirect("people:reading")
    _reads(request.user, value)
    if request.POST.get("angles") in ANGLES:
        request.user.included = request.POST["angles"] == "included"
    request.user.save(update_fields=["unit", "tape", "included"])
    messages.success(request, f"Lengths are shown in {READINGS[value][1].lower()}.")
    return redirect("people:reading")


def _reads(person: User, value: str) -> None:
    person.unit = READINGS[value][0]
    if value != "mm":
        person.tape = int(value)


class SignIn(LoginView):
    """The door; of a shop without anybody it leads to where the first person is made."""

    template_name = "people/sign_in.html"
    redirect_authenticated_user = True

    def get(self, request, *args, **kwargs):
        if not User.objects.exists():
            return redirect("people:first")
        return super().get(request, *args, **kwargs)

    def get_context_data(self, **kwargs):
        return super().get_context_data(device=tablets.device_of(self.request), **kwargs)

    def post(self, request, *args, **kwargs):
        if guessed_from(request.META.get("REMOTE_ADDR")):
            return render(request, "people/locked.html", status=429)
        return super().post(request, *args, **kwargs)

    def form_valid(self, form):
        ends = form.get_user().phrase_ends
        if ends and ends < timezone.now():
            return self.render_to_response(self.get_context_data(form=form, lapsed=True))
        answer = super().form_valid(form)
        tablets.signed_in(self.request, tablets.device_of(self.request), by_pin=False)
        pins.wake(form.get_user())
        rest.begin(self.request, own=self.request.POST.get("own") == "on")
        return answer


@login_not_required
@require_http_methods(["GET", "HEAD", "POST"])
def first(request):
    """The first person of a shop, a lead; the page is there as long as nobody is."""
    if User.objects.exists():
        return redirect("people:sign-in")
    form, error = request.POST, None
    if request.method == "POST":
        try:
            person = User(username=fields.words(form.get("name"), 150), role=User.Role.LEAD)
            _reads(person, fields.one_of(form.get("reading"), READINGS, "reading"))
            if form.get("phrase") != form.get("again"):
                raise Refusal("again", "is not the same: type the pass phrase twice")
            join(person, form.get("phrase", "")[:200])
            Shop.objects.filter(pk=Shop.row().pk).update(first_hour=True)
            forget()
            login(request, person, backend="django.contrib.auth.backends.ModelBackend")
            rest.begin(request, own=False)
            return redirect("tickets:rack")
        except Refusal as refusal:
            error = refusal
    return render(request, "people/first.html", {"form": form, "error": error, "ways": [
        (value, title) for value, (_, title) in READINGS.items()]}, status=422 if error else 200)

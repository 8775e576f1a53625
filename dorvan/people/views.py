"""Signing in and out, and the units a person likes."""

from django.http import HttpResponseRedirect
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_POST


@require_POST
def switch_units(request):
    """Turn the figures shown between mm and inches, and go back."""
    request.user.units = "in" if request.user.units == "mm" else "mm"
    request.user.save(update_fields=["units"])
    back = request.POST.get("back", "/")
    safe = url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()})
    return HttpResponseRedirect(back if safe else "/")

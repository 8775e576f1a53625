"""Guards for views by role."""

from functools import wraps

from django.core.exceptions import PermissionDenied


def lead_required(view):
    """Only a lead may call this view."""
    @wraps(view)
    def guarded(request, *args, **kwargs):
        if not request.user.is_lead:
            raise PermissionDenied
        return view(request, *args, **kwargs)
    return guarded

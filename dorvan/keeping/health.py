"""An address for monitors: whether the shop answers and its data can be read. No details."""

from django.contrib.auth.decorators import login_not_required
from django.db import DatabaseError, connection
from django.http import HttpResponse
from django.views.decorators.http import require_safe


@login_not_required
@require_safe
def health(request):
    """``ok``, or 503."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except DatabaseError:
        return HttpResponse("not well", status=503, content_type="text/plain")
    return HttpResponse("ok", content_type="text/plain", headers={"Cache-Control": "no-store"})

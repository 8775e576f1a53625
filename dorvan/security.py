"""Who may ask, what a device may keep, and the content security policy: everything from this server, nothing inline."""

from django.contrib.auth.middleware import LoginRequiredMiddleware
from django.http import HttpResponse

POLICY = "; ".join([
    "default-src 'self'", "script-src 'self'", "style-src 'self'", "img-src 'self' data:", "font-src 'self'",
    "connect-src 'self'", "object-src 'none'", "base-uri 'none'", "form-action 'self'", "frame-ancestors 'none'",
])


class ContentSecurityPolicy:
    """Adds the policy to every answer."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response


class KeptNowhere:
    """What was shown to somebody signed in is not kept by the device: the next at a shared tablet cannot go back to
    it."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        if request.user.is_authenticated:
            response.headers.setdefault("Cache-Control", "no-store")
        return response


class SignInRequired(LoginRequiredMiddleware):
    """Pages send whoever is not signed in to sign in. A redraw is refused instead: the sign-in page would be
    put where the bench was, and what was typed would be gone."""

    def handle_no_permission(self, request, view_func):
        if request.headers.get("HX-Request") == "true":
            return HttpResponse("You were signed out.", status=401, content_type="text/plain")
        return super().handle_no_permission(request, view_func)

"""Runs every signed-in request inside its user's practice, by its clock."""

from contextlib import nullcontext
from time import time
from urllib.parse import urlsplit

from allauth.mfa.utils import is_mfa_enabled
from django.contrib import messages
from django.contrib.auth import logout
from django.contrib.auth.middleware import LoginRequiredMiddleware
from django.contrib.auth.views import redirect_to_login
from django.http import HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme

from .scope import within

#: How often a session's last click is written down, in seconds: not at every one.
_WRITE_EVERY_S = 60
#: Where somebody without the factor their practice asks for may still go.
_BEFORE_THE_FACTOR = ("mfa_", "account_")


class SignedInMiddleware(LoginRequiredMiddleware):
    """Nobody gets in without signing in; a page that is open already is told so, and keeps what was typed."""

    def handle_no_permission(self, request, view):
        if request.headers.get("HX-Request"):
            return HttpResponse("You were signed out. Sign in again.", status=401, content_type="text/plain")
        if request.method == "POST":  # back to the page the form stood on: the form's address alone shows nothing
            return redirect_to_login(self._page_of(request), self.get_login_url(view))
        return super().handle_no_permission(request, view)

    @staticmethod
    def _page_of(request):
        page = request.headers.get("Referer", "")
        if url_has_allowed_host_and_scheme(page, {request.get_host()}, request.is_secure()):
            return urlsplit(page).path
        return "/"


class IdleMiddleware:
    """Signs out who has not clicked for as long as their practice allows. What was typed stays on their page."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if request.user.is_authenticated:
            now, last = time(), request.session.get("clicked", 0.0)
            if last and now - last > 60 * request.user.practice.idle_minutes:
                logout(request)
            elif now - last > _WRITE_EVERY_S:
                request.session["clicked"] = now
        return self.get_response(request)


class SecondFactorMiddleware:
    """Where a practice asks for a second factor, nobody gets on without one."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        return self.get_response(request)

    def process_view(self, request, view, args, kwargs):
        user, name = request.user, request.resolver_match.url_name or ""
        if not user.is_authenticated or not user.practice.needs_second_factor or name.startswith(_BEFORE_THE_FACTOR):
            return None
        if is_mfa_enabled(user):
            return None
        messages.info(request, "Your practice asks for a second factor: add one, and go on.")
        return redirect("mfa_activate_totp")


class PracticeMiddleware:
    """The user's practice is in scope for the whole request; nobody signed in: no scope, and so no data."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if not request.user.is_authenticated:
            return self.get_response(request)
        zone = request.user.practice.time_zone
        with within(request.user.practice), timezone.override(zone) if zone else nullcontext():
            response = self.get_response(request)
        # No page of a practice is kept by a browser or on the way; going back asks for it again.
        if not response.has_header("Cache-Control"):
            response["Cache-Control"] = "private, no-store"
        return response

"""Runs every signed-in request inside its user's practice, by its clock."""

from contextlib import nullcontext

from django.utils import timezone

from .scope import within


class PracticeMiddleware:
    """The user's practice is in scope for the whole request; nobody signed in: no scope, and so no data."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if not request.user.is_authenticated:
            return self.get_response(request)
        zone = request.user.practice.time_zone
        with within(request.user.practice_id), timezone.override(zone) if zone else nullcontext():
            return self.get_response(request)

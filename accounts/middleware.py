"""Runs every signed-in request inside its user's practice."""

from .scope import within


class PracticeMiddleware:
    """The user's practice is in scope for the whole request; nobody signed in: no scope, and so no data."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if not request.user.is_authenticated:
            return self.get_response(request)
        with within(request.user.practice_id):
            return self.get_response(request)

"""Knows who is at work for as long as a request lasts."""

import pghistory

from .acting import Acting, as_acting


class ActingMiddleware:
    """The log and the history of rows are told who is at work, from where, and under which request number."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        user = request.user if request.user.is_authenticated else None
        who = Acting(user, request.META.get("REMOTE_ADDR"), getattr(request, "number", ""))
        if request.method in ("GET", "HEAD"):
            with as_acting(who):
                return self.get_response(request)
        with as_acting(who), pghistory.context(user=user.pk if user else None, request=who.request):
            return self.get_response(request)

"""What every request goes through before it reaches a room."""

import secrets
from ipaddress import ip_address, ip_network

from django.conf import settings
from django.http import HttpResponse

from .logs import request_number


class RequestNumberMiddleware:
    """Gives every request a number, which the log and the error page show, and finds out where it really comes from.

    Behind proxies that are trusted (OPEN_GATE_TRUSTED_PROXIES) the address is the last one that no trusted proxy has.
    """

    def __init__(self, get_response):
        self.get_response = get_response
        self.trusted = [ip_network(each) for each in settings.TRUSTED_PROXIES]

    def __call__(self, request):
        request.number = secrets.token_hex(4)
        request.META["REMOTE_ADDR"] = self._address(request)
        token = request_number.set(request.number)
        try:
            response = self.get_response(request)
        finally:
            request_number.reset(token)
        response["X-Request-Number"] = request.number
        return response

    def _is_trusted(self, address):
        try:
            return any(ip_address(address) in network for network in self.trusted)
        except ValueError:
            return False

    def _address(self, request):
        here = request.META.get("REMOTE_ADDR") or "0.0.0.0"  # noqa: S104 - no address: a unix socket
        told = [each.strip() for each in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",") if each.strip()]
        while told and self._is_trusted(here):
            here = told.pop()
        try:
            return str(ip_address(here))
        except ValueError:  # a forged header
            return "0.0.0.0"  # noqa: S104


class LengthMiddleware:
    """Refuses a body by the length it says it has, before any of it is read or laid on disk."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        said = request.META.get("CONTENT_LENGTH") or "0"
        if said.isdecimal() and int(said[:18]) <= settings.DATA_UPLOAD_MAX_MEMORY_SIZE:
            return self.get_response(request)
        most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE // 1_000_000
        words = f"What was sent is too large: up to {most} MB are taken. A saved recipe page is smaller; paste its words instead."
        return HttpResponse(words, status=413, content_type="text/plain; charset=utf-8")


NULL = "\x00"


def _without_nulls(data):
    """A form without null characters, which no text field of the database can hold; the same form when there are none."""
    if not any(NULL in text for key, values in data.lists() for text in (key, *values)):
        return data
    clean = data.copy()
    for key, values in data.lists():
        clean.pop(key)
        clean.setlist(key.replace(NULL, ""), [value.replace(NULL, "") for value in values])
    return clean


class NullCharacterMiddleware:
    """Takes null characters out of what was typed: nobody types them, and they would stop the database."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        request.GET = _without_nulls(request.GET)
        if request.method == "POST":
            request.POST = _without_nulls(request.POST)
        return self.get_response(request)

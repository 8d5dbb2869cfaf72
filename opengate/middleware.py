"""What every request goes through before it reaches a room."""

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

"""Figures as forms and addresses carry them."""


def whole(text, default=0):
    """A whole number, as a form or an address carries it; `default` for anything else.

    >>> whole("12"), whole("-1"), whole("²"), whole(None, 7), whole("9" * 40)
    (12, 0, 0, 7, 0)
    """
    text = text or ""
    return int(text) if text.isdecimal() and len(text) <= 18 else default


def said(request):
    """What the answer must go by: what was posted, else what the address says."""
    return request.GET.dict() | {name: value for name, value in request.POST.dict().items() if value}

"""Whom somebody worked with last, for the choices that begin with a person."""

_KEY = "person_lately"


def worked_with(request, person_id):
    """Remember it for this session; written only when it is another one."""
    if request.session.get(_KEY) != person_id:
        request.session[_KEY] = person_id


def person(request):
    """The id of the person last worked with; None when there is none yet."""
    return request.session.get(_KEY)

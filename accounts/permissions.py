"""Who may do what: every view names one entry of this registry, and a name that is not in it raises at import.

A rule looks at the user alone; whose rows they are is kept apart by accounts.scope. The roles of a practice come later;
today there are two: whoever works in the practice, and who of them is licensed.
"""

from collections.abc import Callable
from dataclasses import dataclass
from functools import wraps

from django.core.exceptions import PermissionDenied


@dataclass(frozen=True, slots=True)
class Rule:
    """Who may, as a test of the user, and the sentence for who may not."""

    name: str
    holds: Callable
    refusal: str


ANYONE = Rule("anyone", lambda user: True, "")
MEMBER = Rule("whoever works in the practice", lambda user: user.is_authenticated, "Sign in first.")
LICENSED = Rule(
    "a licensed practitioner",
    lambda user: user.is_authenticated and user.is_licensed,
    "Only a licensed practitioner may do this: ask one of your practice.",
)

#: What is done -> who may.
PERMISSIONS = {
    "practice.see": MEMBER,
    "people.see": MEMBER,
    "people.change": MEMBER,
    "targets.change": MEMBER,
    "targets.confirm": LICENSED,
    "recipes.see": MEMBER,
    "recipes.change": MEMBER,
    "bench.see": MEMBER,
    "bench.change": MEMBER,
    "kitchen.see": MEMBER,
    "kitchen.cook": MEMBER,
    "kitchen.judge": MEMBER,
    "handouts.see": MEMBER,
    "handouts.release": MEMBER,
    "handouts.link": MEMBER,
    "handouts.open_link": ANYONE,
    "pantry.see": MEMBER,
    "pantry.change": MEMBER,
}


def may(user, permission):
    """Whether a user may do it."""
    return PERMISSIONS[permission].holds(user)


def allowed(permission):
    """For a view: only who may do it gets in. Raises LookupError at import for a name that is not in the registry."""
    if permission not in PERMISSIONS:
        raise LookupError(
            f"no permission is called {permission!r}; accounts/permissions.py has {', '.join(PERMISSIONS)}"
        )

    def guarded(view):
        @wraps(view)
        def entered(request, *args, **kwargs):
            if not may(request.user, permission):
                raise PermissionDenied(PERMISSIONS[permission].refusal)
            return view(request, *args, **kwargs)

        entered.permission = permission
        return entered

    return guarded

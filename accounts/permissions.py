"""Who may do what: every view names one entry of this registry, and a name that is not in it raises at import.

A rule looks at the user alone; whose rows they are is kept apart by accounts.scope. What a role may is read down the table.
"""

from dataclasses import dataclass
from functools import wraps

from django.core.exceptions import PermissionDenied

OWNER, PRACTITIONER, STAFF, STUDENT, KITCHEN, READER = (
    "owner", "practitioner", "staff", "student", "kitchen", "reader",
)  # fmt: skip
#: Role -> (its name, what it is for).
ROLES = {
    OWNER: ("Owner", "everything, and who works here"),
    PRACTITIONER: ("Licensed practitioner", "confirms targets, releases cards, reads the log of their people"),
    STAFF: ("Staff", "people, recipes, bench, kitchen, cards; confirms no targets"),
    STUDENT: ("Student", "drafts on people, recipes and the bench; another releases"),
    KITCHEN: ("Kitchen", "cooks and tastes; sees no diagnosis"),
    READER: ("Reader", "sees, and changes nothing"),
}
_EVERYONE = frozenset(ROLES)
_SEES_PEOPLE = _EVERYONE - {KITCHEN}
_DRAFTS = frozenset({OWNER, PRACTITIONER, STAFF, STUDENT})
_WORKS = frozenset({OWNER, PRACTITIONER, STAFF})
_LEADS = frozenset({OWNER, PRACTITIONER})


@dataclass(frozen=True, slots=True)
class Rule:
    """Which roles may; None: whoever asks, signed in or not. `licensed`: of those, only who holds a license."""

    roles: frozenset[str] | None
    licensed: bool = False

    def holds(self, user):
        if self.roles is None:
            return True
        return user.is_authenticated and user.role in self.roles and (user.is_licensed or not self.licensed)

    @property
    def refusal(self):
        """The sentence for who may not."""
        if self.licensed:
            return "Only a licensed practitioner may do this: ask one of your practice."
        names = [name.lower() for role, (name, _) in ROLES.items() if role in (self.roles or ())]
        return f"Your part in the practice does not go with this; it takes: {', '.join(names)}. Ask the owner."


#: What is done -> who may.
PERMISSIONS = {
    "account.own": Rule(_EVERYONE),
    "practice.see": Rule(_EVERYONE),
    "practice.manage": Rule(frozenset({OWNER})),
    "practice.log": Rule(frozenset({OWNER})),
    "people.see": Rule(_SEES_PEOPLE),
    "people.change": Rule(_DRAFTS),
    "people.hand_over": Rule(_LEADS),
    "people.look_after": Rule(_WORKS),
    "people.log": Rule(_LEADS),
    "people.export": Rule(_LEADS),
    "people.erase": Rule(frozenset({OWNER})),
    "targets.change": Rule(_DRAFTS),
    "targets.confirm": Rule(_LEADS, licensed=True),
    "recipes.see": Rule(_EVERYONE),
    "recipes.change": Rule(_DRAFTS),
    "bench.see": Rule(_SEES_PEOPLE),
    "bench.change": Rule(_DRAFTS),
    "kitchen.see": Rule(_EVERYONE),
    "kitchen.cook": Rule(_DRAFTS | {KITCHEN}),
    "kitchen.judge": Rule(_DRAFTS | {KITCHEN}),
    "handouts.see": Rule(_SEES_PEOPLE),
    "handouts.release": Rule(_WORKS),
    "handouts.link": Rule(_WORKS),
    "handouts.open_link": Rule(None),
    "practice.join": Rule(None),
    "server.watch": Rule(None),
    "meals.see": Rule(_SEES_PEOPLE),
    "meals.change": Rule(_DRAFTS),
    "meals.cook": Rule(_EVERYONE),
    "pantry.see": Rule(_EVERYONE),
    "pantry.change": Rule(_DRAFTS),
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

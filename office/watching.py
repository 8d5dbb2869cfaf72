"""What happens to accounts, written into the log of their practice."""

from accounts.models import User
from accounts.scope import within
from records.log import record


def of(act):
    """A receiver that writes one act of the user it is told of."""

    def written(sender, user=None, **told):
        if user is not None:
            with within(user.practice_id):
                record(act, by=user)

    return written


def refused(sender, credentials=None, **told):
    """A sign-in that was refused, in the log of the practice whose account was tried; invented accounts are in none."""
    said = credentials or {}
    email = said.get("email") or said.get("username") or said.get("login") or ""
    user = User.objects.filter(email__iexact=email).first() if email else None
    if user is not None:
        with within(user.practice_id):
            record("sign_in_failed", by=user)

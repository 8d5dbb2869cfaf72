"""How allauth behaves here."""

from allauth.account.adapter import DefaultAccountAdapter


class PracticeAccountAdapter(DefaultAccountAdapter):
    """Nobody signs up alone: a practice is made with `manage.py add_practice`."""

    def is_open_for_signup(self, request):
        return False


def guessed_email(request, credentials=None):
    """Whose password is being tried: allauth calls it `email`, its form `login`. Without this axes counts by address alone."""
    said = (credentials or {}).get("email") or (credentials or {}).get("username")
    said = said or (request.POST.get("login", "") if request else "")
    return said.strip().lower()[:254]

"""How allauth behaves here."""

from allauth.account.adapter import DefaultAccountAdapter


class PracticeAccountAdapter(DefaultAccountAdapter):
    """Nobody signs up alone: a practice is made with `manage.py add_practice`."""

    def is_open_for_signup(self, request):
        return False

"""How allauth behaves here."""

import base64
from hashlib import sha256

from allauth.account.adapter import DefaultAccountAdapter
from allauth.mfa.adapter import DefaultMFAAdapter
from cryptography.fernet import Fernet
from django.conf import settings


class SealedFactors(DefaultMFAAdapter):
    """What a second factor rests on is kept sealed with the server's key: whoever reads the database cannot use it."""

    @staticmethod
    def _seal():
        return Fernet(base64.urlsafe_b64encode(sha256(b"second factor" + settings.SECRET_KEY.encode()).digest()))

    def encrypt(self, text):
        return self._seal().encrypt(text.encode()).decode()

    def decrypt(self, encrypted_text):
        return self._seal().decrypt(encrypted_text.encode()).decode()


class PracticeAccountAdapter(DefaultAccountAdapter):
    """Nobody signs up alone: a practice is made with `manage.py add_practice`."""

    def is_open_for_signup(self, request):
        return False


def guessed_email(request, credentials=None):
    """Whose password is being tried: allauth calls it `email`, its form `login`. Without this axes counts by address alone."""
    said = (credentials or {}).get("email") or (credentials or {}).get("username")
    said = said or (request.POST.get("login", "") if request else "")
    return said.strip().lower()[:254]

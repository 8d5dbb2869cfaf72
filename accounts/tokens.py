"""Secrets of links: shown once, kept as digests."""

import hashlib
import secrets


def new_token():
    return secrets.token_urlsafe(32)


def digest(token):
    """How a token is kept: whoever reads the database cannot open a link, or join, by it."""
    return hashlib.sha256(token.encode()).hexdigest()

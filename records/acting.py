"""Who is at work while something happens: set for a request by the middleware, read by the log and the error page."""

from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Acting:
    """`user` None: nobody signed in, or the command line. `request`: the number the error page shows."""

    user: object = None
    address: str | None = None
    request: str = ""


_NOBODY = Acting()
_acting: ContextVar[Acting | None] = ContextVar("acting", default=None)


def acting():
    return _acting.get() or _NOBODY


@contextmanager
def as_acting(who):
    """Run a block as somebody at work."""
    token = _acting.set(who)
    try:
        yield
    finally:
        _acting.reset(token)

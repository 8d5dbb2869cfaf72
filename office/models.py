"""Who is asked to join a practice."""

from django.db import models
from django.utils import timezone

from accounts.permissions import ROLES, STAFF
from accounts.scope import PracticeRow

#: An invitation opens for so many days.
INVITED_DAYS = 7


class Invitation(PracticeRow):
    """A link by which one person joins with a role. Its token is shown once and kept nowhere."""

    email = models.EmailField()
    role = models.CharField(max_length=12, default=STAFF, choices=[(role, name) for role, (name, _) in ROLES.items()])
    credential = models.CharField(max_length=60, blank=True)
    token_digest = models.CharField(max_length=64, unique=True, editable=False)
    made_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField()
    joined_at = models.DateTimeField(null=True, blank=True)

    #: For the one page without a practice: the token itself is what admits.
    anywhere = models.Manager()

    class Meta:
        ordering = ("-made_at",)
        default_manager_name = "objects"

    def __str__(self):
        return f"invitation of {self.email}"

    @property
    def is_open(self):
        return self.joined_at is None and self.expires_at > timezone.now()

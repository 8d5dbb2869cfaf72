"""Practices and the people who work in them."""

from zoneinfo import available_timezones

from django.contrib.auth.base_user import AbstractBaseUser, BaseUserManager
from django.contrib.auth.models import PermissionsMixin
from django.core.exceptions import ValidationError
from django.db import models
from rapidfuzz import process

from .permissions import OWNER, PRACTITIONER, ROLES, STAFF


def known_time_zone(name):
    """Raises ValidationError with the nearest there are."""
    if name not in available_timezones():
        near = ", ".join(match for match, _, _ in process.extract(name, sorted(available_timezones()), limit=3))
        raise ValidationError(f"{name} is no time zone; the nearest are {near}")


class Practice(models.Model):
    """A dietetic practice, or one kitchen: everything is kept by practice. Its days begin by its own clock."""

    name = models.CharField(max_length=120)
    time_zone = models.CharField(max_length=40, blank=True, validators=[known_time_zone])
    idle_minutes = models.PositiveSmallIntegerField(default=30)
    needs_second_factor = models.BooleanField(default=False)
    #: Whether private links ask for a second thing to know. Months the log is kept, 0: for ever.
    links_ask = models.BooleanField(default=False)
    #: Whether a link says that a limit has changed since its card was made.
    links_tell_changes = models.BooleanField(default=True)
    keep_log_months = models.PositiveSmallIntegerField(default=0)
    #: Another word at every change of its own foods: who holds them in memory compares it (pantry.own). Empty: it has none.
    own_foods_stamp = models.CharField(max_length=32, blank=True, editable=False)

    def __str__(self):
        return self.name


class UserManager(BaseUserManager):
    """Creates users who sign in with their email address. Whoever is read brings the practice along."""

    def get_queryset(self):
        return super().get_queryset().select_related("practice")

    def create_user(self, email, password=None, **fields):
        if not email:
            raise ValueError("a user signs in with an email address; none was given")
        fields.setdefault("role", PRACTITIONER if fields.get("credential") else STAFF)
        user = self.model(email=self.normalize_email(email), **fields)
        user.set_password(password)
        user.save(using=self._db)
        return user


class User(AbstractBaseUser, PermissionsMixin):
    """Somebody who signs in, with one role in one practice (accounts.permissions).

    `credential` is filled for licensed practitioners only: they may confirm targets, in a role that goes with it. An
    account is deactivated, not deleted: what was done under it stays done by somebody.
    """

    email = models.EmailField(unique=True)
    name = models.CharField(max_length=120)
    credential = models.CharField(max_length=60, blank=True, help_text="License, as in RD or RDN")
    role = models.CharField(max_length=12, default=STAFF, choices=[(role, name) for role, (name, _) in ROLES.items()])
    practice = models.ForeignKey(Practice, on_delete=models.CASCADE, related_name="users")
    is_active = models.BooleanField(default=True)

    objects = UserManager()

    USERNAME_FIELD = "email"
    EMAIL_FIELD = "email"
    REQUIRED_FIELDS = ("name",)

    def __str__(self):
        return self.name

    @property
    def is_licensed(self):
        return bool(self.credential) and self.role in (OWNER, PRACTITIONER)

    @property
    def role_name(self):
        return ROLES[self.role][0]

    #: What a signature is made of.
    SIGNATURE = ("name", "credential")

    @property
    def signature(self):
        """Name as it stands under a target: "Oona Varga, RD"."""
        return f"{self.name}, {self.credential}" if self.credential else self.name

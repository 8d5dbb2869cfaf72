"""Practices and the people who work in them."""

from django.contrib.auth.base_user import AbstractBaseUser, BaseUserManager
from django.contrib.auth.models import PermissionsMixin
from django.db import models


class Practice(models.Model):
    """A dietetic practice, or one kitchen: everything is kept by practice."""

    name = models.CharField(max_length=120)

    def __str__(self):
        return self.name


class UserManager(BaseUserManager):
    """Creates users who sign in with their email address."""

    def create_user(self, email, password=None, **fields):
        if not email:
            raise ValueError("a user signs in with an email address; none was given")
        user = self.model(email=self.normalize_email(email), **fields)
        user.set_password(password)
        user.save(using=self._db)
        return user


class User(AbstractBaseUser, PermissionsMixin):
    """Somebody who signs in. `credential` is filled for licensed practitioners only: they may confirm targets."""

    email = models.EmailField(unique=True)
    name = models.CharField(max_length=120)
    credential = models.CharField(max_length=60, blank=True, help_text="License, as in RD or RDN")
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
        return bool(self.credential)

    @property
    def signature(self):
        """Name as it stands under a target: "Oona Varga, RD"."""
        return f"{self.name}, {self.credential}" if self.credential else self.name

"""What the office's forms send, read into values."""

from django import forms
from django.contrib.auth.password_validation import validate_password

from accounts.models import User, known_time_zone
from accounts.permissions import ROLES
from nutrition.food.nutrients import CORE_KEYS
from ui.numbers import Asked, TypedNumber
from ui.posted import whole

ROLE_CHOICES = [(role, f"{name}: {what}") for role, (name, what) in ROLES.items()]
_CONTROL, _SELECT = {"class": "form-control"}, {"class": "form-select"}


class VerifyForm(forms.Form):
    """A food's figures as a book has them. After `is_valid`, `found` is nutrient -> figure for those that were typed."""

    found_in = forms.CharField(
        max_length=200,
        error_messages={"required": "Which book, which edition, which page? Type it as it could be found again."},
    )

    def __init__(self, data):
        super().__init__(data)
        for key in CORE_KEYS:
            self.fields[key] = TypedNumber(Asked("the book’s figure", 99_999))

    @property
    def found(self):
        return {key: figure for key in CORE_KEYS if (figure := self.cleaned_data.get(key)) is not None}


class MemberForm(forms.Form):
    """What somebody may do here. `seen`: the stamp of what the page showed."""

    role = forms.ChoiceField(choices=ROLE_CHOICES, widget=forms.Select(attrs=_SELECT))
    credential = forms.CharField(
        required=False, max_length=60, label="License, as in RD", widget=forms.TextInput(attrs=_CONTROL)
    )

    @property
    def seen(self):
        return self.data.get("seen", "")


class InviteForm(MemberForm):
    """Whom to invite, and as what."""

    email = forms.EmailField(widget=forms.EmailInput(attrs=_CONTROL))
    field_order = ("email", "role", "credential")


class JoinForm(forms.Form):
    """Who joins: their name and a password of their own."""

    name = forms.CharField(max_length=120, widget=forms.TextInput(attrs=_CONTROL | {"autocomplete": "name"}))
    password = forms.CharField(
        strip=False, widget=forms.PasswordInput(attrs=_CONTROL | {"autocomplete": "new-password"}, render_value=False)
    )

    def __init__(self, *args, email="", **options):
        super().__init__(*args, **options)
        self.email = email

    def clean_name(self):
        return " ".join(self.cleaned_data["name"].split())

    def clean_password(self):
        password = self.cleaned_data["password"]
        validate_password(password, User(email=self.email, name=self.cleaned_data.get("name", "")))
        return password


class OwnForm(forms.Form):
    """One's own name, as it stands under what one sets."""

    name = forms.CharField(max_length=120, widget=forms.TextInput(attrs=_CONTROL))


class PracticeForm(forms.Form):
    """How a practice wants it."""

    name = forms.CharField(max_length=120, widget=forms.TextInput(attrs=_CONTROL))
    time_zone = forms.CharField(required=False, max_length=40, widget=forms.TextInput(attrs=_CONTROL))
    idle_minutes = TypedNumber(
        Asked("minutes", 480, least=5, example="30"), required=True, widget=forms.TextInput(attrs=_CONTROL)
    )
    keep_log_months = TypedNumber(Asked("months", 240, example="36"), widget=forms.TextInput(attrs=_CONTROL))
    needs_second_factor = forms.BooleanField(required=False)
    links_ask = forms.BooleanField(required=False)
    links_tell_changes = forms.BooleanField(required=False)

    def clean_idle_minutes(self):
        return round(self.cleaned_data["idle_minutes"])

    def clean_keep_log_months(self):
        return round(self.cleaned_data["keep_log_months"] or 0)

    def clean_time_zone(self):
        name = self.cleaned_data["time_zone"].strip()
        if name:
            known_time_zone(name)
        return name


class EraseForm(forms.Form):
    """The name of whom to erase, typed again so that nobody does it by a slip."""

    typed_name = forms.CharField(required=False)


class HandOverForm(forms.Form):
    """To whom."""

    @property
    def to(self):
        return whole(self.data.get("to"))


class LogForm(forms.Form):
    """What of the log is asked for: acts that begin so, somebody's, about a person, from day to day."""

    act = forms.CharField(required=False, max_length=40)
    by = forms.CharField(required=False)
    person = forms.CharField(required=False)
    since = forms.DateField(required=False)
    until = forms.DateField(required=False)

    @property
    def wanted(self):
        """The filters that can be read; what cannot be is left out and said by the form's errors."""
        self.is_valid()
        return {name: value for name, value in self.cleaned_data.items() if value}

"""Forms about the list of people."""

from django import forms

from nutrition.limits.plans import PLANS

from .search import ORDERS


class SearchForm(forms.Form):
    """Whom a list is searched for. What cannot be read is not asked for."""

    def __init__(self, data):
        super().__init__(data)
        self.words = " ".join(data.get("q", "").split())[:80]
        self.plan = data["plan"] if data.get("plan") in PLANS else ""
        self.order = data["order"] if data.get("order") in ORDERS else "name"
        self.is_away = data.get("away") == "1"

    @property
    def is_asked(self):
        return bool(self.words or self.plan or self.is_away)


class AwayForm(forms.Form):
    """Whether somebody is put out of the lists, or back."""

    def __init__(self, data):
        super().__init__(data)
        self.is_back = data.get("back") == "1"

"""What the kitchen's forms send, read into values."""

from django import forms

from nutrition.stove.cooked import OTHER
from nutrition.stove.spending import SPENDABLES
from ui.numbers import Asked, TypedNumber, read_number
from ui.posted import said, whole

GRAMS = Asked("grams", 20_000)
MINUTES = Asked("minutes", 1440)
ON_THE_PLATE = Asked("grams", 5000)

#: Taps that need no weight.
_WITHOUT_WEIGHT = ("skipped", "longer", OTHER)


class SeenForm(forms.Form):
    """Where at the stove the page is: the number of its step, None for none, and the line that is open."""

    @classmethod
    def of(cls, request):
        """As the answer to `request` must look: what was posted, else what the address says."""
        return cls(said(request))

    @property
    def step(self):
        return whole(self.data.get("step"), None)

    @property
    def line(self):
        return self.data.get("line", "")

    @property
    def typed(self):
        """What a refused tap is shown again with."""
        return {name: self.data.get(name, "") for name in ("grams", "minutes", "q")}


class ScaleForm(forms.Form):
    """Tare (`act` "tare"); for the stand-in "load", "add" or "empty" too."""

    @property
    def act(self):
        return self.data.get("act", "")

    def grams(self):
        """Grams to put on. Raises Problem."""
        return read_number(self.data.get("grams"), ON_THE_PLATE) or 0.0


class TapForm(forms.Form):
    """One thing recorded at the stove. `from_scale`: the weight is the scale's, not typed."""

    def __init__(self, data):
        super().__init__(data)
        self.kind, self.key, self.food_id = (data.get(name, "") for name in ("kind", "key", "food_id"))
        self.token, self.step = data.get("token", ""), whole(data.get("step"))
        self.from_scale = data.get("from") == "scale"

    def grams(self):
        """Grams as typed. Raises Problem."""
        return read_number(self.data.get("grams"), GRAMS, is_needed=self.kind not in _WITHOUT_WEIGHT)

    def minutes(self):
        """Minutes as typed. Raises Problem."""
        return read_number(self.data.get("minutes"), MINUTES)


class TimerForm(forms.Form):
    """Start a timer, or change one that runs (`timer`, `act`)."""

    def __init__(self, data):
        super().__init__(data)
        self.timer, self.act = whole(data.get("timer"), None), data.get("act", "")
        self.label, self.token, self.step = data.get("label", ""), data.get("token", ""), whole(data.get("step"))

    def seconds(self):
        """Seconds as typed in minutes. Raises Problem."""
        return round(read_number(self.data.get("minutes"), MINUTES, is_needed=True) * 60)


class SharesForm(forms.Form):
    """How an allowance is spread: grams for each step, by its number."""

    def __init__(self, data, steps):
        super().__init__(data)
        self.kind, self.steps = data.get("kind", "")[:10], steps

    def shares(self):
        """Step number -> grams, where there are any. Raises Problem."""
        read = {
            number: read_number(self.data.get(f"share-{number}"), Asked(f"grams for step {number}", 1000))
            for number in range(1, self.steps + 1)
        }
        return {number: grams for number, grams in read.items() if grams}


class FinishForm(forms.Form):
    """What is known when the pot is dished up. Left empty is not known, but for the portions."""

    cooked_g = TypedNumber(Asked("grams cooked", 100_000, least=1, example="1450"))
    serves_cooked = TypedNumber(Asked("pieces or portions", 500, least=0.25, example="6"), required=True)
    minutes_taken = TypedNumber(Asked("minutes", 2880))
    minutes_hands_on = TypedNumber(Asked("minutes", 2880))
    pans = TypedNumber(Asked("pans", 50))
    notes = forms.CharField(required=False, max_length=4000)

    def __init__(self, data):
        super().__init__(data)
        for each in SPENDABLES:
            self.fields[f"spent-{each.key}"] = TypedNumber(Asked(f"grams of {each.label.lower()}", 1000))

    def clean(self):
        data = super().clean()
        taken, hands_on = data.get("minutes_taken"), data.get("minutes_hands_on")
        if taken is not None and hands_on is not None and hands_on > taken:
            raise forms.ValidationError(
                f"{hands_on:g} minutes hands on was read, and only {taken:g} in all. Mend one of the two."
            )
        return data

    def spent(self):
        """What was counted out -> grams in all, where somebody typed it."""
        typed = {each.key: self.cleaned_data[f"spent-{each.key}"] for each in SPENDABLES}
        return {key: grams for key, grams in typed.items() if grams is not None}


class TasteForm(forms.Form):
    """What one taster says: marks out of ten, what was missed, a few words."""

    taster = forms.CharField(required=False)
    taste = TypedNumber(Asked("marks for taste", 10))
    ease = TypedNumber(Asked("marks for ease", 10))
    missed = forms.CharField(required=False)
    notes = forms.CharField(required=False)

    def clean_taster(self):
        name = " ".join(self.cleaned_data["taster"].split())[:80]
        if not name:
            raise forms.ValidationError("Who tasted? Type a name or choose one.")
        return name

    def clean(self):
        data = super().clean()
        said = any(data.get(mark) is not None for mark in ("taste", "ease")) or data.get("missed") or data.get("notes")
        if not self.errors and not said:
            raise forms.ValidationError(
                f"Nothing was said for {data['taster']}: give a mark out of ten, or a few words."
            )
        return data


class DecideForm(forms.Form):
    """What was decided of a try, and why."""

    choice = forms.CharField(required=False)
    reason = forms.CharField(required=False)

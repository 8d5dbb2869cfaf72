"""What the recipes' forms send, read into values."""

from django import forms

from nutrition.limits.roles import ROLES
from nutrition.notes import Problem
from nutrition.reading.page import from_any, from_bytes, text_of
from nutrition.reading.plain import recipes_in
from ui.numbers import Asked, TypedNumber
from ui.posted import whole

from .search import DECIDED, ORDERS

SERVINGS = Asked("servings", 500, above=True, example="4")
SERVING_WEIGHT = Asked("grams for one serving", 5000, above=True, example="310")
#: A saved page may hold a few megabytes; more is not read.
MOST_UPLOAD = 6_000_000


class BringForm(forms.Form):
    """A recipe as pasted, or as a file."""

    def __init__(self, data, files):
        super().__init__(data, files)
        upload = files.get("file")
        self._upload = upload.read(MOST_UPLOAD) if upload else None
        self.text = data.get("text", "") or self._words_of_upload()

    def _words_of_upload(self):
        """The words a file holds, to be kept beside what was understood; none of a file that is no text."""
        try:
            return text_of(self._upload) if self._upload and not self._upload.startswith(b"%PDF") else ""
        except Problem:
            return ""

    def sources(self):
        """What was found in it, with the words it was found in: of two recipes pasted at once, both. Raises Problem."""
        if self._upload is not None:
            return [(from_bytes(self._upload), self.text)]
        return [(from_any(text), text) for text in (recipes_in(self.text) if self.text.strip() else [" "])]


class FactsForm(forms.Form):
    """Title, servings, the weight of one cooked serving, the kind of dish. `is_done`: the reading ends with it."""

    title = forms.CharField(required=False)
    serves = TypedNumber(SERVINGS)
    serving_grams = TypedNumber(SERVING_WEIGHT)
    kind = forms.CharField(required=False)

    @property
    def is_sent(self):
        """Whether what is posted has them at all."""
        return "title" in self.data

    @property
    def is_done(self):
        return "done" in self.data

    @property
    def typed(self):
        return {name: self.data.get(name, "") for name in ("title", "serves", "serving_grams", "kind")}


class WordsForm(forms.Form):
    """All ingredient lines and all steps, one a line; `seen`: the stamp of what the form showed. `add`: one more line."""

    words = forms.CharField(required=False, strip=False)
    steps = forms.CharField(required=False, strip=False)
    seen = forms.CharField(required=False)
    add = forms.CharField(required=False, max_length=400)

    @property
    def is_sent(self):
        """Whether what is posted has them at all."""
        return "words" in self.data

    def clean(self):
        said = super().clean()
        if said.get("add"):
            said["words"] = f"{said['words']}\n{said['add']}"
        return said


class LineForm(forms.Form):
    """One change of a line. `version`: of the line the form was drawn from; None where the form says none."""

    def __init__(self, data):
        super().__init__(data)
        self.act, self.food_id = data.get("act", ""), data.get("food_id", "")
        self.amount, self.text = data.get("amount", ""), data.get("text", "")
        self.part = whole(data.get("part"))
        self.version = whole(data.get("version"), -1) if data.get("version") else None


class WavedForm(forms.Form):
    """What a step names and nobody adds, and a word why."""

    def __init__(self, data):
        super().__init__(data)
        self.words, self.why = data.get("added", "")[:500], data.get("why", "")[:200]


class EatenForm(forms.Form):
    """What is eaten of what a step leaves behind: the step, how it is left, and whether it is so."""

    def __init__(self, data):
        super().__init__(data)
        self.step, self.how, self.is_so = whole(data.get("step")), data.get("how", ""), data.get("said") == "yes"


class PartForm(forms.Form):
    """Which recipe goes in as a part, and how much of it; `act` "out" takes one out again."""

    def __init__(self, data):
        super().__init__(data)
        self.act = data.get("act", "")
        self.part, self.amount = whole(data.get("part")), data.get("amount", "")


class SearchForm(forms.Form):
    """What a library is searched for. What cannot be read is not asked for."""

    def __init__(self, data):
        super().__init__(data)
        self.words = " ".join(data.get("q", "").split())[:80]
        self.tag = data.get("tag", "").strip()[:30]
        self.role = data["role"] if data.get("role") in ROLES else ""
        self.minutes = min(whole(data.get("minutes")), 24 * 60)
        self.order = data["order"] if data.get("order") in ORDERS else "title"
        self.is_away = data.get("away") == "1"
        self.fits = data.get("fits", "")[:100]
        self.folder = data.get("folder", "").strip()[:60]
        self.decided = data["decided"] if data.get("decided") in DECIDED else ""
        self.mark = min(whole(data.get("mark")), 10)

    @property
    def is_asked(self):
        """Whether the list is anything but all of it."""
        by_words = self.words or self.tag or self.folder or self.is_away
        return bool(by_words or self.role or self.minutes or self.fits or self.decided or self.mark)

    @property
    def is_narrowed(self):
        """Whether it asks for more than words, and the tag one came by."""
        return bool(self.folder or self.role or self.minutes or self.decided or self.mark)

    @property
    def tells_of_tries(self):
        """Whether it asks for what only those may know who see the benches."""
        return bool(self.decided or self.mark or self.order == "liked")


class ShelfForm(forms.Form):
    """Where a recipe stands in the library."""

    tags = forms.CharField(required=False, max_length=400)
    folder = forms.CharField(required=False, max_length=60)


class AwayForm(forms.Form):
    """Whether a recipe is put out of the way, or back."""

    back = forms.BooleanField(required=False)

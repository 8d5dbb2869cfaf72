"""What is looked for."""

from django import forms


class FindForm(forms.Form):
    """A few words: of a person, a recipe or a food."""

    @property
    def words(self):
        return self.data.get("q", "").strip()[:80]

"""What a practice calls its foods."""

from django.db import models

from accounts.scope import PracticeRow
from nutrition.composition import foods
from nutrition.matching import normalized


class Alias(PracticeRow):
    """A correction remembered: these words mean this food, for this practice."""

    words = models.CharField(max_length=200)
    food_id = models.CharField(max_length=160)
    set_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    set_on = models.DateField(auto_now=True)

    class Meta:
        ordering = ("words",)
        constraints = (models.UniqueConstraint(fields=("practice", "words"), name="one_food_an_alias"),)

    def __str__(self):
        return self.words

    @property
    def description(self):
        return foods().by_id(self.food_id).description


def aliases():
    """The practice's names as the core takes them: normalized words -> food id."""
    return dict(Alias.objects.values_list("words", "food_id"))


def remember(words, food_id, user):
    """Keep a correction. Raises KeyError when there is no such food."""
    foods().by_id(food_id)
    key = normalized(words)[:200]
    if key:
        Alias.objects.update_or_create(words=key, defaults={"food_id": food_id, "set_by": user})

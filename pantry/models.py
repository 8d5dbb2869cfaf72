"""What a practice calls its foods."""

from django.db import models
from django.utils.timezone import localdate

from accounts.scope import PracticeRow
from nutrition.food.names import cook_name, normalized
from nutrition.food.table import foods
from nutrition.swaps.jobs import JOBS
from nutrition.swaps.rules import own_rule


class Alias(PracticeRow):
    """A correction remembered: these words mean this food, for this practice."""

    words = models.CharField(max_length=200)
    food_id = models.CharField(max_length=160)
    set_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    set_on = models.DateField(default=localdate)

    class Meta:
        ordering = ("words",)
        constraints = (models.UniqueConstraint(fields=("practice", "words"), name="one_food_an_alias"),)

    def __str__(self):
        return self.words

    @property
    def description(self):
        """The food's description; or that the table lacks it now."""
        return foods().by_id(self.food_id).description if foods().has_id(self.food_id) else cook_name(self.food_id)


def aliases():
    """The practice's names as the core takes them: normalized words -> food id."""
    return dict(Alias.objects.values_list("words", "food_id"))


def remember(words, food_id, user):
    """Keep a correction. Raises KeyError when there is no such food."""
    foods().by_id(food_id)
    key = normalized(words)[:200]
    if key:
        Alias.objects.update_or_create(words=key, defaults={"food_id": food_id, "set_by": user, "set_on": localdate()})


class SwapRule(PracticeRow):
    """A way of the practice's own to do an ingredient's job; it takes part beside the rules that ship."""

    replaces = models.CharField(max_length=120)
    job = models.CharField(max_length=20, choices=list(JOBS.items()))
    to = models.CharField("what takes over", max_length=200)
    household = models.CharField("as a cook measures it", max_length=120, blank=True)
    do_differently = models.CharField(max_length=200, blank=True)
    source = models.CharField(max_length=200)
    set_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    set_on = models.DateField(default=localdate)

    class Meta:
        ordering = ("pk",)

    def __str__(self):
        return f"{self.to} for {self.replaces}"

    def as_rule(self):
        """The core's rule. Raises Problem when it cannot be."""
        words = (self.replaces, self.job, self.to, self.household, self.do_differently, self.source)
        return own_rule(*words, f"own-{self.pk or 'new'}")


def own_rules():
    """The practice's rules as the core takes them."""
    return tuple(rule.as_rule() for rule in SwapRule.objects.all())

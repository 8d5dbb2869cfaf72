"""Who eats: their plans and the targets a serving is held against."""

from django.db import models
from django.urls import reverse

from accounts.scope import PracticeRow
from nutrition.gates import MEAL_SHARES, Target
from nutrition.nutrients import BY_KEY
from nutrition.plans import PLANS, Facts


def default_shares():
    return dict(MEAL_SHARES)


class Person(PracticeRow):
    """Somebody a dish is made for."""

    name = models.CharField(max_length=120)
    about = models.TextField(blank=True, help_text="What matters at the stove: who cooks, with what, how much time")
    dislikes = models.CharField(max_length=300, blank=True)
    allergies = models.CharField(max_length=300, blank=True)
    weight_kg = models.DecimalField("body weight, kg", max_digits=5, decimal_places=1, null=True, blank=True)
    energy_kcal = models.PositiveIntegerField("energy a day, kcal", null=True, blank=True)
    meal_shares = models.JSONField(default=default_shares)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("name",)

    def __str__(self):
        return self.name

    def get_absolute_url(self):
        return reverse("people:person", args=[self.pk])

    def facts(self, plan_keys=()):
        """What the plans need to know. `plan_keys`: every plan this person follows."""
        weight = float(self.weight_kg) if self.weight_kg else None
        return Facts(weight, self.energy_kcal, tuple(plan_keys))


class PlanChoice(PracticeRow):
    """A plan somebody follows, with the school chosen on each question."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="plans")
    key = models.CharField(max_length=40)
    schools = models.JSONField(default=dict)
    set_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    set_on = models.DateField(auto_now_add=True)

    class Meta:
        ordering = ("pk",)
        constraints = (models.UniqueConstraint(fields=("person", "key"), name="one_choice_a_plan"),)

    def __str__(self):
        return self.label

    @property
    def label(self):
        return PLANS[self.key].LABEL


class PersonTarget(PracticeRow):
    """One limit of one person. A draft until a licensed practitioner confirms it."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="targets")
    plan = models.CharField(max_length=40, blank=True)
    nutrient = models.CharField(max_length=40)
    minimum = models.FloatField(null=True, blank=True)
    maximum = models.FloatField(null=True, blank=True)
    scope = models.CharField(max_length=8, default="day")
    meal = models.CharField(max_length=12, blank=True)
    source = models.CharField(max_length=300)
    set_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    set_on = models.DateField(auto_now=True)
    confirmed_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, null=True, blank=True, related_name="+")
    confirmed_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ("pk",)

    def __str__(self):
        return f"{BY_KEY[self.nutrient].label} of {self.person}"

    @property
    def owner(self):
        """Whose rule it is: the plan's label, or "Own"."""
        return PLANS[self.plan].LABEL if self.plan else "Own"

    @property
    def stamp(self):
        """Changes when the limit does: a form drawn from an older one is known to be stale."""
        return f"{self.nutrient}|{self.minimum}|{self.maximum}|{self.scope}|{self.meal}|{self.confirmed_on}"

    @property
    def is_draft(self):
        return self.confirmed_on is None

    def as_target(self):
        """The core's target. Raises ValueError when the limits cannot be."""
        return Target(self.nutrient, self.minimum, self.maximum, self.scope, self.owner, self.source, self.meal)

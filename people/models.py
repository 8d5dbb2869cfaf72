"""Who eats: their plans and the targets a serving is held against."""

from datetime import date

import pghistory
from django.db import models
from django.urls import reverse
from django.utils.timezone import localdate

from accounts.scope import PracticeRow, ScopedManager, scoped
from nutrition.food.nutrients import BY_KEY
from nutrition.limits.gates import MEAL_SHARES, Target, sides_in_words
from nutrition.limits.measured import Measurement, measures
from nutrition.limits.medicines import medicines_in
from nutrition.limits.person import KIDNEY_STAGES
from nutrition.limits.plans import CIRCUMSTANCES, OWN, PLANS, Facts, choose, plan_label
from nutrition.limits.plans.common import LIFE_STAGES, SEXES
from nutrition.limits.tallies import ROUNDINGS, Tally
from ui.guard import Versioned


def _kept(model):
    """Every change of a row is kept beside it by the database itself, whoever makes it and how."""
    events = (pghistory.InsertEvent(), pghistory.UpdateEvent(), pghistory.DeleteEvent())
    return pghistory.track(*events, append_only=True)(model)


def default_shares():
    return dict(MEAL_SHARES)


class PersonQuerySet(models.QuerySet):
    """Questions that lists ask of people."""

    def there(self):
        """Those who are not put away: whom lists show and a new dish can be for."""
        return self.filter(put_away_at=None)


@_kept
class Person(Versioned, PracticeRow):
    """Somebody a dish is made for. `put_away_at`: since when they are out of the lists; all of theirs stays."""

    name = models.CharField(max_length=120)
    about = models.TextField(blank=True, help_text="What matters at the stove: who cooks, with what, how much time")
    dislikes = models.CharField(max_length=300, blank=True)
    allergies = models.CharField(max_length=300, blank=True)
    weight_kg = models.DecimalField("body weight, kg", max_digits=5, decimal_places=1, null=True, blank=True)
    energy_kcal = models.PositiveIntegerField("energy a day, kcal", null=True, blank=True)
    born_on = models.DateField("date of birth", null=True, blank=True)
    sex = models.CharField(max_length=6, blank=True, choices=list(SEXES.items()))
    height_cm = models.DecimalField("height, cm", max_digits=4, decimal_places=1, null=True, blank=True)
    life_stage = models.CharField(max_length=16, blank=True, choices=list(LIFE_STAGES.items()))
    kidney_stage = models.CharField("kidney disease", max_length=12, blank=True, choices=list(KIDNEY_STAGES.items()))
    fluid_ml = models.PositiveIntegerField("fluid a day, ml", null=True, blank=True)
    medicines = models.CharField(max_length=500, blank=True)
    household = models.CharField(max_length=80, blank=True)
    #: Weights and blood results, the newest last: `key` of tables/measures.tsv, `value`, `on` (ISO date), `by` (signature).
    measured = models.JSONField(default=list, blank=True)
    #: How their cards are laid out (handouts.layout).
    card = models.JSONField(default=dict, blank=True)
    meal_shares = models.JSONField(default=default_shares)
    #: Of parts of a meal, key of limits/roles.py -> share of what the meal allows; others as usual.
    role_shares = models.JSONField(default=dict, blank=True)
    circumstances = models.JSONField(default=list, blank=True)
    settled = models.JSONField(default=dict, blank=True)
    in_care_of = models.ForeignKey(
        "accounts.User", on_delete=models.PROTECT, null=True, blank=True, related_name="in_care"
    )
    created_at = models.DateTimeField(auto_now_add=True)
    put_away_at = models.DateTimeField(null=True, blank=True)

    objects = scoped(PersonQuerySet)

    class Meta:
        ordering = ("name",)

    def __str__(self):
        return self.name

    def get_absolute_url(self):
        return reverse("people:person", args=[self.pk])

    def facts(self, plan_keys=()):
        """What the plans need to know. `plan_keys`: every plan this person follows."""
        weight, height = (float(each) if each else None for each in (self.weight_kg, self.height_cm))
        return Facts(
            weight_kg=weight,
            energy_kcal=self.energy_kcal,
            plans=tuple(plan_keys),
            circumstances=tuple(self.circumstances),
            medicines=self.medicines,
            age_years=self.age_years,
            sex=self.sex,
            height_cm=height,
            life_stage=self.life_stage,
            kidney_stage=self.kidney_stage,
            fluid_ml=self.fluid_ml,
            measured=self.measurements,
            today=localdate(),
        )

    @property
    def measurements(self):
        """What was measured, as the core has it, in the order it was written."""
        known = (row for row in self.measured if row["key"] in measures())
        rows = (Measurement(row["key"], row["value"], date.fromisoformat(row["on"])) for row in known)
        return tuple(rows)

    @property
    def medicines_read(self):
        """Every medicine of the list, and what it changes."""
        return medicines_in(self.medicines)

    @classmethod
    def households(cls):
        """The words by which tables are told apart."""
        return (
            cls.objects.there()
            .exclude(household="")
            .order_by("household")
            .values_list("household", flat=True)
            .distinct()
        )

    @property
    def age_years(self):
        """Whole years today, and parts of the first; None where the date of birth is not known."""
        if self.born_on is None:
            return None
        today = localdate()
        years = today.year - self.born_on.year - ((today.month, today.day) < (self.born_on.month, self.born_on.day))
        return float(years) if years >= 1 else max((today - self.born_on).days, 0) / 365.25

    @property
    def age(self):
        """ "9 years old", "7 months old"; empty where the date of birth is not known."""
        if self.born_on is None:
            return ""
        if self.age_years >= 1:
            count, unit = int(self.age_years), "year"
        else:
            count, unit = int(self.age_years * 12), "month"
        return f"{count} {unit}{'s' * (count != 1)} old"

    @property
    def circumstance_words(self):
        """What was ticked, in words."""
        return [CIRCUMSTANCES[key] for key in self.circumstances if key in CIRCUMSTANCES]


@_kept
class PlanChoice(PracticeRow):
    """A plan somebody follows, with the school chosen on each question.

    `settled` of the person says which plan leads where two pull apart; `started_on` dates a plan with a course.
    """

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="plans")
    key = models.CharField(max_length=40)
    schools = models.JSONField(default=dict)
    set_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    set_on = models.DateField(default=localdate)
    started_on = models.DateField(null=True, blank=True)
    strict_weeks = models.PositiveSmallIntegerField(default=4)

    class Meta:
        ordering = ("pk",)
        constraints = (models.UniqueConstraint(fields=("person", "key"), name="one_choice_a_plan"),)

    def __str__(self):
        return self.label

    @property
    def label(self):
        return PLANS[self.key].label

    @property
    def plan(self):
        return PLANS[self.key]

    @property
    def choices_in_words(self):
        """(question, answer) of every setting that has been chosen."""
        settings = self.settings
        return [(school.question, school.options[settings[name]]) for name, school in self.plan.schools.items()]

    @property
    def settings(self):
        """Every setting of the plan; what was never chosen stands at its default."""
        return choose(self.key, self.schools)

    def course(self):
        """The dated course of a plan that has one; empty before it has begun."""
        return (
            self.plan.course_of(self.started_on, self.strict_weeks) if self.plan.course_of and self.started_on else []
        )


class StandingTargets(ScopedManager):
    """Those that stand: one that was removed is kept, so that it can be put back and no plan drafts it again."""

    def get_queryset(self):
        return super().get_queryset().filter(removed_at__isnull=True)


@_kept
class PersonTarget(Versioned, PracticeRow):
    """One limit of one person. A draft until a licensed practitioner confirms it.

    What was confirmed, or typed by hand, is a prescription: plans draft beside it and never in its place.
    """

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="targets")
    plan = models.CharField(max_length=40, blank=True)
    nutrient = models.CharField(max_length=40)
    minimum = models.FloatField(null=True, blank=True)
    maximum = models.FloatField(null=True, blank=True)
    scope = models.CharField(max_length=8, default="day")
    meal = models.CharField(max_length=12, blank=True)
    source = models.CharField(max_length=300)
    set_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    set_on = models.DateField(default=localdate)
    confirmed_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, null=True, blank=True, related_name="+")
    confirmed_on = models.DateField(null=True, blank=True)
    by_hand = models.BooleanField(default=False)
    removed_at = models.DateTimeField(null=True, blank=True)
    removed_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, null=True, blank=True, related_name="+")

    objects = StandingTargets()
    #: The removed ones too.
    every = ScopedManager()

    class Meta:
        ordering = ("pk",)
        default_manager_name = "objects"

    def __str__(self):
        return f"{BY_KEY[self.nutrient].label} of {self.person}"

    @property
    def owner(self):
        """Whose rule it is: the plan's label, or "Own"."""
        return plan_label(self.plan or OWN)

    @property
    def in_words(self):
        """ "Sodium at most 2,000 mg a day", and nobody's name."""
        nutrient = BY_KEY[self.nutrient]
        return f"{nutrient.label} {sides_in_words(self.minimum, self.maximum)} {nutrient.unit} a {self.scope}"

    @property
    def is_draft(self):
        return self.confirmed_on is None

    @property
    def is_prescription(self):
        """Whether somebody stands behind its figures: no plan replaces them."""
        return self.by_hand or self.confirmed_on is not None

    @property
    def is_held(self):
        """Whether no plan drafts in its place: a prescription, or one that was removed."""
        return bool(self.is_prescription or self.removed_at)

    def says(self, target):
        """Whether it says the same as one of the core's targets."""
        sides = [(self.minimum, target.minimum), (self.maximum, target.maximum)]
        same = all(mine == (None if side is None else round(side, 2)) for mine, side in sides)
        return same and self.scope == target.scope

    def as_target(self):
        """The core's target. Raises ValueError when the limits cannot be."""
        plan = self.plan or OWN
        return Target(self.nutrient, self.minimum, self.maximum, self.scope, plan, self.source, self.meal)


@_kept
class PersonTally(PracticeRow):
    """A tally of their own: what is counted, how it is rounded, what is free, how much a day and a week."""

    person = models.ForeignKey(Person, on_delete=models.CASCADE, related_name="tallies")
    name = models.CharField(max_length=60)
    formula_text = models.CharField(max_length=300)
    formula = models.JSONField(default=dict)
    step = models.FloatField(default=0.5)
    rounding = models.CharField(max_length=8, default="nearest")
    free_foods = models.JSONField(default=list, blank=True)
    one_free = models.JSONField(default=list, blank=True)
    daily = models.FloatField(null=True, blank=True)
    weekly = models.FloatField(null=True, blank=True)
    set_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    set_on = models.DateField(default=localdate)

    class Meta:
        ordering = ("pk",)

    def __str__(self):
        return self.name

    def get_rounding_words(self):
        return ROUNDINGS[self.rounding]

    def as_tally(self):
        """The core's tally. Raises Problem when it cannot be."""
        return Tally(
            key=f"own_{self.pk}",
            label=self.name,
            formula=self.formula,
            step=self.step,
            rounding=self.rounding,
            free_foods=frozenset(self.free_foods),
            one_free=frozenset(self.one_free),
            daily=self.daily,
            weekly=self.weekly,
            source=f"own tally: {self.formula_text}",
        )


class HeldTo(PracticeRow):
    """A mark of all a person is held to now, so that a card that went out under other limits is found at once."""

    person = models.OneToOneField(Person, on_delete=models.CASCADE, related_name="held_to")
    digest = models.CharField(max_length=64)
    changed_at = models.DateTimeField(auto_now=True)

    def __str__(self):
        return f"what {self.person} is held to"

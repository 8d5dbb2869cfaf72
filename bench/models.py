"""A dish on the bench for a person: as written, and the tries."""

from django.db import models
from django.urls import reverse

from accounts.scope import PracticeRow
from nutrition.gates import MEAL_SHARES


class Bench(PracticeRow):
    """A recipe taken to the bench for somebody at a meal. `lines` keep it as it was written that day.

    `jobs`: what a person says a line does in this dish, line key -> jobs; else it is read from the food.
    """

    recipe = models.ForeignKey("recipes.Recipe", on_delete=models.CASCADE, related_name="benches")
    person = models.ForeignKey("people.Person", on_delete=models.CASCADE, related_name="benches")
    meal = models.CharField(max_length=12, default="dinner", choices=[(meal, meal) for meal in MEAL_SHARES])
    serves = models.FloatField()
    lines = models.JSONField()
    jobs = models.JSONField(default=dict, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    touched_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("-touched_at",)
        constraints = (models.UniqueConstraint(fields=("recipe", "person"), name="one_bench_a_dish_and_person"),)

    def __str__(self):
        return f"{self.recipe} for {self.person}"

    def get_absolute_url(self):
        return reverse("bench:bench", args=[self.pk])


class Try(PracticeRow):
    """One attempt. Every edit is a step; the cursor says which step stands, so undo survives a reload.

    `version` counts every change, so that a form from another tab is known to be stale.
    `cooked_g`: the whole dish as weighed when cooked; it holds for the step it was weighed at.
    """

    bench = models.ForeignKey(Bench, on_delete=models.CASCADE, related_name="tries")
    parent = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    name = models.CharField(max_length=80)
    notes = models.TextField(blank=True)
    is_finished = models.BooleanField(default=False)
    cooked_g = models.FloatField(null=True, blank=True)
    cooked_step = models.PositiveIntegerField(null=True, blank=True)
    version = models.PositiveIntegerField(default=1)
    cursor = models.PositiveIntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)
    touched_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("pk",)

    def __str__(self):
        return f"{self.name}, {self.bench}"

    @property
    def weighed_g(self):
        """The cooked weight, if it was weighed as the try stands now."""
        return self.cooked_g if self.cooked_step == self.cursor else None

    def get_absolute_url(self):
        return reverse("bench:try", args=[self.bench_id, self.pk])


class Step(PracticeRow):
    """The whole list of lines after one edit, and what was done in a few words."""

    attempt = models.ForeignKey(Try, on_delete=models.CASCADE, related_name="steps")
    number = models.PositiveIntegerField()
    summary = models.CharField(max_length=200)
    serves = models.FloatField()
    lines = models.JSONField()
    made_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("attempt", "number"), name="one_step_a_number"),)

    def __str__(self):
        return self.summary

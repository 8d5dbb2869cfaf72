"""The library: recipes as found, and each line as understood."""

from dataclasses import asdict

from django.db import models
from django.urls import reverse

from accounts.scope import PracticeRow
from nutrition.dish.line import Line
from nutrition.dish.parts import stamp


class Recipe(PracticeRow):
    """A dish as written. `is_read`: somebody went through its lines and let it into the library.

    `part_steps`: the steps of its parts, as they were when the parts were taken in.
    """

    title = models.CharField(max_length=200)
    serves = models.FloatField(null=True, blank=True)
    serving_grams = models.FloatField(
        null=True, blank=True, help_text="Weight of one cooked serving, if it was ever weighed"
    )
    steps = models.JSONField(default=list)
    part_steps = models.JSONField(default=list, blank=True)
    notes = models.JSONField(default=list)
    source_text = models.TextField(blank=True)
    is_read = models.BooleanField(default=False)
    created_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("title",)

    def __str__(self):
        return self.title or "Untitled"

    def get_absolute_url(self):
        return reverse("recipes:recipe" if self.is_read else "recipes:reading", args=[self.pk])

    def core_lines(self):
        """The lines as the core takes them."""
        return [line.as_line() for line in self.lines.all()]

    @property
    def all_steps(self):
        """The steps of the parts, then the dish's own."""
        return [*self.part_steps, *self.steps]

    @property
    def whole_g(self):
        """What the whole dish weighs when done, if a serving was ever weighed."""
        return self.serving_grams * self.serves if self.serving_grams and self.serves else None

    def stamp_as_part(self):
        """Changes whenever what this recipe brings to others does."""
        return stamp(self.core_lines(), self.all_steps, self.whole_g)


class PartUse(PracticeRow):
    """A recipe used as a part of another. What it brought stands in the dish's lines until a change is accepted.

    `stamp`: of the part when it was taken in; `steps`: its steps then; `amount`: as typed.
    """

    recipe = models.ForeignKey(Recipe, on_delete=models.CASCADE, related_name="parts")
    part = models.ForeignKey(Recipe, on_delete=models.PROTECT, related_name="used_in")
    amount = models.CharField(max_length=40)
    rule = models.CharField(max_length=300)
    steps = models.JSONField(default=list)
    stamp = models.CharField(max_length=32)
    taken_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    taken_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("pk",)
        constraints = (models.UniqueConstraint(fields=("recipe", "part"), name="one_use_a_part_and_dish"),)

    def __str__(self):
        return f"{self.part} in {self.recipe}"

    @property
    def is_stale(self):
        """The part has changed since it was taken in, and nobody has accepted that."""
        return self.stamp != self.part.stamp_as_part()


class RecipeLine(PracticeRow):
    """One line as understood; `is_accepted` when a person has looked at it."""

    recipe = models.ForeignKey(Recipe, on_delete=models.CASCADE, related_name="lines")
    of_part = models.ForeignKey(PartUse, on_delete=models.CASCADE, null=True, blank=True, related_name="lines")
    position = models.PositiveIntegerField()
    part = models.CharField(max_length=80, blank=True)
    text = models.CharField(max_length=500)
    food_id = models.CharField(max_length=160, blank=True)
    low = models.FloatField(default=0)
    grams = models.FloatField(null=True)
    high = models.FloatField(default=0)
    how = models.CharField(max_length=10)
    sure = models.CharField(max_length=8)
    rule = models.CharField(max_length=300, blank=True)
    why = models.CharField(max_length=300, blank=True)
    ask = models.CharField(max_length=300, blank=True)
    others = models.JSONField(default=list)
    is_edited = models.BooleanField(default=False)
    is_accepted = models.BooleanField(default=False)

    class Meta:
        ordering = ("position",)

    def __str__(self):
        return self.text

    def as_line(self):
        """The line as the core takes it; what a person has accepted is sure."""
        return Line(
            text=self.text,
            food_id=self.food_id or None,
            low=self.low,
            grams=self.grams,
            high=self.high,
            how=self.how,
            sure="sure" if self.is_accepted else self.sure,
            rule=self.rule,
            why=self.why,
            ask="" if self.is_accepted else self.ask,
            others=tuple(self.others),
            part=self.part,
            is_edited=self.is_edited,
        )

    def take(self, line):
        """Fill from a line of the core."""
        fields = asdict(line)
        fields["food_id"] = fields["food_id"] or ""
        fields["others"] = list(fields["others"])
        for name, value in fields.items():
            setattr(self, name, value[:300] if isinstance(value, str) and name in ("rule", "why", "ask") else value)

    @property
    def stamp(self):
        """Changes when the line does: a form drawn from an older one is known to be stale."""
        return f"{self.food_id}|{self.grams}|{self.text}|{self.is_accepted}"

    @property
    def is_settled(self):
        """Nothing about it waits for a person."""
        return self.is_accepted or self.sure != "check"

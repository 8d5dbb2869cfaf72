"""The library: recipes as found, and each line as understood."""

from dataclasses import replace

from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models import Count, F, Value
from django.db.models.functions import Length, Upper
from django.urls import reverse
from django.utils import timezone

from accounts.scope import PracticeRow
from nutrition.dish.dish import KINDS, Dish
from nutrition.dish.parts import stamp
from nutrition.notes import NOTHING
from nutrition.reading.answers import answers_of
from ui.guard import Versioned
from ui.guard import stamp as mark

from .fields import LineField


class Recipe(PracticeRow):
    """A dish as written. `is_read`: somebody went through its lines and let it into the library.

    `kitchen`: whose pints and spoons its words mean; `kind`: what kind of dish it is, which a person may correct.
    `part_steps`: the steps of its parts, as they were when the parts were taken in. `tags`: words of the practice's own; `folder`:
    the one it lies in, empty for none;
    `put_away_at`: since when it is out of the way of lists and plans.
    """

    title = models.CharField(max_length=200)
    serves = models.FloatField(null=True, blank=True)
    serving_grams = models.FloatField(
        null=True, blank=True, help_text="Weight of one cooked serving, if it was ever weighed"
    )
    kitchen = models.CharField(max_length=2, blank=True, choices=[("us", "American"), ("uk", "British")])
    kind = models.CharField(max_length=8, default="any", choices=[(kind, kind) for kind in KINDS])
    steps = models.JSONField(default=list)
    part_steps = models.JSONField(default=list, blank=True)
    notes = models.JSONField(default=list)
    #: What its steps name and nobody adds, with the word of whoever said so: [words, why].
    waved = models.JSONField(default=list, blank=True)
    source_text = models.TextField(blank=True)
    is_read = models.BooleanField(default=False)
    tags = models.JSONField(default=list, blank=True)
    folder = models.CharField(max_length=60, blank=True)
    put_away_at = models.DateTimeField(null=True, blank=True)
    created_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ("title",)
        indexes = (
            models.Index(fields=("practice", "title"), name="recipes_by_title"),
            models.Index(fields=("practice", "folder"), name="recipes_by_folder"),
            models.Index(fields=("practice", "title"), condition=models.Q(is_read=False), name="recipes_to_read"),
            GinIndex(OpClass(Upper("title"), name="gin_trgm_ops"), name="recipes_by_words_of_title"),
            # What changed since it was worked out is looked for at every search: answered from these two alone.
            models.Index(
                fields=("practice", "id"),
                include=("changed_at", "serves"),
                condition=models.Q(is_read=True),
                name="recipes_as_changed",
            ),
        )

    def __str__(self):
        return self.title or "Untitled"

    @classmethod
    def folders(cls):
        """(folder, how many recipes lie in it) of those that are in use, by name."""
        there = cls.objects.filter(is_read=True, put_away_at=None).exclude(folder="")
        return there.order_by("folder").values_list("folder").annotate(Count("pk"))

    def get_absolute_url(self):
        return reverse("recipes:recipe" if self.is_read else "recipes:reading", args=[self.pk])

    @property
    def dish(self):
        """The dish as the core takes it."""
        return self.dish_of(self.lines.all())

    def dish_of(self, rows):
        """... with its lines, where these have been read already."""
        lines, steps = tuple(row.line for row in rows), tuple(self.all_steps)
        waved = tuple((words, why) for words, why in self.waved)
        return Dish(self.title, self.serves, lines, steps, self.kitchen, self.kind, tuple(self.notes), waved)

    @property
    def all_steps(self):
        """The steps of the parts, then the dish's own."""
        return [*self.part_steps, *self.steps]

    @property
    def own_lines(self):
        """Its lines without those of its parts."""
        return [row for row in self.lines.all() if row.of_part_id is None]

    @property
    def words(self):
        """Its own ingredient lines under their headings, as they could be typed."""
        found, heading = [], ""
        for row in self.own_lines:
            if row.as_read.heading != heading:
                heading = row.as_read.heading
                found += ["", f"{heading}:"] if heading else [""]
            found.append(row.as_read.text)
        return "\n".join(found).strip()

    @property
    def step_words(self):
        return "\n".join(self.steps)

    @property
    def words_stamp(self):
        """Changes whenever its words do."""
        return mark(self.words, self.steps)

    def touch(self):
        """Something of it changed that its benches may want to know of."""
        self.changed_at = timezone.now()
        self.save(update_fields=["changed_at"])

    @property
    def whole_g(self):
        """What the whole dish weighs when done, if a serving was ever weighed."""
        return self.serving_grams * self.serves if self.serving_grams and self.serves else None

    def stamp_as_part(self):
        """Changes whenever what this recipe brings to others does."""
        return stamp(self.dish.lines, self.all_steps, self.whole_g)


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


class RecipeLine(Versioned, PracticeRow):
    """One line as understood; `is_accepted` when a person has looked at it."""

    recipe = models.ForeignKey(Recipe, on_delete=models.CASCADE, related_name="lines")
    of_part = models.ForeignKey(PartUse, on_delete=models.CASCADE, null=True, blank=True, related_name="lines")
    position = models.PositiveIntegerField()
    as_read = LineField()
    is_accepted = models.BooleanField(default=False)

    class Meta:
        ordering = ("position",)

    def __str__(self):
        return self.as_read.text

    @property
    def line(self):
        """The line as the core takes it; what a person has accepted is sure."""
        return replace(self.as_read, sure="sure", ask=NOTHING) if self.is_accepted else self.as_read

    @property
    def is_settled(self):
        """Nothing about it waits for a person."""
        return self.is_accepted or self.as_read.sure != "check"

    @property
    def answers(self):
        """The answers to what its words leave open, while nobody gave one."""
        return () if self.is_accepted else answers_of(self.as_read)


def named_in(rows, recipe):
    """Line -> the recipe of the library it names in full, the longest title first; names of one word say too little."""
    said = Value("\n".join(row.as_read.text for row in rows), output_field=models.TextField())
    library = Recipe.objects.filter(is_read=True, title__contains=" ").exclude(pk=recipe.pk).annotate(said=said)
    named = library.filter(said__icontains=F("title")).only("title").order_by(Length("title").desc())
    titles = [(each, each.title.lower()) for each in named[:20]]
    return {
        row.pk: found
        for row in rows
        if not row.is_accepted and row.of_part_id is None
        if (found := next((each for each, title in titles if title in row.as_read.text.lower()), None))
    }


class Worked(PracticeRow):
    """What a serving of a recipe holds and shows, worked out once (nutrition.meals.library.Held), so that a whole library is held
    against a table at once. It counts while `of` is the recipe's last change and `stamp` says the foods are the same.
    """

    recipe = models.OneToOneField(Recipe, on_delete=models.CASCADE, related_name="worked")
    of = models.DateTimeField()
    stamp = models.CharField(max_length=80)
    spread = models.BinaryField()
    contains = models.JSONField(default=list)
    check_label = models.JSONField(default=list)
    flags = models.BinaryField(default=bytes)
    names = models.JSONField(default=list)
    #: For searching: the words of its title and foods; what part of a dinner it is as a rule; minutes of hands.
    words = models.TextField(blank=True)
    role = models.CharField(max_length=12, blank=True)
    minutes = models.FloatField(default=0.0)

    class Meta:
        indexes = (
            GinIndex(fields=("words",), opclasses=("gin_trgm_ops",), name="worked_by_words"),
            models.Index(fields=("practice", "recipe"), include=("of", "stamp"), name="worked_as_of"),
        )

    def __str__(self):
        return f"what {self.recipe} holds"

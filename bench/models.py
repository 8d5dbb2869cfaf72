"""A dish on the bench for a person: as written, and the tries."""

from django.apps import apps
from django.db import models
from django.db.models import Exists, OuterRef
from django.urls import reverse
from django.utils import timezone

from accounts.scope import PracticeRow, scoped
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.roles import ROLES, WHOLE
from recipes.fields import DishField
from ui.guard import Versioned, stamp


class Bench(PracticeRow):
    """A recipe taken to the bench for somebody at a meal. `written` keeps it as it was written that day;
    `renewed_at`: when it was last brought up to date with the recipe; `put_away_at`: since when it is out of the way.

    `role`: what part of the meal it is. `jobs`: what a person says a line does in this dish, line key -> jobs; else it
    is read from the food.
    """

    recipe = models.ForeignKey("recipes.Recipe", on_delete=models.CASCADE, related_name="benches")
    person = models.ForeignKey("people.Person", on_delete=models.CASCADE, related_name="benches")
    meal = models.CharField(max_length=12, default="dinner", choices=[(meal, meal) for meal in MEAL_SHARES])
    role = models.CharField(max_length=12, default=WHOLE, choices=[(key, role.label) for key, role in ROLES.items()])
    written = DishField()
    jobs = models.JSONField(default=dict, blank=True)
    renewed_at = models.DateTimeField(default=timezone.now)
    created_at = models.DateTimeField(auto_now_add=True)
    touched_at = models.DateTimeField(auto_now=True)
    put_away_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("-touched_at",)
        constraints = (models.UniqueConstraint(fields=("recipe", "person"), name="one_bench_a_dish_and_person"),)
        indexes = (models.Index(fields=("practice", "-touched_at"), name="benches_newest_first"),)

    def __str__(self):
        return f"{self.recipe} for {self.person}"

    def get_absolute_url(self):
        return reverse("bench:bench", args=[self.pk])


class TryQuerySet(models.QuerySet):
    """Questions that lists ask of tries."""

    #: What a list shows of a try; dishes stay where they are.
    COLUMNS = (
        "name", "notes", "is_finished", "touched_at", "bench__recipe__title", "bench__recipe__is_read",
        "bench__person__name", "bench__practice_id",
    )  # fmt: skip

    #: Of the recipe, what only its own page and bringing the bench up to date ask for.
    OF_THE_RECIPE = tuple(
        f"bench__recipe__{name}" for name in ("source_text", "steps", "part_steps", "notes", "tags", "folder")
    )

    def with_bench(self):
        """With the bench, the person, and what a bench or a card asks of the recipe."""
        return self.select_related("bench__recipe", "bench__person").defer(*self.OF_THE_RECIPE)

    def in_lists(self):
        """What is not put away, with what a list shows of it."""
        return self.filter(bench__put_away_at=None).select_related("bench__recipe", "bench__person").only(*self.COLUMNS)

    def from_the_bench(self):
        """Those somebody works on, and not what a cook left behind."""
        return self.filter(~Exists(apps.get_model("kitchen", "Cook").objects.filter(result=OuterRef("pk"))))

    def not_cooked(self):
        return self.from_the_bench().filter(
            ~Exists(apps.get_model("kitchen", "Cook").objects.filter(attempt=OuterRef("pk")))
        )


class Try(Versioned, PracticeRow):
    """One try. Every edit is kept; the cursor says which one stands, so undo survives a reload.

    `version` counts every change, so that a form from another tab is known to be stale.
    `cooked_g`: the whole dish as weighed when cooked; it holds for the edit it was weighed at.
    """

    bench = models.ForeignKey(Bench, on_delete=models.CASCADE, related_name="tries")
    parent = models.ForeignKey("self", on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    name = models.CharField(max_length=80)
    notes = models.TextField(blank=True)
    is_finished = models.BooleanField(default=False)
    cooked_g = models.FloatField(null=True, blank=True)
    cooked_at = models.PositiveIntegerField(null=True, blank=True)
    cursor = models.PositiveIntegerField(default=0)
    created_at = models.DateTimeField(auto_now_add=True)
    touched_at = models.DateTimeField(auto_now=True)

    objects = scoped(TryQuerySet)

    #: While a request works on it: the number of the newest edit, and the edit just written with the version it made.
    newest: int
    just_written: tuple[int, "Edit"]

    class Meta:
        ordering = ("pk",)
        indexes = (
            models.Index(fields=("practice", "-touched_at"), name="tries_newest_first"),
            models.Index(
                fields=("practice", "-touched_at"), condition=models.Q(is_finished=True), name="finished_newest_first"
            ),
        )

    def __str__(self):
        return f"{self.name}, {self.bench}"

    @property
    def kept_stamp(self):
        """Of its name, notes and weight, as a form over them carries it."""
        return stamp(self.name, self.notes, self.weighed_g)

    @property
    def weighed_g(self):
        """The cooked weight, if it was weighed as the try stands now."""
        return self.cooked_g if self.cooked_at == self.cursor else None

    def get_absolute_url(self):
        return reverse("bench:try", args=[self.bench_id, self.pk])


class Edit(PracticeRow):
    """The whole dish after one edit, and what was done in a few words."""

    attempt = models.ForeignKey(Try, on_delete=models.CASCADE, related_name="edits")
    number = models.PositiveIntegerField()
    summary = models.CharField(max_length=200)
    dish = DishField()
    made_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    #: The number of the try's newest edit, where actions.standing_edit asked for it.
    last: int

    class Meta:
        ordering = ("number",)
        constraints = (models.UniqueConstraint(fields=("attempt", "number"), name="one_edit_a_number"),)

    def __str__(self):
        return self.summary


class FoundWay(PracticeRow):
    """A way through as it was found for a version of a try, so that taking it takes just what was shown.

    `held_to`: a stamp of the limits and of what was kept out then; under others the way is not taken.

    `stages`: [{"text", "why", "do", "minutes", "dish"}] after each of its changes, as the codec keeps a dish.
    """

    attempt = models.ForeignKey(Try, on_delete=models.CASCADE, related_name="found_ways")
    version = models.PositiveIntegerField()
    held_to = models.CharField(max_length=16, blank=True)
    stages = models.JSONField()
    found_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("pk",)

    def __str__(self):
        return f"a way through {self.attempt}"


class Decision(PracticeRow):
    """What was decided of a try once it was tasted, and why; the latest counts.

    `swaps`: what the try put in place of what, [{"from", "to", "jobs"}], so that a swap offered again finds it.
    """

    KEEP, AGAIN, GIVE_UP = "keep", "again", "give up"
    CHOICES = ((KEEP, "keep it"), (AGAIN, "try again"), (GIVE_UP, "give it up"))

    attempt = models.ForeignKey(Try, on_delete=models.CASCADE, related_name="decisions")
    choice = models.CharField(max_length=8, choices=CHOICES)
    reason = models.CharField(max_length=400)
    swaps = models.JSONField(default=list, blank=True)
    decided_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    decided_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-decided_at", "-pk")

    def __str__(self):
        return f"{self.attempt.name}: {self.get_choice_display()}"

"""A meal somebody sits down to: a day, who eats, what stands on the table, and who gets how much of it."""

from datetime import time

from django.db import models
from django.urls import reverse

from accounts.scope import PracticeRow, scoped
from handouts.models import PrivateLink
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.roles import ROLES, WHOLE
from people.models import HeldTo
from recipes.fields import DishField
from ui.guard import Versioned

#: When a meal is eaten where nobody says.
USUAL_TIMES = {"breakfast": time(7, 30), "lunch": time(12, 30), "dinner": time(18, 30), "snack": time(16)}


class Occasion(Versioned, PracticeRow):
    """One meal on one day. `household`: whose table it is, as it was when the table was laid. `version` counts every change,
    so that a form from another tab is known to be stale."""

    title = models.CharField(max_length=120, blank=True)
    on = models.DateField()
    meal = models.CharField(max_length=12, default="dinner", choices=[(meal, meal) for meal in MEAL_SHARES])
    serve_at = models.TimeField()
    household = models.CharField(max_length=80, blank=True)
    created_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)
    touched_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("on", "serve_at", "pk")
        indexes = (models.Index(fields=("practice", "-on"), name="occasions_newest_first"),)

    def __str__(self):
        return self.title or self.meal.capitalize()

    def get_absolute_url(self):
        return reverse("meals:table", args=[self.pk])

    @property
    def when(self):
        """ "Monday, December 21, 2026, dinner at 18:30"."""
        return f"{self.on:%A, %B} {self.on.day}, {self.on.year}, {self.meal} at {self.serve_at:%H:%M}"


class Away(models.QuerySet):
    """What was taken off a table can be put back."""

    def there(self):
        return self.filter(is_away=False)


class Seat(PracticeRow):
    """Somebody at the table: a person, or a guest with limits only. `plans`: of a guest, key -> settings."""

    occasion = models.ForeignKey(Occasion, on_delete=models.CASCADE, related_name="seats")
    person = models.ForeignKey("people.Person", on_delete=models.CASCADE, null=True, blank=True, related_name="seats")
    guest = models.CharField(max_length=80, blank=True)
    plans = models.JSONField(default=dict, blank=True)
    weight_kg = models.FloatField(null=True, blank=True)
    energy_kcal = models.FloatField(null=True, blank=True)
    is_away = models.BooleanField(default=False)

    objects = scoped(Away)

    class Meta:
        ordering = ("pk",)
        constraints = (models.UniqueConstraint(fields=("occasion", "person"), name="one_seat_a_person"),)

    kind = "seat"

    def __str__(self):
        return str(self.person) if self.person_id else self.guest or "A guest"


class OnTable(PracticeRow):
    """A dish on the table: a recipe of the library, a try, a released card, which stays as it went out, or a plain food in `words`.

    `kept`: the dish as it stood when it was put here or last changed; it counts when the recipe or the try is gone, and when the
    dish was changed for this table alone (`is_own`). `pieces`: into how many a serving is cut. `left_over_of`: it was cooked for
    another table, and is counted out of that batch.
    """

    occasion = models.ForeignKey(Occasion, on_delete=models.CASCADE, related_name="dishes")
    recipe = models.ForeignKey("recipes.Recipe", on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    attempt = models.ForeignKey("bench.Try", on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    release = models.ForeignKey("handouts.Release", on_delete=models.SET_NULL, null=True, blank=True, related_name="+")
    words = models.CharField(max_length=200, blank=True)
    kept = DishField()
    is_own = models.BooleanField(default=False)
    left_over_of = models.ForeignKey(
        "self", on_delete=models.SET_NULL, null=True, blank=True, related_name="left_overs"
    )
    role = models.CharField(max_length=12, default=WHOLE, choices=[(key, role.label) for key, role in ROLES.items()])
    batches = models.FloatField(default=1.0)
    pieces = models.FloatField(default=1.0)
    cooked_serving_g = models.FloatField(null=True, blank=True)
    is_away = models.BooleanField(default=False)

    objects = scoped(Away)

    class Meta:
        ordering = ("pk",)

    kind = "dish"

    def __str__(self):
        return self.kept.title

    @property
    def follows(self):
        """Whether it is as its try or recipe stands now: not what was changed for this table, nor what went out on a card."""
        return not (self.is_own or self.release_id)


class Helping(PracticeRow):
    """What somebody gets of a dish: a portion in words, one serving where there is no row. `without`: keys of the lines
    their part is taken out before."""

    seat = models.ForeignKey(Seat, on_delete=models.CASCADE, related_name="helpings")
    dish = models.ForeignKey(OnTable, on_delete=models.CASCADE, related_name="helpings")
    words = models.CharField(max_length=60, blank=True)
    without = models.JSONField(default=list, blank=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("seat", "dish"), name="one_helping_a_seat_and_dish"),)

    def __str__(self):
        return self.words or "1"


class GivenWeek(PracticeRow):
    """A person's week as it was given out: its sheet as HTML, which never changes; a later one of the same week replaces it.

    `digest`: of what the person was held to then (people.models.HeldTo).
    """

    person = models.ForeignKey("people.Person", on_delete=models.CASCADE, related_name="weeks_out")
    monday = models.DateField()
    body = models.TextField()
    digest = models.CharField(max_length=64)
    given_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-given_at",)

    def __str__(self):
        return f"the week of {self.monday:%B} {self.monday.day}, {self.monday.year}"

    @property
    def is_replaced(self):
        """Whether the same week was given out again since."""
        later = GivenWeek.objects.filter(person=self.person_id, monday=self.monday, pk__gt=self.pk)
        return later.exclude(body=self.body).exists()

    def has_other_limits(self):
        """Whether the person is held to something else by now. One query."""
        return HeldTo.objects.filter(person=self.person_id).exclude(digest=self.digest).exists()


class WeekLink(PrivateLink):
    """A private link to a week as it was given out."""

    week = models.ForeignKey(GivenWeek, on_delete=models.CASCADE, related_name="links")

    acts = "week"

    def __str__(self):
        return f"link to {self.week}"

    @property
    def person_id(self):
        return self.week.person_id


class AtHome(PracticeRow):
    """What a household has of a food: so many grams in one week, or always enough (`grams` and `monday` None). Said by whoever looked,
    on the shopping list of a person; it counts for everybody of their household."""

    person = models.ForeignKey("people.Person", on_delete=models.CASCADE, related_name="at_home")
    food_id = models.CharField(max_length=160)
    monday = models.DateField(null=True, blank=True)
    grams = models.FloatField(null=True, blank=True)

    class Meta:
        indexes = (models.Index(fields=("practice", "person"), name="at_home_by_person"),)

    @classmethod
    def with_(cls, person):
        """What was said by somebody, or by anybody of their household."""
        by_them = models.Q(person=person)
        of_theirs = models.Q(person__household=person.household) if person.household else by_them
        return cls.objects.filter(by_them | of_theirs)

    def __str__(self):
        return f"{self.food_id}: {'always' if self.grams is None else f'{self.grams:g} g'}"

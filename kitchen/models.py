"""A cook: the plan as it stood, every tap at the stove, timers, and what the tasters said."""

from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.db.models import Exists, OuterRef
from django.urls import reverse
from django.utils import timezone

from accounts.scope import PracticeRow, scoped
from bench.models import Decision
from nutrition.stove.cooked import TAPS
from nutrition.stove.cooked import Tap as CoreTap
from recipes.fields import DishField


def _decided_since():
    """Of the try of a cook, since it was dished up."""
    return Decision.objects.filter(attempt=OuterRef("attempt"), decided_at__gte=OuterRef("finished_at"))


def _tasted():
    return Tasting.objects.filter(cook=OuterRef("pk"))


class CookQuerySet(models.QuerySet):
    """Questions that lists ask of cooks."""

    COLUMNS = (
        "at_step", "started_at", "finished_at", "attempt__name", "attempt__bench__recipe__title",
        "attempt__bench__recipe__is_read", "attempt__bench__person__name",
    )  # fmt: skip

    def in_lists(self):
        return self.select_related("attempt__bench__recipe", "attempt__bench__person").only(*self.COLUMNS)

    def on_the_stove(self):
        return self.filter(finished_at=None)

    def finished(self):
        return self.filter(finished_at__isnull=False)

    def undecided(self):
        """Dished up, and nothing was decided of the try since: a second cook of a decided try waits again."""
        return self.finished().filter(~Exists(_decided_since()))

    def waiting(self):
        """Undecided, or tasted by nobody."""
        return self.finished().filter(~Exists(_decided_since()) | ~Exists(_tasted()))

    def settled(self):
        """Tasted, and decided since."""
        return self.finished().filter(Exists(_decided_since()), Exists(_tasted()))


class Cook(PracticeRow):
    """Somebody cooks a try. `plan`: the dish as it stood when the cook began, with the steps it is cooked by.

    `shares`: what may be spent over the steps, as kind -> {step number: grams}, once the cook changed it.
    `result`: the version with what really went in, once it is finished.
    """

    attempt = models.ForeignKey("bench.Try", on_delete=models.CASCADE, related_name="cooks")
    result = models.OneToOneField(
        "bench.Try", on_delete=models.SET_NULL, null=True, blank=True, related_name="cooked_in"
    )
    plan = DishField()
    shares = models.JSONField(default=dict, blank=True)
    at_step = models.PositiveIntegerField(default=0)
    started_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    started_at = models.DateTimeField(default=timezone.now)
    finished_at = models.DateTimeField(null=True, blank=True)
    cooked_g = models.FloatField("whole dish cooked, g", null=True, blank=True)
    serves_cooked = models.FloatField("pieces or portions it was cut into", null=True, blank=True)
    minutes_taken = models.PositiveIntegerField(null=True, blank=True)
    minutes_hands_on = models.PositiveIntegerField(null=True, blank=True)
    pans = models.PositiveIntegerField(null=True, blank=True)
    notes = models.TextField(blank=True)

    objects = scoped(CookQuerySet)

    class Meta:
        ordering = ("-started_at",)
        indexes = (
            models.Index(fields=("practice", "-started_at"), name="cooks_newest_first"),
            models.Index(fields=("practice",), condition=models.Q(finished_at=None), name="cooks_on_the_stove"),
        )

    def __str__(self):
        return f"{self.attempt.bench.recipe}, cooked {self.started_at:%b %-d}"

    def get_absolute_url(self):
        return reverse("kitchen:cooked" if self.finished_at else "kitchen:stove", args=[self.pk])

    @property
    def minutes_so_far(self):
        return round(((self.finished_at or timezone.now()) - self.started_at).total_seconds() / 60)


class Tap(PracticeRow):
    """One thing recorded at the stove, never changed: only taken back. `token`: a tap sent twice counts once."""

    cook = models.ForeignKey(Cook, on_delete=models.CASCADE, related_name="taps")
    token = models.CharField(max_length=64)
    kind = models.CharField(max_length=10, choices=[(kind, kind) for kind in TAPS])
    key = models.CharField(max_length=40, blank=True)
    grams = models.FloatField(null=True, blank=True)
    food_id = models.CharField(max_length=160, blank=True)
    minutes = models.FloatField(null=True, blank=True)
    step = models.PositiveIntegerField(default=0)
    words = models.CharField(max_length=200)
    made_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    taken_back_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("pk",)
        constraints = (models.UniqueConstraint(fields=("cook", "token"), name="one_tap_a_token"),)

    def __str__(self):
        return self.words

    def as_tap(self):
        """The core's tap."""
        return CoreTap(self.kind, self.key, self.grams, self.food_id)


class Timer(PracticeRow):
    """A timer that lives in the database: it goes on through a reload, a crash, and on every screen at once."""

    cook = models.ForeignKey(Cook, on_delete=models.CASCADE, related_name="timers")
    token = models.CharField(max_length=64)
    label = models.CharField(max_length=80)
    step = models.PositiveIntegerField(default=0)
    started_at = models.DateTimeField(default=timezone.now)
    ends_at = models.DateTimeField()
    stopped_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("ends_at",)
        constraints = (models.UniqueConstraint(fields=("cook", "token"), name="one_timer_a_token"),)

    def __str__(self):
        return self.label

    @property
    def ends_ms(self):
        """Milliseconds since 1970, as scripts count."""
        return round(self.ends_at.timestamp() * 1000)

    @property
    def seconds_left(self):
        return max(round((self.ends_at - timezone.now()).total_seconds()), 0)


_OF_TEN = (MinValueValidator(0), MaxValueValidator(10))


class Tasting(PracticeRow):
    """What one person at the table said of one cook: marks out of ten."""

    cook = models.ForeignKey(Cook, on_delete=models.CASCADE, related_name="tastings")
    taster = models.CharField(max_length=80)
    taste = models.FloatField(null=True, blank=True, validators=_OF_TEN)
    ease = models.FloatField(null=True, blank=True, validators=_OF_TEN)
    missed = models.CharField(max_length=200, blank=True)
    notes = models.TextField(blank=True)
    made_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("pk",)
        constraints = (models.UniqueConstraint(fields=("cook", "taster"), name="one_tasting_a_taster"),)

    def __str__(self):
        return f"{self.taster} on {self.cook}"

"""What goes out of the house: what was made sure of before, the card as it was released, and links to it."""

from django.db import models
from django.db.models import Exists, ExpressionWrapper, Max, OuterRef, Q
from django.urls import reverse
from django.utils import timezone
from django.utils.html import escape

from accounts.prepared import prepared
from accounts.scope import PracticeRow, scoped
from accounts.tokens import digest
from kitchen.models import Cook
from pantry.models import corrected_since
from people.models import HeldTo
from people.regimen import differences, held_to, regimen_of
from recipes.fields import DishField


class Readiness(PracticeRow):
    """What a person has made sure of before a try goes out.

    `accepted`: nutrient or tag of a gate that is not open -> why it goes out all the same. `labels`: line key ->
    {"product", "holds": allergen tags the label names}. `others_read`: every other label was read too.
    `is_as_planned`: it goes out before anybody has cooked it, and says so. `prints_reasons`: the reasons in `accepted` stand on the card too; else they stay inside.
    """

    attempt = models.OneToOneField("bench.Try", on_delete=models.CASCADE, related_name="readiness")
    portion = models.CharField(max_length=160, blank=True)
    keep_days = models.PositiveSmallIntegerField(null=True, blank=True)
    freeze_months = models.PositiveSmallIntegerField(null=True, blank=True)
    accepted = models.JSONField(default=dict, blank=True)
    labels = models.JSONField(default=dict, blank=True)
    has_label_margin = models.BooleanField(default=False)
    prints_reasons = models.BooleanField(default=False)
    is_as_planned = models.BooleanField(default=False)
    set_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    set_at = models.DateTimeField(auto_now=True)

    def __str__(self):
        return f"what was made sure of for {self.attempt}"


_HELD = models.Q(bench__person__held_to__isnull=False)
#: Of cards whose person is held to something else by now.
_UNDER_OTHER_LIMITS = _HELD & ~models.Q(digest="") & ~models.Q(digest=models.F("bench__person__held_to__digest"))


class ReleaseQuerySet(models.QuerySet):
    def standing(self):
        """The newest card of each dish that was not recalled."""
        later = Release.objects.filter(bench=OuterRef("bench"), number__gt=OuterRef("number"))
        return self.filter(~Exists(later), recall__isnull=True).order_by("-released_at")

    def under_other_limits(self, person):
        """Of those of one person, where they are held to something else by now, the latest first: as `standing`, told apart here, since
        one person's cards are few and this is asked whenever somebody looks at them."""
        newest = {}
        for each in _releases_of(person.pk):
            newest.setdefault(each.bench_id, each)
        now = HeldTo.objects.filter(person=person).values_list("digest", flat=True).first() if newest else None
        found = [each for each in newest.values() if not each.recalled and now and each.digest not in ("", now)]
        return sorted(found, key=lambda each: each.released_at, reverse=True)

    def with_what_became_of_them(self):
        """With `is_under_other_limits`: whether the person is held to something else by now."""
        return self.annotate(is_under_other_limits=ExpressionWrapper(_UNDER_OTHER_LIMITS, models.BooleanField()))

    def to_look_at(self):
        """Of those, where the person is held to something else by now, or nobody has cooked what went out as planned.

        `is_under_other_limits`, `is_not_cooked`: which of the two.
        """
        cooked = Cook.objects.filter(attempt__bench=OuterRef("bench"), started_at__gt=OuterRef("released_at"))
        other = _UNDER_OTHER_LIMITS
        planned = Q(facts__as_planned=True) & ~Exists(cooked)
        return (
            self.standing()
            .annotate(
                is_under_other_limits=ExpressionWrapper(other, models.BooleanField()),
                is_not_cooked=ExpressionWrapper(planned, models.BooleanField()),
            )
            .filter(other | planned)
        )


class Release(PracticeRow):
    """A card as it went out. It never changes (the database refuses); a later number replaces it.

    `body` is the printed card as HTML, `facts` what lists and the diary show of it; `dish`: what is cooked by it, None for cards of
    before; `cooked_serving_g`: weighed by then.
    """

    bench = models.ForeignKey("bench.Bench", on_delete=models.CASCADE, related_name="releases")
    attempt = models.ForeignKey("bench.Try", on_delete=models.CASCADE, related_name="releases")
    number = models.PositiveIntegerField()
    title = models.CharField(max_length=200)
    body = models.TextField()
    facts = models.JSONField(default=dict)
    dish = DishField(null=True)
    cooked_serving_g = models.FloatField(null=True)
    #: Of what the person was held to when it went out (people.models.HeldTo); empty for cards of before.
    digest = models.CharField(max_length=64, blank=True, default="")
    released_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    released_at = models.DateTimeField(auto_now_add=True)

    objects = scoped(ReleaseQuerySet)

    class Meta:
        ordering = ("-number",)
        constraints = (models.UniqueConstraint(fields=("bench", "number"), name="one_release_a_number"),)
        indexes = (models.Index(fields=("practice", "-released_at"), name="releases_newest_first"),)

    def __str__(self):
        return f"{self.title}, release {self.number}"

    def get_absolute_url(self):
        return reverse("handouts:released", args=[self.pk])

    @property
    def recalled(self):
        """The recall of it; None for a card that stands."""
        return getattr(self, "recall", None)

    def has_other_limits(self):
        """Whether the person is held to something else by now. One query."""
        now = HeldTo.objects.filter(person_id=self.bench.person_id).values_list("digest", flat=True).first()
        return bool(self.digest and now and now != self.digest)

    @property
    def changed_limits(self):
        """What the person is held to now and was not then, in words; empty where nothing is known to have changed."""
        if not self.has_other_limits():
            return []
        return differences(self.facts["held_to"], held_to(regimen_of(self.bench.person)))

    def corrected_labels(self):
        """Names of the practice's labels in the dish that were put right after it went out. One query where it has any."""
        return corrected_since({line.food_id for line in self.dish.lines} if self.dish else (), self.released_at)

    def stands_no_more(self, tells_limits=True):
        """Why nobody should cook from it as it is, in words; empty for a card that stands. `tells_limits`: whether a changed limit is said
        (a practice may keep that from its links)."""
        if self.recalled:
            why = f" ({self.recalled.why})" if self.recalled.why else ""
            return f"Recalled on {self.recalled.recalled_at:%B %-d, %Y}{why}: do not cook from this card any more."
        if self.newest != self.number:
            return f"Outdated: card {self.newest} has taken its place. Cook from that one."
        if names := self.corrected_labels():
            return f"Outdated: the label of {' and of '.join(names)} was corrected since this card was made. Ask before you cook from it."
        if tells_limits and self.has_other_limits():
            return "Outdated: a limit has changed since this card was made. Ask before you cook from it."
        return ""

    def stamped(self, body=None, tells_limits=True):
        """Its body with what became of it since said first, on screen and on every paper: what went out is kept as it was."""
        body, words = self.body if body is None else body, self.stands_no_more(tells_limits)
        stamp = f'<p class="card-recalled" role="alert"><b>{escape(words)}</b></p>' if words else ""
        head, article, rest = body.partition('<article class="card-sheet">')
        return f"{head}{article}{stamp}{rest}" if article else f"{stamp}{body}"

    @property
    def newest(self):
        """The number that counts now."""
        return Release.objects.filter(bench_id=self.bench_id).aggregate(Max("number"))["number__max"]


@prepared
def _releases_of(person_id):
    mine = Release.objects.filter(bench__person=person_id).select_related("recall").order_by("-number")
    return mine.only("title", "bench_id", "number", "digest", "released_at", "recall__why")


class Recall(PracticeRow):
    """A released card that nobody should cook from any more. Its links say so."""

    release = models.OneToOneField(Release, on_delete=models.CASCADE, related_name="recall")
    why = models.CharField(max_length=200, blank=True)
    recalled_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    recalled_at = models.DateTimeField(auto_now_add=True)

    def __str__(self):
        return f"recall of {self.release}"


class Paper(PracticeRow):
    """A card as PDF, rendered once. `key`: of everything it is made from, so that another card is another paper.

    `release`: the release it is of, kept as long as that; None for a preview, which goes after a week.
    """

    key = models.CharField(max_length=64)
    release = models.ForeignKey(Release, on_delete=models.CASCADE, null=True, related_name="papers")
    pdf = models.BinaryField()
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = (models.UniqueConstraint(fields=("practice", "key"), name="one_paper_a_card"),)

    def __str__(self):
        return f"paper {self.key[:8]}"


class PrivateLink(PracticeRow):
    """A private address of something that went out: no account needed, read only, until it expires or is withdrawn."""

    token_digest = models.CharField(max_length=64, unique=True, editable=False)
    for_whom = models.CharField(max_length=80, blank=True)
    made_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)
    expires_at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True, blank=True)
    #: Of a second thing to know, empty for none; and how often something else was typed.
    word_digest = models.CharField(max_length=64, blank=True)
    wrong_words = models.PositiveSmallIntegerField(default=0)
    opened = models.PositiveIntegerField(default=0)
    opened_at = models.DateTimeField(null=True, blank=True)

    #: For the one page without a practice: the token itself is what admits.
    anywhere = models.Manager()

    #: What the log calls it (records.acts): "link.given", "link.opened" and so on.
    acts: str
    #: The person it tells of.
    person_id: int

    class Meta:
        abstract = True
        ordering = ("-made_at",)
        default_manager_name = "objects"

    def digest_of(self, word):
        """Of a word for this link alone; capitals and blanks do not matter."""
        return digest(f"{self.token_digest} {' '.join(word.casefold().split())}")

    @property
    def is_open(self):
        return self.withdrawn_at is None and self.expires_at > timezone.now()

    @property
    def state_words(self):
        if self.withdrawn_at:
            return f"withdrawn {self.withdrawn_at:%b %-d}"
        return f"{'open until' if self.is_open else 'ended'} {self.expires_at:%b %-d, %Y}"


class HandoutLink(PrivateLink):
    """A private link to one release."""

    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="links")
    #: Whether whoever opens it reads which plans the person follows.
    shows_plans = models.BooleanField(default=False)

    acts = "link"

    def __str__(self):
        return f"link to {self.release}"

    @property
    def person_id(self):
        return self.release.bench.person_id

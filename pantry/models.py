"""What a practice calls its foods."""

from dataclasses import replace
from datetime import date

from django.db import models
from django.utils.timezone import localdate

from accounts.prepared import prepared
from accounts.scope import PracticeRow
from nutrition.food.label import BASES, Label, forms
from nutrition.food.label_forms import from_kept
from nutrition.food.names import cook_name, normalized
from nutrition.food.nutrients import INDEX
from nutrition.food.sentences import field_name
from nutrition.food.table import foods, remembered, the_table
from nutrition.notes import Problem
from nutrition.swaps.jobs import JOBS
from nutrition.swaps.rules import OWN_CLOSENESS, label_rule, own_rule, read_to


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


class OwnLabel(PracticeRow):
    """A label as somebody of the practice typed it from the packet; a food like any other from then on.

    A packet that reads otherwise is another label, and this one is retired; what was mistyped is corrected, and `earlier` keeps how
    it read before, by whom and when. `printed`: field of label_fields.tsv -> figure for `serving`, "<1" for less than one.
    """

    name = models.CharField(max_length=120)
    form = models.CharField(max_length=2, choices=[(each.key, each.name) for each in forms().values()])
    serving = models.CharField(max_length=60)
    per_g = models.FloatField()
    g_per_100_ml = models.FloatField("what 100 ml weigh, where the serving is a volume", null=True, blank=True)
    basis = models.CharField(
        "what the figures are of", max_length=11, blank=True, choices=[(each, each) for each in BASES]
    )
    printed = models.JSONField()
    ingredients = models.TextField(max_length=4000, blank=True)
    may_contain = models.CharField(max_length=400, blank=True)
    found_in = models.CharField("work, edition, page, where it is no label", max_length=200, blank=True)
    stands_for = models.CharField(max_length=160, blank=True)
    entered_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    entered_on = models.DateField(default=localdate)
    retired_on = models.DateField(null=True, blank=True)
    corrected_at = models.DateTimeField(null=True, blank=True)
    earlier = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ("name", "pk")

    def __str__(self):
        return self.name

    @property
    def food_id(self):
        return f"own:label-{self.pk}"

    @property
    def label(self):
        """As the core reads it. Raises Problem."""
        stands_for = self.stands_for if the_table().has_id(self.stands_for) else ""
        return Label(
            self.name, self.form, self.per_g, from_kept(self.printed), self.ingredients, self.may_contain, stands_for, self.source,
            self.serving, self.basis,
        )  # fmt: skip

    #: What somebody types of a packet, and may correct.
    TYPED = (
        "name", "form", "serving", "per_g", "g_per_100_ml", "basis", "printed", "ingredients", "may_contain", "found_in", "stands_for"
    )  # fmt: skip

    @property
    def as_typed(self):
        """Field -> what stands in it, as JSON keeps it."""
        return {name: getattr(self, name) for name in self.TYPED}

    @property
    def corrections(self):
        """What was put right, the latest first: by whom, on what day, and what changed, in words."""
        readings = [*(each["was"] for each in self.earlier), self.as_typed]
        pairs = zip(self.earlier, readings, readings[1:], strict=False)
        return [
            {"by": each["by"], "on": date.fromisoformat(each["on"]), "changes": "; ".join(_changes(was, now))}
            for each, was, now in pairs
        ][::-1]

    @property
    def source(self):
        return f"{self.found_in or 'label'}, entered by {self.entered_by.name} on {self.entered_on:%B %-d, %Y}"

    def as_food(self):
        """The food it makes; retired, it keeps its values and is offered no more."""
        return replace(self.label.as_food(self.food_id), is_retired=self.retired_on is not None)


def _changes(was, now):
    """What changed between two readings of a label: "sodium 70 → 700"."""
    flat = [{k: v for k, v in each.items() if k != "printed"} | each["printed"] for each in (was, now)]
    names = {
        "name": "name",
        "per_g": "grams of the serving",
        "stands_for": "stands for",
        "may_contain": "traces",
        "found_in": "source",
    }
    return [
        f"{names.get(key, field_name(key))} {' → '.join(_shown(each.get(key)) for each in flat)}"
        for key in dict.fromkeys([*flat[0], *flat[1]])
        if flat[0].get(key) != flat[1].get(key)
    ]


def _shown(value):
    return "(empty)" if value in (None, "") else f"{value:g}" if isinstance(value, float) else str(value)


@remembered
def _shelf():
    """(food id, what it stands for, source) of every label on offer; asked once for the foods in use."""
    labels = OwnLabel.objects.exclude(stands_for="").filter(retired_on=None).select_related("entered_by")
    return tuple((each.food_id, each.stands_for, each.source) for each in labels)


def shelf():
    """The labels on offer that stand for a food; a practice without own foods asks nothing for it."""
    return () if foods() is the_table() else _shelf()


def labels_like(line):
    """Ids of the labels that stand for what a line is or may be."""
    may_be = {food_id for food_id in (line.food_id, *line.others) if food_id}
    usual = {stands_for for food_id, stands_for, _ in shelf() if food_id in may_be}
    return [food_id for food_id, stands_for, _ in shelf() if stands_for in may_be | usual]


def labels_of(food_ids):
    """Food id -> label, in the order asked for."""
    by_id = {each.food_id: each for each in OwnLabel.objects.select_related("entered_by")}
    return {food_id: by_id[food_id] for food_id in food_ids if food_id in by_id}


def corrected_since(food_ids, moment):
    """Names of the labels among foods that were corrected after a moment."""
    keys = [food_id.removeprefix("own:label-") for food_id in food_ids if (food_id or "").startswith("own:label-")]
    if not keys:
        return []
    found = OwnLabel.objects.filter(pk__in=[key for key in keys if key.isdigit()], corrected_at__gt=moment)
    return sorted(found.values_list("name", flat=True))


class Verified(PracticeRow):
    """Somebody opened the book for a food's figures. `found`: nutrient -> what the book says in 100 g.

    It stands beside the table's figures until a release of the table takes it in; it changes none of them.
    """

    food_id = models.CharField(max_length=160)
    found = models.JSONField(default=dict)
    found_in = models.CharField("work, edition, page", max_length=200)
    set_by = models.ForeignKey("accounts.User", on_delete=models.PROTECT, related_name="+")
    set_on = models.DateField(default=localdate)

    class Meta:
        ordering = ("food_id",)
        constraints = (models.UniqueConstraint(fields=("practice", "food_id"), name="one_verification_a_food"),)

    def __str__(self):
        return f"{self.food_id}: {self.found_in}"

    @property
    def differs(self):
        """(nutrient, in the table, in the book) where the two are more than a twentieth apart."""
        if not foods().has_id(self.food_id):
            return []
        row = foods().by_id(self.food_id).row
        pairs = [
            (key, float(foods().per_100g[row, INDEX[key]]), book) for key, book in self.found.items() if key in INDEX
        ]
        return [(key, ours, book) for key, ours, book in pairs if not abs(ours - book) <= 0.05 * max(ours, book) + 0.05]


#: How near a dish stays when a rule is taken: what a cook would say of it, and the closeness that stands for it.
NEAR = ((0.95, "nobody notices"), (0.9, "a cook would not mind"), (0.8, "hardly another dish"), (0.7, "the same kind of dish"),
        (0.5, "another dish of its kind"))  # fmt: skip


class SwapRule(PracticeRow):
    """A way of the practice's own to do an ingredient's job; it takes part beside the rules that ship."""

    replaces = models.CharField(max_length=120)
    job = models.CharField(max_length=20, choices=list(JOBS.items()))
    to = models.CharField("what takes over", max_length=200)
    household = models.CharField("as a cook measures it", max_length=120, blank=True)
    do_differently = models.CharField(max_length=200, blank=True)
    closeness = models.FloatField("how near the dish stays", default=OWN_CLOSENESS, choices=NEAR)
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
        return replace(own_rule(*words, f"own-{self.pk or 'new'}"), closeness=self.closeness)

    @property
    def rule(self):
        """The core's rule; None where a food it names is not understood any more, as the pantry's page says."""
        try:
            return self.as_rule()
        except Problem:
            return None

    @property
    def told(self):
        """What takes over, as one would say it; the refusal where its foods are not understood any more."""
        try:
            leads = read_to(self.to)
        except Problem as problem:
            return f"not in use: {problem}"
        if leads.factor is not None:
            return "nothing: left out" if leads.factor == 0 else f"{leads.factor:.0%} of it"
        kept = [f"{100 * leads.keeps:.0f} g of it kept"] if leads.keeps else []
        comes = [f"{100 * ratio:.0f} g {cook_name(food_id)}" for food_id, ratio in leads.to]
        return f"{' + '.join((*kept, *comes))} for 100 g"


@prepared
def _swap_rules():
    return SwapRule.objects.all()


def own_rules():
    """The practice's rules as the core takes them."""
    jars = (
        label_rule(food_id, stands_for, source, food_id.replace(":", "-"))
        for food_id, stands_for, source in shelf()
        if foods().has_id(stands_for) and foods().has_id(food_id)
    )
    return (*filter(None, (rule.rule for rule in _swap_rules())), *jars)

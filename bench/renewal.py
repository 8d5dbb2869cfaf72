"""A recipe that was corrected after it went to a bench: what would change there, for whom, and bringing it up to date."""

from dataclasses import dataclass
from functools import cached_property
from itertools import islice

from django.db import transaction
from django.db.models import F
from django.utils import timezone

from nutrition.dish.dish import Dish
from nutrition.dish.renewal import changes_between, is_behind, renewed
from nutrition.food.nutrients import CORE_KEYS
from nutrition.sheet.analysis import analyze
from nutrition.swaps.telling import told
from records.log import record
from ui.guard import hold

from . import actions
from .models import Bench, Edit

#: A change below this share of what a serving holds is not worth a word.
WORTH_SAYING = 0.01


@dataclass(frozen=True)
class Behind:
    """A bench whose recipe has moved on. `now`: the dish as the recipe has it."""

    bench: Bench
    now: Dish

    @cached_property
    def lines(self):
        """(line as it stands on the bench, as the recipe has it now); None for none."""
        return [(each.was, each.now) for each in changes_between(self.bench.written, self.now)]

    @property
    def in_words(self):
        """What changed, in a few words: "2 lines, serves 4 now 6"."""
        count, was, now = len(self.lines), self.bench.written.serves, self.now.serves
        said = [f"{count} line{'s' if count != 1 else ''} changed"] if count else []
        if was != now:
            said.append(f"serves {was:g}, now {now:g}")
        return ", ".join(said) or "its steps or its kind changed"

    @cached_property
    def effects(self):
        """(nutrient, one serving as written now, then) where it changes by more than a hundredth."""
        was, then = analyze(self.bench.written), analyze(self.now)
        pairs = ((key, was.amount(key), then.amount(key)) for key in CORE_KEYS)
        return [pair for pair in pairs if abs(pair[2] - pair[1]) > WORTH_SAYING * max(abs(pair[1]), 0.1)]


def behind(bench):
    """What the recipe changed since the bench took it; None when it stands as it is there."""
    if bench.recipe.changed_at <= bench.renewed_at:
        return None
    now = bench.recipe.dish
    return Behind(bench, now) if now.lines and now.serves and is_behind(bench.written, now) else None


def behind_anywhere(limit):
    """Benches whose recipes have moved on, the latest touched first. Two queries for every 50 that may have.

    All of them are looked at until there are enough: a recipe that was only saved again hides none that was changed.
    """
    moved = Bench.objects.filter(recipe__changed_at__gt=F("renewed_at")).select_related("recipe", "person")
    rows = moved.prefetch_related("recipe__lines").iterator(chunk_size=50)
    return list(islice(filter(None, map(behind, rows)), limit))


@transaction.atomic
def bring_up_to_date(bench, user):
    """The dish as the recipe has it now: on the bench, and in every unfinished try, where one's own edits stay.

    Each try gets it as one edit, which undo takes back; what was cooked stays as it was cooked. A new try begins as
    written now.
    """
    hold(bench)
    was, now = bench.written, bench.recipe.dish
    for attempt in bench.tries.filter(is_finished=False, cooked_in=None).prefetch_related("edits"):
        standing = actions.standing_edit(attempt)
        mine = told(now, renewed(was, now, standing.dish))
        if mine != standing.dish:
            attempt.edits.filter(number__gt=attempt.cursor).delete()
            number = attempt.cursor + 1
            attempt.claim(attempt.version, cursor=number, touched_at=timezone.now())
            Edit(
                attempt=attempt, number=number, summary="brought up to date with the recipe", dish=mine, made_by=user
            ).save()
    bench.written, bench.renewed_at = now, timezone.now()
    bench.save()
    record("bench.renewed", bench.person_id, by=user)
    return actions.start_try(bench, None, user)

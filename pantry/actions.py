"""What may be done in the pantry: enter a label, retire one. Verbs take values."""

from django.db import transaction
from django.utils import timezone
from django.utils.timezone import localdate

from nutrition.food.label import Label
from nutrition.food.label_forms import as_kept
from nutrition.food.table import foods
from records.log import record

from .models import OwnLabel, Verified, remember
from .own import changed


def _typed(label: Label, serving, found_in, g_per_100_ml):
    return {
        "name": label.name,
        "form": label.form,
        "serving": serving,
        "per_g": label.per_g,
        "g_per_100_ml": g_per_100_ml,
        "basis": label.basis,
        "printed": as_kept(label.printed),
        "ingredients": label.ingredients,
        "may_contain": label.may_contain,
        "found_in": found_in,
        "stands_for": label.stands_for,
    }


@transaction.atomic
def enter_label(label: Label, serving, user, words="", found_in="", g_per_100_ml=None):
    """Keep a label; `words`: what lines call it, so that it is taken for them first; `found_in`: the book or table where
    it is no label; `g_per_100_ml`: where its serving is a volume. The new OwnLabel."""
    kept = OwnLabel(entered_by=user, **_typed(label, serving, found_in, g_per_100_ml))
    kept.save()
    changed()
    if words:
        remember(words, kept.food_id, user)
    record("label.entered", thing=kept.name, by=user)
    return kept


@transaction.atomic
def correct_label(kept, label: Label, serving, user, words="", found_in="", g_per_100_ml=None):
    """Put right what was mistyped, everywhere the food is used; how it read before stays with it. The OwnLabel."""
    kept = OwnLabel.objects.select_for_update().get(pk=kept.pk)
    now, was = _typed(label, serving, found_in, g_per_100_ml), kept.as_typed
    if now != was:
        kept.earlier = [*kept.earlier, {"was": was, "by": user.name, "on": localdate().isoformat()}]
        kept.corrected_at = timezone.now()
        for name, value in now.items():
            setattr(kept, name, value)
        kept.save()
        changed()
        record("label.corrected", thing=kept.name, by=user)
    if words:
        remember(words, kept.food_id, user)
    return kept


@transaction.atomic
def verify(food_id, found, found_in, user):
    """Keep what the book says of a food, and where."""
    said = {"found": found, "found_in": found_in, "set_by": user, "set_on": localdate()}
    Verified.objects.update_or_create(food_id=food_id, defaults=said)
    record("food.verified", thing=foods().by_id(food_id).description, by=user)


@transaction.atomic
def retire(label, user):
    """The maker changed it: what was made with it keeps it, and it is offered no more."""
    label.retired_on = localdate()
    label.save(update_fields=["retired_on"])
    changed()
    record("label.retired", thing=label.name, by=user)

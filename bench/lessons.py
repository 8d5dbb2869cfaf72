"""What tries have taught: decisions with their reasons, found again when the same swap is offered."""

from django.db import transaction

from nutrition.food.names import cook_name
from nutrition.notes import Problem
from nutrition.swaps.jobs import JOBS, jobs_of
from nutrition.swaps.weights import weight
from records.log import record

from .actions import standing_edit
from .models import Decision


def swaps_of(bench, dish):
    """What a dish has in place of what was written: [{"from", "to", "jobs"}]; "to" is empty for what was left out."""
    now, kind = {line.key: line.food_id for line in dish.lines}, bench.written.kind
    return [
        {
            "from": line.food_id,
            "to": now.get(line.key) or "",
            "jobs": list(bench.jobs.get(line.key) or jobs_of(line, kind)),
        }
        for line in bench.written.lines
        if line.food_id and now.get(line.key) != line.food_id
    ]


@transaction.atomic
def decide(attempt, choice, reason, user):
    """Keep a try, try again, or give it up. Raises Problem when no reason is given for the last two."""
    if choice not in dict(Decision.CHOICES):
        raise Problem("bench.nothing_decided")
    reason = " ".join(reason.split())[:400]
    if not reason and choice != Decision.KEEP:
        raise Problem("bench.no_reason")
    swaps = swaps_of(attempt.bench, standing_edit(attempt).dish)
    decision = Decision(attempt=attempt, choice=choice, reason=reason, swaps=swaps, decided_by=user)
    decision.save()
    record("bench.decided", attempt.bench.person_id, decision.get_choice_display(), by=user)
    attempt.is_finished = choice == Decision.KEEP
    attempt.save(update_fields=["is_finished", "touched_at"])
    return decision


def _standing():
    """The decision that counts of every try: its latest."""
    return Decision.objects.order_by("attempt_id", "-pk").distinct("attempt_id")


#: How a decision moves a swap: kept nearer, given up farther; and how far at most, whatever was decided how often.
SHIFTS = {
    Decision.KEEP: weight("kept"),
    Decision.AGAIN: weight("tried again"),
    Decision.GIVE_UP: weight("given up"),
}
MOST_NEARER, MOST_FARTHER = weight("most nearer"), weight("most farther")


def learned():
    """(food that went, food that came) -> how tastings of this practice shift the closeness of that swap. One query."""
    found = {}
    for choice, swaps in _standing().values_list("choice", "swaps"):
        for swap in swaps:
            pair = (swap["from"], swap["to"])
            found[pair] = found.get(pair, 0.0) + SHIFTS[choice]
    return {pair: min(max(shift, MOST_FARTHER), MOST_NEARER) for pair, shift in found.items() if shift}


def lessons_for(offers, food_id):
    """Offer id -> the decision that gave up the same swap for the same job before. One query; two where there is any."""
    given_up = Decision.objects.filter(choice=Decision.GIVE_UP, swaps__contains=[{"from": food_id}]).order_by()
    if not offers or not food_id or not given_up.exists():
        return {}
    given_up = (
        given_up.filter(pk__in=_standing().values("pk"))
        .order_by(*Decision._meta.ordering)
        .select_related("attempt__bench__recipe")
    )
    taught = {}
    for each in given_up:
        for swap in each.swaps:
            if swap["from"] == food_id:
                taught.setdefault(swap["to"], []).append((set(swap["jobs"]), each))
    found = {}
    for offer in offers:
        if offer.kind not in ("swap", "drop"):
            continue
        to = offer.to[0][0] if offer.to else ""
        same = [each for jobs, each in taught.get(to, ()) if not offer.job or offer.job in jobs]
        if same:
            found[offer.id] = same[0]
    return found


def swap_words(swap):
    """ "Flour → cornstarch"."""
    name = cook_name(swap["from"])
    return f"{name[:1].upper()}{name[1:]} → {cook_name(swap['to']) if swap['to'] else 'left out'}"


def find(words="", job="", choice=""):
    """Decisions by dish or reason, by the job a swap was about, by what was decided; the latest first."""
    found = Decision.objects.filter(pk__in=_standing().values("pk")).select_related(
        "attempt__bench__recipe", "attempt__bench__person", "decided_by"
    )
    if choice in dict(Decision.CHOICES):
        found = found.filter(choice=choice)
    if job in JOBS:
        found = found.filter(swaps__contains=[{"jobs": [job]}])
    for word in words.split()[:6]:
        found = found.filter(reason__icontains=word) | found.filter(attempt__bench__recipe__title__icontains=word)
    return found

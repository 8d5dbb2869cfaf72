"""What was cooked, tasted, decided and handed over in the demo; told in the words of the people in it."""

from datetime import timedelta

from django.utils import timezone

from bench import lessons
from bench.models import Bench, Edit
from handouts import actions as handout_actions
from handouts.card import build
from handouts.checklist import label_rows, readiness_of
from handouts.forms import MadeSure
from kitchen import actions
from kitchen.forms import FinishForm
from kitchen.models import Cook
from kitchen.stove import look_at

#: Dish, name of the try, days ago, what was typed at dishing up, tastings, decision. Taps by words of the line.
COOKED = [
    {
        "dish": "orange-loaf", "attempt": "By hand", "days": 20,
        "taps": [("more", "orange juice", 20)],
        "dished": {"cooked_g": "690", "serves_cooked": "10", "minutes_taken": "85", "minutes_hands_on": "30", "pans": "2",
                   "notes": "Batter like sand; twenty grams more juice to bring it together."},
        "tasted": [("Ilse Okonjo", "4", "", "the middle", "It is a hole with cake around it.")],
        "decision": ("give up", "Rice flour alone sinks: nothing does gluten's work. It needs xanthan or psyllium beside it."),
    },
    {
        "dish": "corn-cakes", "attempt": "By hand", "days": 12,
        "taps": [],
        "dished": {"cooked_g": "610", "serves_cooked": "4", "minutes_taken": "35", "minutes_hands_on": "35", "pans": "3", "notes": ""},
        "tasted": [("Ilse Okonjo", "5", "6", "", "Fell apart on the fork."), ("Her brother", "6", "", "", "Good with a spoon.")],
        "decision": ("give up", "Starch for flour crumbles in the pan."),
    },
    {
        "dish": "paprika-chicken", "attempt": "Try 1", "days": 13,
        "taps": [("less", "potatoes", 100)],
        "dished": {"cooked_g": "2310", "serves_cooked": "6", "minutes_taken": "75", "minutes_hands_on": "35", "pans": "1",
                   "notes": "Fewer potatoes because there were no more."},
        "tasted": [("Benedek Solway", "8", "", "", "This is my mother's pot."), ("His daughter", "7.5", "7", "", "")],
        "decision": ("again", "Good, and still over on potassium and protein: less chicken, and something else for the potato."),
    },
    {
        "dish": "paprika-chicken", "attempt": "Try 2", "days": 6,
        "taps": [("weighed", "red pepper", 131), ("more", "chicken stock", 60)],
        "dished": {"cooked_g": "2060", "serves_cooked": "6", "minutes_taken": "80", "minutes_hands_on": "35", "pans": "1",
                   "notes": "The barley drank more than the stock it was given."},
        "tasted": [("Benedek Solway", "7.5", "", "the potatoes", "Tastes like the dish."),
                   ("His daughter", "8", "7", "", "One pot, and I did not miss the salt.")],
        "decision": ("keep", "A weekday pot that nobody calls a diet."),
        "release": {"portion": "a soup plate, two ladles", "keep_days": "3", "freeze_months": "2"},
    },
    {
        "dish": "leek-bake", "attempt": "By hand", "days": 2,
        "taps": [("less", "mature cheddar", 10)],
        "dished": {"cooked_g": "1580", "serves_cooked": "6", "minutes_taken": "95", "minutes_hands_on": "40", "pans": "3", "notes": ""},
        "tasted": [],
    },
]  # fmt: skip


def tell(benches, user):
    """Cook, taste, decide and release. `benches`: recipe file -> bench."""
    for story in COOKED:
        bench = benches[story["dish"]]
        attempt = bench.tries.get(name=story["attempt"])
        cook = _cooked(attempt, story, user)
        for taster, taste, ease, missed, notes in story["tasted"]:
            marks = {name: float(mark) for name, mark in (("taste", taste), ("ease", ease)) if mark}
            actions.taste(cook, taster, missed=missed, notes=notes, **marks)
        if "decision" in story:
            lessons.decide(attempt, *story["decision"], user)
        _date(bench, attempt, cook)
        if "release" in story:
            release(cook.result, story["release"], user)
    pot = actions.begin(benches["barley-pilaf"].tries.first(), user)
    Cook.objects.filter(pk=pot.pk).update(at_step=2)


def _date(bench, attempt, cook):
    """Put everything that was just done on the day it is told of."""
    before, after = cook.started_at - timedelta(hours=5), cook.finished_at + timedelta(minutes=40)
    earliest = min(before - timedelta(minutes=20), bench.created_at)
    Bench.objects.filter(pk=bench.pk).update(created_at=earliest)
    bench.created_at = earliest
    Edit.objects.filter(attempt=attempt).update(made_at=before)
    cook.taps.update(made_at=cook.started_at + timedelta(minutes=20))
    cook.tastings.update(made_at=after)
    attempt.decisions.update(decided_at=after + timedelta(minutes=10))


def _cooked(attempt, story, user):
    cook = actions.begin(attempt, user)
    cook.started_at = timezone.now() - timedelta(days=story["days"], hours=2)
    cook.save(update_fields=["started_at"])
    keys = {line.text: line.key for line in (*cook.plan.lines, *attempt.bench.written.lines)}
    for kind, words, grams in story["taps"]:
        key = next(key for text, key in keys.items() if words in text)
        actions.tap(cook, user, kind, key=key, grams=grams, step=1)
    for counted in look_at(cook, 0).counted:
        for step, grams in counted.shares.items():
            actions.tap(cook, user, "spent", key=counted.key, grams=grams, step=step)
    form = FinishForm(story["dished"])
    form.is_valid()
    known = {
        name: form.cleaned_data[name] for name in ("cooked_g", "minutes_taken", "minutes_hands_on", "pans", "notes")
    }
    actions.finish(cook, user, form.cleaned_data["serves_cooked"], **known)
    cook.finished_at = cook.started_at + timedelta(minutes=int(story["dished"]["minutes_taken"]))
    cook.save(update_fields=["finished_at"])
    return cook


def release(attempt, said, user):
    """Everything made sure of, and out it goes."""
    card, ready = build(attempt), readiness_of(attempt)
    why = "Bread with unsalted butter and a glass of apple juice bring the energy."
    made_sure = MadeSure(
        portion=said["portion"],
        keep_days=int(said["keep_days"]),
        freeze_months=int(said["freeze_months"]),
        asked=frozenset(("keep_days", "freeze_months")),
        has_label_margin=False,
        accepted={gauge.nutrient: why for gauge in card.sight.gauges if gauge.verdict.state != "open"},
        labels={
            row.key: ("Millbrook unsalted stock", tuple(tag for tag in row.tags if tag == "celery"))
            for row in label_rows(card, ready)
        },
    )
    handout_actions.make_sure(attempt, made_sure, user)
    return handout_actions.release(attempt, user)

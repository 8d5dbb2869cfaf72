"""What may be done to a try: each verb one transaction, each edit a step that undo can take back."""

from dataclasses import asdict

from django.db import transaction
from django.db.models import F, Subquery
from django.utils import timezone

from nutrition.dish.cooking import bring, methods
from nutrition.dish.line import Line
from nutrition.reading.edits import EditProblem, reread, with_amount, with_food
from nutrition.swaps.jobs import JOBS
from nutrition.swaps.offers import offers
from pantry.models import aliases

from .models import Bench, Step, Try


class Stale(Exception):
    """The try changed since the form was drawn."""


def as_json(line, key):
    """A line of the core as the database keeps it; `key` ties it to the line as written."""
    return {"key": key, **asdict(line), "others": list(line.others)}


def as_line(row):
    """A kept line as the core takes it."""
    fields = {name: value for name, value in row.items() if name != "key"}
    return Line(**{**fields, "others": tuple(fields["others"])})


@transaction.atomic
def take_to_bench(recipe, person, meal, user):
    """The bench of a dish for a person, with a first try; the one that is there already, if there is one."""
    bench = Bench.objects.filter(recipe=recipe, person=person).first()
    if bench:
        return bench, bench.tries.last()
    lines = [as_json(line, f"w{i}") for i, line in enumerate(recipe.core_lines())]
    bench = Bench(recipe=recipe, person=person, meal=meal, serves=recipe.serves, lines=lines)
    bench.save()
    return bench, start_try(bench, None, user)


@transaction.atomic
def renew(bench, user):
    """The dish as the recipe stands now, with a try to begin from; the tries there are stay as they are."""
    old = {}
    for row in bench.lines:
        old.setdefault((row["text"], row["part"]), []).append(row["key"])
    lines, top = [], max((int(row["key"][1:]) for row in bench.lines), default=-1)
    for line in bench.recipe.core_lines():
        keys = old.get((line.text, line.part))
        top += not keys
        lines.append(as_json(line, keys.pop(0) if keys else f"w{top}"))
    bench.lines, bench.serves = lines, bench.recipe.serves
    bench.save()
    return start_try(bench, None, user)


@transaction.atomic
def start_try(bench, parent, user, name=""):
    """A new try: from the dish as written, or a branch of another try."""
    base = standing_step(parent) if parent else None
    attempt = Try(bench=bench, parent=parent, name=name or f"Try {bench.tries.count() + 1}")
    attempt.save()
    Step(
        attempt=attempt,
        number=0,
        summary=f"started from {parent.name}" if parent else "started as written",
        serves=base.serves if base else bench.serves,
        lines=base.lines if base else bench.lines,
        made_by=user,
    ).save()
    bench.save(update_fields=["touched_at"])
    return attempt


def start_version(parent, name, rows, serves, summary, user, cooked_g=None):
    """A try of its own with these lines, beside the one it comes from. `rows` as the database keeps them."""
    attempt = Try(bench=parent.bench, parent=parent, name=name[:80], cooked_g=cooked_g)
    attempt.cooked_step = 0 if cooked_g else None
    attempt.save()
    Step(attempt=attempt, number=0, summary=summary, serves=serves, lines=rows, made_by=user).save()
    parent.bench.save(update_fields=["touched_at"])
    return attempt


def standing_step(attempt):
    """The step the cursor stands on; its `last` is the number of the newest step, for redo.

    A step just written is not read again while the try is at the version that wrote it.
    """
    version, step = attempt.__dict__.get("just_written", (None, None))
    if version == attempt.version:
        return step
    newest = attempt.steps.order_by("-number").values("number")[:1]
    return attempt.steps.annotate(last=Subquery(newest)).get(number=attempt.cursor)


def _step_to_change(attempt, version):
    """The standing step, if the form was drawn from it. `_claim` guards the moment of writing."""
    if attempt.version != version:
        raise Stale
    step = standing_step(attempt)
    attempt.newest = step.last
    return step


def _claim(attempt, version, **changes):
    """Move the version on with the changes, or find that somebody else has: the guard against lost edits."""
    changes["touched_at"] = timezone.now()
    if not Try.objects.filter(pk=attempt.pk, version=version).update(version=F("version") + 1, **changes):
        raise Stale
    attempt.version = version + 1
    for name, value in changes.items():
        setattr(attempt, name, value)


@transaction.atomic
def _write(attempt, version, lines, serves, summary, user):
    number = attempt.cursor + 1
    _claim(attempt, version, cursor=number, is_finished=False)
    if attempt.newest >= number:
        attempt.steps.filter(number__gte=number).delete()
    step = Step(attempt=attempt, number=number, summary=summary[:200], serves=serves, lines=lines, made_by=user)
    step.save()
    step.last = number
    attempt.just_written = attempt.version, step
    return step


def _find(lines, key):
    position = next((i for i, row in enumerate(lines) if row["key"] == key), None)
    if position is None:
        raise EditProblem("That line is not in this try any more. The bench below is how it stands now.")
    return position


def change_line(attempt, version, key, change, user):
    """Apply `change(line) -> line` to one line. Raises EditProblem or Stale; then nothing is saved."""
    step = _step_to_change(attempt, version)
    lines = list(step.lines)
    position = _find(lines, key)
    before = as_line(lines[position])
    after = change(before)
    lines[position] = as_json(after, key)
    return _write(attempt, version, lines, step.serves, _said(before, after), user)


def _named(line):
    """What a cook calls the food of a line."""
    return line.name[:1].upper() + line.name[1:]


def _said(before, after):
    if before.food_id != after.food_id:
        return f"{_named(before)} became {_named(after).lower()}"
    if before.grams != after.grams:
        was = "no weight" if before.grams is None else f"{before.grams:.0f} g"
        now = "no weight" if after.grams is None else f"{after.grams:.0f} g"
        return f"{_named(after)}: {was} to {now}"
    if before.state != after.state:
        words = methods()[after.state].label if after.state else "as it is"
        return f"{_named(after)}: {words}"
    return f"{_named(after)} edited"


def set_amount(attempt, version, key, typed, user):
    return change_line(attempt, version, key, lambda line: with_amount(line, typed), user)


def set_food(attempt, version, key, food_id, user):
    return change_line(attempt, version, key, lambda line: with_food(line, food_id), user)


def set_state(attempt, version, key, state, user):
    def change(line):
        try:
            return bring(line, state)
        except ValueError as problem:
            raise EditProblem(f"{problem}. Choose one of the ways offered for it.") from None

    return change_line(attempt, version, key, change, user)


def retype(attempt, version, key, text, user):
    serves = _step_to_change(attempt, version).serves
    names = aliases()
    return change_line(attempt, version, key, lambda line: reread(text, serves, names), user)


def drop(attempt, version, key, user):
    step = _step_to_change(attempt, version)
    position = _find(step.lines, key)
    if len(step.lines) == 1:
        raise EditProblem("This is the last line: a dish of nothing cannot be judged. Replace it instead.")
    gone = as_line(step.lines[position])
    lines = [row for row in step.lines if row["key"] != key]
    return _write(attempt, version, lines, step.serves, f"{_named(gone)} dropped", user)


def put_back(attempt, version, key, user):
    """The line as it was written, whether it was changed or dropped."""
    step = _step_to_change(attempt, version)
    written = next((row for row in attempt.bench.lines if row["key"] == key), None)
    if written is None:
        raise EditProblem("That line was added in this try; there is nothing written to put back. Drop it instead.")
    others = {row["key"]: row for row in step.lines if row["key"] != key}
    order = [row["key"] for row in attempt.bench.lines]
    kept = [written if k == key else others[k] for k in order if k == key or k in others]
    added = [row for row in step.lines if row["key"] not in order]
    text = as_line(written)
    return _write(attempt, version, kept + added, step.serves, f"{_named(text)} as written again", user)


def add(attempt, version, text, user):
    step = _step_to_change(attempt, version)
    line = reread(text, step.serves, aliases())
    taken = {row["key"] for row in step.lines}
    key = next(f"n{i}" for i in range(1, 1000) if f"n{i}" not in taken)
    lines = [*step.lines, as_json(line, key)]
    _write(attempt, version, lines, step.serves, f"{_named(line)} added", user)
    return key


def set_serves(attempt, version, typed, user):
    """Another number of servings from the same pot: the serving grows or shrinks."""
    try:
        serves = float(typed.replace(",", "."))
    except ValueError:
        raise EditProblem(f"“{typed}” is not a number of servings. Type a number, as in 6.") from None
    if not 0 < serves <= 500:
        raise EditProblem(f"{typed} servings cannot be. Type a number above 0 and up to 500.")
    step = _step_to_change(attempt, version)
    return _write(attempt, version, step.lines, serves, f"serves {step.serves:g} became {serves:g}", user)


@transaction.atomic
def move(attempt, version, by):
    """Undo (-1) or redo (+1). Raises EditProblem when there is nothing to take back or do again."""
    _step_to_change(attempt, version)
    target = attempt.cursor + by
    if not attempt.steps.filter(number=target).exists():
        raise EditProblem("There is nothing left to undo." if by < 0 else "There is nothing to do again.")
    _claim(attempt, version, cursor=target)


def finish(attempt, notes, name, cooked=""):
    """Name a try, keep what was learned, and what the whole dish weighed when cooked. Raises EditProblem."""
    cooked = cooked.strip().removesuffix("g").strip().replace(",", ".")
    try:
        weight = float(cooked) if cooked else None
    except ValueError:
        raise EditProblem(
            f"“{cooked}” is not a weight. Type what the whole dish weighs in grams, as in 1450."
        ) from None
    if weight is not None and not 1 <= weight <= 100_000:
        raise EditProblem(f"{cooked} g cannot be what the whole dish weighs. Type grams from 1 to 100,000.")
    attempt.name = name.strip()[:80] or attempt.name
    attempt.notes = notes.strip()[:4000]
    if weight != attempt.weighed_g:
        attempt.cooked_g, attempt.cooked_step = weight, attempt.cursor
    attempt.save(update_fields=["name", "notes", "cooked_g", "cooked_step", "touched_at"])


def set_finished(attempt, is_finished):
    attempt.is_finished = is_finished
    attempt.save(update_fields=["is_finished", "touched_at"])


def _new_key(taken):
    return next(f"n{i}" for i in range(1, 1000) if f"n{i}" not in taken)


@transaction.atomic
def set_jobs(attempt, version, key, jobs):
    """What a line does in this dish, as a person says; none puts it back to what is read. Raises EditProblem."""
    step = _step_to_change(attempt, version)
    _find(step.lines, key)
    unknown = [job for job in jobs if job not in JOBS]
    if unknown:
        raise EditProblem(f"“{unknown[0]}” is not a job; one of {', '.join(JOBS)}.")
    bench = attempt.bench
    bench.jobs = {k: v for k, v in bench.jobs.items() if k != key} | ({key: jobs} if jobs else {})
    bench.save(update_fields=["jobs", "touched_at"])


def take_offer(attempt, version, key, offer_id, workbench, user):
    """Put an offer in place of a line; a line that becomes several keeps its key on the first."""
    step = _step_to_change(attempt, version)
    lines = list(step.lines)
    position = _find(lines, key)
    found = next((offer for offer in offers(workbench, position).offers if offer.id == offer_id), None)
    if found is None:
        raise EditProblem("That way is not open for this line any more. The ways below are how it stands now.")
    count = len(found.lines) - len(lines) + 1
    taken, new = {row["key"] for row in lines}, []
    for number, line in enumerate(found.lines[position : position + count]):
        own = key if number == 0 else _new_key(taken)
        taken.add(own)
        new.append(as_json(line, own))
    if not new and len(lines) == 1:
        raise EditProblem("This is the last line: a dish of nothing cannot be judged. Replace it instead.")
    return _write(attempt, version, lines[:position] + new + lines[position + 1 :], step.serves, found.text, user)


@transaction.atomic
def take_way(attempt, version, steps, user):
    """Take the steps of a way on a try of its own, one step each, so that undo walks back. `steps`: [(text, rows, serves)]."""
    _step_to_change(attempt, version)
    branch = start_try(attempt.bench, attempt, user, name=f"Way through {attempt.bench.tries.count()}")
    for text, rows, serves in steps:
        step = _step_to_change(branch, branch.version)
        keys = [row["key"] for row in step.lines]
        taken, lines = set(keys) | {row["key"] for row in attempt.bench.lines}, []
        for row in rows:
            key = row.pop("key", None)
            if key is None or key in {line["key"] for line in lines}:
                key = _new_key(taken)
            taken.add(key)
            lines.append({**row, "key": key})
        _write(branch, branch.version, lines, serves, text, user)
    return branch

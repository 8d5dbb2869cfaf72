"""What may be done to a try: each verb one transaction, each edit one that undo can take back. Verbs take values."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import datetime
from typing import TYPE_CHECKING

from django.db import transaction
from django.db.models import QuerySet, Subquery
from django.utils import timezone

from accounts.models import User
from accounts.prepared import prepared
from nutrition.dish.codec import LONGEST_STEP, from_data, to_data
from nutrition.dish.cooking import methods, treated
from nutrition.dish.dish import Dish, keyed
from nutrition.dish.line import Line
from nutrition.dish.naming import name_first
from nutrition.dish.standing import standing_dish
from nutrition.limits.roles import guess_role
from nutrition.notes import Problem
from nutrition.reading.done import on_offer
from nutrition.reading.eaten import questions_of, say
from nutrition.reading.edits import reread, with_amount, with_food
from nutrition.reading.whole import whole_dish
from nutrition.swaps.jobs import JOBS
from nutrition.swaps.offers import Workbench, offers_for
from nutrition.swaps.telling import telling, told
from pantry.models import aliases
from people.models import Person
from recipes.models import Recipe
from records.log import record
from ui.guard import Stale, hold

from .models import Bench, Edit, FoundWay, Try

if TYPE_CHECKING:
    from .ways import Stage


@transaction.atomic
def take_to_bench(recipe: Recipe, person: Person, meal: str, user: User) -> tuple[Bench, Try]:
    """The bench of a dish for a person, with a first try; the one that is there already, if there is one."""
    hold(recipe)
    bench = Bench.objects.filter(recipe=recipe, person=person).first()
    if bench:
        bring_back(bench, user)
        return bench, bench.tries.last()
    dish = recipe.dish
    role = guess_role(dish.kind, dish.title, meal)
    bench = Bench(recipe=recipe, person=person, meal=meal, role=role, written=dish)
    bench.save()
    record("bench.taken", person, by=user)
    return bench, start_try(bench, None, user)


@transaction.atomic
def put_away(bench: Bench, user: User) -> None:
    """Out of the way of the lists; tries, cooks and cards of it stay."""
    _set_put_away(bench, timezone.now(), "bench.put_away", user)


@transaction.atomic
def bring_back(bench: Bench, user: User) -> None:
    """Among the others again, if it was put away."""
    _set_put_away(bench, None, "bench.put_back", user)


def _set_put_away(bench: Bench, when: datetime | None, act: str, user: User) -> None:
    if (bench.put_away_at is None) != (when is None):
        bench.put_away_at = when
        bench.save(update_fields=["put_away_at", "touched_at"])
        record(act, bench.person, by=user)


@transaction.atomic
def start_try(bench: Bench, parent: Try | None, user: User, name: str = "") -> Try:
    """A new try: from the dish as written, or a branch of another try."""
    hold(bench)
    dish = standing_edit(parent).dish if parent else bench.written
    attempt = Try(bench=bench, parent=parent, name=name or f"Try {bench.tries.count() + 1}")
    attempt.save()
    summary = f"started from {parent.name}" if parent else "started as written"
    Edit(attempt=attempt, number=0, summary=summary, dish=dish, made_by=user).save()
    bench.save(update_fields=["touched_at"])
    return attempt


@transaction.atomic
def start_version(parent: Try, name: str, dish: Dish, summary: str, user: User, cooked_g: float | None = None) -> Try:
    """A try of its own with this dish, beside the one it comes from."""
    attempt = Try(bench=parent.bench, parent=parent, name=name[:80], cooked_g=cooked_g)
    attempt.cooked_at = 0 if cooked_g else None
    attempt.save()
    Edit(attempt=attempt, number=0, summary=summary, dish=dish, made_by=user).save()
    parent.bench.save(update_fields=["touched_at"])
    return attempt


@prepared
def _edits_at(try_id: int, number: int) -> QuerySet[Edit]:
    newest = Edit.objects.filter(attempt=try_id).order_by("-number").values("number")[:1]
    return Edit.objects.filter(attempt=try_id, number=number).annotate(last=Subquery(newest))


def standing_edit(attempt: Try) -> Edit:
    """The edit the cursor stands on; its `last` is the number of the newest, for redo.

    An edit just written is not read again while the try is at the version that wrote it.
    """
    version, edit = attempt.__dict__.get("just_written", (None, None))
    if version == attempt.version:
        return edit
    edit = _edits_at(attempt.pk, attempt.cursor)[0]
    edit.attempt = attempt
    return edit


def _to_change(attempt: Try, version: int, typed: str = "") -> Edit:
    """The standing edit, if the form was drawn from it. `claim` guards the moment of writing."""
    attempt.check_fresh(version, typed)
    edit = standing_edit(attempt)
    attempt.newest = edit.last
    return edit


def _whole(attempt: Try, version: int, typed: str = "") -> Dish:
    """The standing dish with what its steps add: that has keys too, and is settled like any line."""
    return whole_dish(_to_change(attempt, version, typed).dish)


def _write(attempt: Try, version: int, dish: Dish, summary: str, user: User, typed: str = "") -> Edit:
    number = attempt.cursor + 1
    dish = told(attempt.bench.written, dish.listed)
    attempt.claim(version, typed, cursor=number, is_finished=False, touched_at=timezone.now())
    if attempt.newest >= number:
        attempt.edits.filter(number__gte=number).delete()
    edit = Edit(attempt=attempt, number=number, summary=summary[:200], dish=dish, made_by=user)
    edit.save()
    edit.last = number
    attempt.just_written = attempt.version, edit
    return edit


def _line(dish: Dish, key: str) -> Line:
    line = dish.line(key)
    if line is None:
        raise Problem("bench.line_gone")
    return line


@transaction.atomic(savepoint=False)
def change_line(
    attempt: Try, version: int, key: str, change: Callable[[Line, Dish], Line], user: User, typed: str = ""
) -> Edit:
    """Apply `change(line, dish) -> line` to one line. Raises Problem; then nothing is saved."""
    dish = _whole(attempt, version, typed)
    before = _line(dish, key)
    after = change(before, dish)
    return _write(attempt, version, dish.changed(key, lambda line: after), _said(before, after), user, typed)


def _grams(line: Line) -> str:
    return "no weight" if line.weight is None else f"{line.weight.likely:.0f} g"


def _said(before: Line, after: Line) -> str:
    if before.food_id != after.food_id:
        return f"{name_first(before)} became {name_first(after).lower()}"
    if before.grams != after.grams:
        return f"{name_first(after)}: {_grams(before)} to {_grams(after)}"
    if before.state != after.state:
        words = methods()[after.state].label if after.state else "as it is"
        return f"{name_first(after)}: {words}"
    return f"{name_first(after)} edited"


@transaction.atomic
def set_amount(attempt: Try, version: int, key: str, typed: str, user: User) -> Edit:
    change = lambda line, dish: with_amount(line, typed, dish.kitchen)  # noqa: E731
    return change_line(attempt, version, key, change, user, typed)


@transaction.atomic
def set_food(attempt: Try, version: int, key: str, food_id: str, user: User) -> Edit:
    return change_line(attempt, version, key, lambda line, dish: with_food(line, food_id, kitchen=dish.kitchen), user)


@transaction.atomic
def set_state(attempt: Try, version: int, key: str, state: str, user: User) -> Edit:
    return change_line(attempt, version, key, lambda line, dish: _treated(dish, line, state), user)


def _treated(dish: Dish, line: Line, state: str) -> Line:
    """A line as the kitchen leaves it, where a step of this dish does so. Raises Problem."""
    position = dish.position(line.key) or 0
    if state in methods() and state not in {key for key, _, _ in on_offer(dish, position)} and treated(line, state):
        raise Problem("bench.no_step_does", words=methods()[state].label, line=name_first(line))
    return treated(line, state)


@transaction.atomic
def retype(attempt: Try, version: int, key: str, text: str, user: User) -> Edit:
    names = aliases()

    def change(line: Line, dish: Dish) -> Line:
        return replace(reread(text, dish.serves, dish.kitchen, names), heading=line.heading)

    return change_line(attempt, version, key, change, user, text)


@transaction.atomic
def wave_off(attempt: Try, version: int, key: str, why: str, user: User) -> Edit:
    """What a step names and nobody adds, with the word of whoever says so. Raises Problem."""
    dish = _whole(attempt, version, why)
    line = _line(dish, key)
    if not line.step:
        raise Problem("bench.line_gone")
    if not why.strip():
        raise Problem("bench.why_waved", words=line.text)
    waved = (*dish.waved, (line.text, " ".join(why.split())[:200]))
    return _write(attempt, version, replace(dish, waved=waved), f"{line.text} is not in it: {why}", user, why)


@transaction.atomic
def write_step(attempt: Try, version: int, place: int, text: str, user: User) -> Edit:
    """A step written anew; empty leaves it out. `place`: of the recipe's steps from 1, then of those that were added."""
    edit = _to_change(attempt, version, text)
    dish, written = edit.dish, attempt.bench.written.steps
    text = " ".join(text.split())
    if len(text) > LONGEST_STEP:
        raise Problem("bench.step_too_long", length=len(text), most=LONGEST_STEP)
    shown = next((step for step in telling(attempt.bench.written, dish) if step.place == place), None)
    if shown is None and not text:
        raise Problem("bench.step_empty")
    if shown and not shown.is_out and text == shown.now:
        return edit
    added = [pair for pair in dish.rewritten if not pair[0]]
    own = [pair for pair in dish.rewritten if pair[0]]
    if place <= len(written):
        was = written[place - 1]
        own = [pair for pair in own if pair[0] != was] + ([(was, text)] if text != was else [])
    else:
        at = min(place - len(written) - 1, len(added))
        added[at : at + 1] = [("", text)] if text else []
    said = f"step {place}: {text}" if text else f"step {place} left out"
    return _write(attempt, version, replace(dish, rewritten=(*own, *added)), said, user, text)


@transaction.atomic
def say_eaten(attempt: Try, version: int, step: int, how: str, is_so: bool, user: User) -> Edit:
    """What of a line is eaten, where a step leaves some of it behind. Raises Problem."""
    dish = _to_change(attempt, version).dish
    now = say(dish, step, how, is_so)
    said = next((str(each.answer) for each in questions_of(now) if (each.step, each.how) == (step, how)), "")
    return _write(attempt, version, now, f"step {step}: {said}", user)


@transaction.atomic
def drop(attempt: Try, version: int, key: str, user: User) -> Edit:
    dish = _to_change(attempt, version).dish
    gone = _line(dish, key)
    if len(dish.lines) == 1:
        raise Problem("bench.last_line")
    left = dish.with_lines(line for line in dish.lines if line.key != key)
    return _write(attempt, version, left, f"{name_first(gone)} dropped", user)


@transaction.atomic
def put_back(attempt: Try, version: int, key: str, user: User) -> Edit:
    """The line as it was written, whether it was changed or dropped."""
    dish, was = _to_change(attempt, version).dish, attempt.bench.written
    written = was.line(key)
    if written is None:
        raise Problem("bench.nothing_written")
    back = [written if line.key == key else dish.line(line.key) for line in was.lines]
    added = [line for line in dish.lines if was.position(line.key) is None]
    summary = f"{name_first(written)} as written again"
    return _write(attempt, version, dish.with_lines([*filter(None, back), *added]), summary, user)


@transaction.atomic
def add(attempt: Try, version: int, text: str, user: User) -> str:
    """Another line, read as in the recipe's kitchen; its key."""
    dish = _to_change(attempt, version, text).dish
    line = reread(text, dish.serves, dish.kitchen, aliases())
    lines = keyed([*dish.lines, line], "n", taken=("n0", *(line.key for line in attempt.bench.written.lines)))
    _write(attempt, version, dish.with_lines(lines), f"{name_first(line)} added", user, text)
    return lines[-1].key


@transaction.atomic
def set_serves(attempt: Try, version: int, serves: float, user: User) -> Edit:
    """Another number of servings from the same pot: the serving grows or shrinks."""
    dish = _to_change(attempt, version, f"{serves:g}").dish
    summary = f"serves {dish.serves:g} became {serves:g}"
    return _write(attempt, version, replace(dish, serves=serves), summary, user, f"{serves:g}")


@transaction.atomic
def move(attempt: Try, version: int, by: int) -> None:
    """Undo (-1) or redo (+1). Raises Problem when there is nothing to take back or do again."""
    _to_change(attempt, version)
    target = attempt.cursor + by
    if not attempt.edits.filter(number=target).exists():
        raise Problem("bench.nothing_to_undo" if by < 0 else "bench.nothing_to_redo")
    attempt.claim(version, cursor=target, touched_at=timezone.now())


@transaction.atomic
def finish(attempt: Try, notes: str, name: str, cooked_g: float | None = None, seen: str = "") -> None:
    """Name a try, keep what was learned, and what the whole dish weighed when cooked.

    `seen`: the stamp of these three as the form showed them; others by now refuse the whole. Raises Stale.
    """
    now = Try.objects.select_for_update().get(pk=attempt.pk)
    if seen and seen != now.kept_stamp:
        raise Stale(notes.strip() or name)
    attempt.name = name.strip()[:80] or attempt.name
    attempt.notes = notes.strip()[:4000]
    if cooked_g != attempt.weighed_g:
        attempt.cooked_g, attempt.cooked_at = cooked_g, attempt.cursor
    attempt.save(update_fields=["name", "notes", "cooked_g", "cooked_at", "touched_at"])


@transaction.atomic
def set_finished(attempt: Try, is_finished: bool) -> None:
    attempt.is_finished = is_finished
    attempt.save(update_fields=["is_finished", "touched_at"])


@transaction.atomic
def set_meal(bench: Bench, meal: str, role: str) -> None:
    """For which meal the dish is judged, and as what part of it."""
    bench.meal, bench.role = meal, role
    bench.save(update_fields=["meal", "role", "touched_at"])


@transaction.atomic
def set_jobs(attempt: Try, version: int, key: str, jobs: list[str]) -> None:
    """What a line does in this dish, as a person says; none puts it back to what is read. Raises Problem."""
    _line(_to_change(attempt, version).dish, key)
    unknown = [job for job in jobs if job not in JOBS]
    if unknown:
        raise Problem("bench.not_a_job", job=unknown[0], jobs=", ".join(JOBS))
    bench = attempt.bench
    bench.jobs = {k: v for k, v in bench.jobs.items() if k != key} | ({key: jobs} if jobs else {})
    bench.save(update_fields=["jobs", "touched_at"])


@transaction.atomic
def take_offer(attempt: Try, version: int, key: str, offer_id: str, workbench: Workbench, user: User) -> Edit:
    """Put an offer in place of a line; a line that becomes several keeps its key on the first."""
    dish = _to_change(attempt, version).dish
    position = dish.position(_line(dish, key).key)
    found = next((offer for offer in offers_for(workbench, position).offers if offer.id == offer_id), None)
    if found is None:
        raise Problem("bench.offer_gone")
    if not found.lines:
        raise Problem("bench.last_line")
    return _write(attempt, version, _with_keys(dish, found.lines, attempt), str(found.text), user)


def _with_keys(dish: Dish, lines: Sequence[Line], attempt: Try) -> Dish:
    """The dish with these lines; those that are new get keys nobody had."""
    taken = ("n0", *(line.key for line in (*dish.lines, *attempt.bench.written.lines)))
    return dish.with_lines(keyed(lines, "n", taken))


@transaction.atomic
def keep_ways(attempt: Try, ways: "Sequence[Sequence[Stage]]", held_to: str = "") -> list[FoundWay]:
    """Keep the ways found for a try as it stands, in place of those found before. `ways`: stages as ways.stages_of says.

    `held_to`: the stamp of what the person was held to then (ways.held_to).
    """
    hold(attempt)
    attempt.found_ways.all().delete()
    return [
        FoundWay.objects.create(
            attempt=attempt,
            practice_id=attempt.practice_id,
            version=attempt.version,
            held_to=held_to,
            stages=[
                {
                    "text": str(stage.text),
                    "why": str(stage.why) if stage.why else "",
                    "do": stage.do,
                    "minutes": stage.minutes,
                    "dish": to_data(stage.dish),
                }
                for stage in stages
            ],
        )
        for stages in ways
    ]


@transaction.atomic
def take_way(found: FoundWay | None, count: int | None, user: User, held_to: str = "") -> Try:
    """Take a way found before, or its first `count` changes (None: all), on a try of its own, one edit each, so that undo
    walks back. Raises Stale when the try, or what the person is held to, is not what it was found for.
    """
    if found is None:
        raise Problem("bench.way_gone")
    attempt = found.attempt
    attempt.check_fresh(found.version)
    if found.held_to != held_to:
        raise Stale
    branch = start_try(attempt.bench, attempt, user, name=f"Way through {attempt.bench.tries.count()}")
    for stage in found.stages[: count or None]:
        dish, then = _to_change(branch, branch.version).dish, standing_dish(from_data(stage["dish"]))
        taken = replace(_with_keys(dish, then.lines, branch), serves=then.serves)
        _write(branch, branch.version, taken, stage["text"], user)
    return branch

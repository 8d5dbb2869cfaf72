"""Before a dish goes out: what must be so, what was made sure of by hand, what still stands in the way."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from django.db.models import QuerySet

from accounts.prepared import prepared
from bench.actions import standing_edit
from bench.models import Try
from nutrition.dish.dish import Dish
from nutrition.dish.naming import called
from nutrition.food.tags import TAGS
from nutrition.reading.method import read_method
from nutrition.sheet.verdicts import OPEN, SHUT
from ui.templatetags.ui import texts_of

from .models import Readiness

if TYPE_CHECKING:
    from .card import Card

#: What is accepted of lines that stand in no step.
UNNAMED = "unnamed"
DONE, TO_DO, BLOCKED = "done", "to do", "in the way"
#: What a person fills in to settle an item: (name, label, value, help) each.
Fields = tuple[tuple[str, str, str, str], ...]
#: What a check says: (state, words), and the fields that settle it where there are some.
Answer = tuple[str, str] | tuple[str, str, Fields]


@dataclass(frozen=True, slots=True)
class Item:
    """One line of the checklist. `fields`: what a person fills in to settle it."""

    key: str
    label: str
    state: str
    words: str
    fields: Fields = ()


@dataclass(frozen=True, slots=True)
class LabelRow:
    """A line whose label decides about allergens: what to look for, and what the label was found to say."""

    key: str
    name: str
    tags: tuple[str, ...]
    look_for: tuple[str, ...]
    is_avoided: bool
    product: str
    holds: tuple[str, ...]
    is_read: bool

    @property
    def choices(self) -> list[tuple[str, str, bool]]:
        return [(tag, TAGS[tag], tag in self.holds) for tag in self.tags]


@dataclass(frozen=True)
class Checklist:
    """Everything the release page shows."""

    items: list[Item]
    labels: list[LabelRow] = field(default_factory=list)

    @property
    def is_ready(self) -> bool:
        return all(item.state == DONE for item in self.items)

    @property
    def waiting(self) -> list[Item]:
        return [item for item in self.items if item.state != DONE]


@prepared
def _readiness_at(try_id: int) -> QuerySet[Readiness]:
    return Readiness.objects.filter(attempt=try_id)


def readiness_of(attempt: Try) -> Readiness:
    """What was made sure of; an empty one when nothing was yet."""
    return _readiness_at.first(attempt.pk) or Readiness(attempt=attempt)


def label_rows(card: "Card", ready: Readiness) -> list[LabelRow]:
    """The lines whose labels decide, with what was noted of them. `card`: a card.Card."""
    sheet, rows = card.sheet, {thread.position: thread for thread in card.sight.threads if thread.now}
    avoided = {item.tag for item in sheet.avoided}
    by_line: dict[int, tuple[dict[str, None], dict[str, None]]] = {}
    findings = [*sheet.allergens, *(item.finding for item in sheet.avoided if item.finding)]
    for finding in findings:
        for position in (at for at in finding.by_label if not card.sight.dish.lines[at].step):
            tags, look_for = by_line.setdefault(position, ({}, {}))
            tags[finding.tag] = None
            look_for.update(dict.fromkeys(finding.look_for_in(position)))
    found = []
    for position, (tags, look_for) in sorted(by_line.items()):
        row = rows[position]
        noted = ready.labels.get(row.key)
        found.append(
            LabelRow(
                key=row.key,
                name=row.line.text if row.line.text_stands else card.names[position],
                tags=tuple(tags),
                look_for=tuple(look_for),
                is_avoided=bool(avoided & set(tags)),
                product=(noted or {}).get("product", ""),
                holds=tuple((noted or {}).get("holds", ())),
                is_read=noted is not None,
            )
        )
    return found


def _only_settled(cooked: Dish, now: Dish) -> bool:
    """Whether a dish differs from what was cooked only in doubts that were settled: which of the foods it may have been."""
    if len(cooked.lines) != len(now.lines):
        return False
    return all(
        (before.key, before.grams, before.state) == (after.key, after.grams, after.state)
        and after.food_id in (before.food_id, *before.others)
        for before, after in zip(cooked.lines, now.lines, strict=True)
    )


def _as_cooked(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer:
    attempt = card.attempt
    cook = getattr(attempt, "cooked_in", None)
    if cook is None and ready.is_as_planned:
        return DONE, "Goes out as planned: the card says that nobody has cooked it yet. The cook is asked for on Today."
    if cook is None:
        return BLOCKED, (
            "This is a plan. Cook it: what goes out is what really went in. Or tick below that it goes out as planned."
        )
    edit = standing_edit(attempt)
    if edit.number and not _only_settled(attempt.edits.get(number=0).dish, edit.dish):
        return BLOCKED, "It was changed on the bench since it was cooked. Cook it again, or undo the change."
    weight = f"{cook.cooked_g:,.0f} g in all" if cook.cooked_g else "not weighed as a whole: the portion is an estimate"
    return DONE, f"Cooked {cook.started_at:%B %-d} by {cook.started_by}; {weight}."


def _lines(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer:
    open_lines = [row.line.text for row, _ in card.sight.doubts if not row.line.step]
    open_lines += [line.text for line in card.sight.dish.listed.lines if not line.is_weighed]
    if open_lines:
        return BLOCKED, f"Still open: {'; '.join(dict.fromkeys(open_lines))}. Say on the bench which food it was."
    if card.sight.quiet:
        quiet = "; ".join(row.line.text for row in card.sight.to_check if row.key in card.sight.quiet)
        return (
            DONE,
            f"Every line that decides something has its food and its weight. Open, and changing nothing here: {quiet}.",
        )
    return DONE, "Every line has its food and its weight."


def _gates(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer:
    gauges, avoided = card.sight.gauges, card.sheet.avoided
    # What a plan keeps out and was found is never waved through; what a label decides is settled at the labels.
    found = [f"{item.label}: {item.words}" for item in avoided if item.state == SHUT]
    if found:
        return BLOCKED, f"{'; '.join(found)}. A dish with it in does not go out."
    count = len(gauges) + len(avoided)
    if not count:
        return BLOCKED, "No limit is set for this person, so nothing was held against it."
    shut = [gauge for gauge in gauges if gauge.verdict.state != OPEN]
    if not shut:
        return DONE, f"All {count} are open or settled by a label."
    fields = tuple(
        (
            f"accept-{g.nutrient}",
            card.words_of(g),
            ready.accepted.get(g.nutrient, ""),
            "why it goes out all the same",
        )
        for g in shut
    )
    words = f"{len(shut)} of {count} {'is' if len(shut) == 1 else 'are'} not open"
    if all(ready.accepted.get(gauge.nutrient) for gauge in shut):
        return DONE, f"{words}: accepted with a reason.", fields
    return TO_DO, f"{words}. Say why it goes out all the same, or cook it otherwise.", fields


def _noted(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer | None:
    """What the person noted as an allergy in words of their own, where a line names it: nothing waves that through."""
    lines = card.sight.lines_now
    named = [f"{each.words} in {texts_of(each.lines, lines)}" for each in card.sight.noted_allergies if each.lines]
    if not named:
        return None
    return BLOCKED, (
        f"Noted as an allergy and named here: {', '.join(named)}. Swap it on the bench; a note that is no allergy"
        " stands better under “About”."
    )


def _steps(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer:
    """What a step names and no line lists: a dish with something unknown in it does not go out."""
    dish = card.sight.dish
    kept_out = {
        at for item in card.sheet.avoided if item.finding for at in (*item.finding.lines, *item.finding.also_check)
    }
    open_ = [line for at, line in enumerate(dish.lines) if line.step and (not line.is_weighed or at in kept_out)]
    if open_:
        named = "; ".join(f"step {line.step} adds {line.text}" for line in open_)
        return (
            BLOCKED,
            f"{named[:1].upper()}{named[1:]}, and no line lists it. Say on the bench how much, or that it is not in it.",
        )
    return DONE, "Every food the steps name stands in a line."


def _used(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer | None:
    """A line that no step takes in hand: left on the counter, or a step that was forgotten."""
    dish = card.sight.dish.listed
    unnamed = [called(dish.lines[at]) for at in read_method(dish).unnamed if dish.steps]
    if not unnamed:
        return None
    why = ready.accepted.get(UNNAMED, "")
    fields = ((f"accept-{UNNAMED}", "Why they stand in no step", why, "eaten beside it"),)
    words = f"No step says what is done with {'; '.join(unnamed)}."
    return (DONE, f"{words} Accepted: {why}.", fields) if why else (TO_DO, words, fields)


def _claims(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer:
    claims = card.sheet.claims
    false = [claim for claim in claims if claim.holds is not True]
    if false:
        told = (f"“{c.words}” {'cannot be told' if c.holds is None else 'does not hold'}: {c.why}" for c in false)
        return BLOCKED, f"{'; '.join(told)}. Change the title or the notes."
    if not claims:
        return DONE, "Title and notes promise nothing."
    return DONE, f"{', '.join(f'“{claim.words}”' for claim in claims)} hold{'s' if len(claims) == 1 else ''}."


def _labels(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer:
    unread = [row.name for row in rows if not row.is_read]
    if unread:
        return TO_DO, f"Read the label of {'; '.join(unread)}, and note what it says below."
    if not rows:
        return DONE, "No line leaves an allergen to its label; whoever shops still reads every one."
    return DONE, f"{len(rows)} label{'s' * (len(rows) > 1)} read."


def _label_findings(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer | None:
    """Labels that name what a plan keeps out: nothing waves that through."""
    avoided = {item.tag for item in card.sheet.avoided}
    bad = [f"{row.name} names {TAGS[tag].lower()}" for row in rows for tag in row.holds if tag in avoided]
    return (BLOCKED, f"{'; '.join(bad)}. Buy another product, or swap it on the bench.") if bad else None


def _portion(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer:
    fields = (
        (
            "portion",
            "One portion, as it is served",
            ready.portion,
            "a soup plate, two ladles; a slice thick as a thumb",
        ),
    )
    if not ready.portion:
        return TO_DO, "Grams alone are hard to see on a plate.", fields
    return DONE, f"{ready.portion}.", fields


def _keeping(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer:
    safety = card.sheet.safety
    most = f"at most {safety.keep_days} days cold, {safety.freeze_months} months frozen ({safety.rules.source})"
    fields = (
        ("keep_days", "Keeps, days in the cold", _typed(ready.keep_days), ""),
        ("freeze_months", "Freezes, months (0: do not freeze)", _typed(ready.freeze_months), ""),
    )
    if ready.keep_days is None or ready.freeze_months is None:
        return TO_DO, f"For this dish: {most}.", fields
    if ready.keep_days > safety.keep_days or ready.freeze_months > safety.freeze_months:
        return TO_DO, f"Longer than the authorities say: {most}.", fields
    frozen = f"{ready.freeze_months} months frozen" if ready.freeze_months else "not for the freezer"
    return DONE, f"{ready.keep_days} days cold, {frozen}.", fields


def _typed(number: int | None) -> str:
    return "" if number is None else f"{number}"


def _targets(card: "Card", ready: Readiness, rows: list[LabelRow]) -> Answer:
    page = f"on the page of {card.person}"
    if card.drafts:
        count = f"{card.drafts} of {len(card.targets)}"
        return BLOCKED, f"{count} are drafts: a licensed practitioner confirms them {page}."
    if card.unsettled:
        return BLOCKED, f"Plans pull apart and nobody has said which leads: settle it {page}."
    who = "; ".join(card.confirmed_by)
    return DONE, f"By {who}." if who else "Nothing to confirm: only what is kept out counts."


#: In the order they are worked through. Each looks at the card, at what was made sure of and at the label rows, and
#: says (state, words) or (state, words, fields); None when it has nothing to say.
CHECKS: tuple[tuple[str, str, Callable[["Card", Readiness, list[LabelRow]], Answer | None]], ...] = (
    ("cooked", "Cooked and weighed, or as planned", _as_cooked),
    ("lines", "Every line is settled", _lines),
    ("steps", "The steps name nothing else", _steps),
    ("used", "Every line stands in a step", _used),
    ("gates", "Gates open", _gates),
    ("noted", "Nothing noted as an allergy is named", _noted),
    ("claims", "What it promises is true", _claims),
    ("labels", "Allergens confirmed by label", _labels),
    ("label-holds", "Nothing kept out is on a label", _label_findings),
    ("portion", "The portion is described", _portion),
    ("keeping", "Keeping and freezing are set", _keeping),
    ("targets", "Targets confirmed", _targets),
)


def checklist(card: "Card", ready: Readiness) -> Checklist:
    """The list for a card as card.build gives it."""
    rows = label_rows(card, ready)
    said = ((key, label, check(card, ready, rows)) for key, label, check in CHECKS)
    return Checklist([Item(key, label, *answer) for key, label, answer in said if answer], rows)

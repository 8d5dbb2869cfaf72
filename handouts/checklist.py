"""Before a dish goes out: what must be so, what was made sure of by hand, what still stands in the way."""

from dataclasses import dataclass, field

from bench.actions import standing_step
from nutrition.avoid import CHECK, CONTAINS, TAGS
from nutrition.gates import OPEN, SHUT

from .models import Readiness

DONE, TO_DO, BLOCKED = "done", "to do", "in the way"


@dataclass(frozen=True, slots=True)
class Item:
    """One line of the checklist. `fields`: what a person fills in to settle it, as (name, label, value, help)."""

    key: str
    label: str
    state: str
    words: str
    fields: tuple[tuple[str, str, str, str], ...] = ()


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
    def choices(self):
        return [(tag, TAGS[tag], tag in self.holds) for tag in self.tags]


@dataclass(frozen=True)
class Checklist:
    """Everything the release page shows."""

    items: list[Item]
    labels: list[LabelRow] = field(default_factory=list)

    @property
    def is_ready(self):
        return all(item.state == DONE for item in self.items)

    @property
    def waiting(self):
        return [item for item in self.items if item.state != DONE]


def readiness_of(attempt):
    """What was made sure of; an empty one when nothing was yet."""
    return Readiness.objects.filter(attempt=attempt).first() or Readiness(attempt=attempt)


def label_rows(card, ready):
    """The lines whose labels decide, with what was noted of them. `card`: what card.build says."""
    sheet, rows = card["sheet"], {row.position: row for row in card["sight"].rows if row.now}
    avoided = {item.tag for item in sheet.avoided}
    by_line = {}
    findings = [*sheet.allergens, *(item.finding for item in sheet.avoided if item.finding)]
    for finding in findings:
        positions = finding.lines if finding.verdict == CHECK else finding.also_check
        for position in positions:
            tags, look_for = by_line.setdefault(position, ({}, {}))
            tags[finding.tag] = None
            look_for.update(dict.fromkeys(finding.look_for))
    found = []
    for position, (tags, look_for) in sorted(by_line.items()):
        row = rows[position]
        noted = ready.labels.get(row.key)
        found.append(
            LabelRow(
                key=row.key,
                name=row.now.text if row.now.text_stands else card["names"][position],
                tags=tuple(tags),
                look_for=tuple(look_for),
                is_avoided=bool(avoided & set(tags)),
                product=(noted or {}).get("product", ""),
                holds=tuple((noted or {}).get("holds", ())),
                is_read=noted is not None,
            )
        )
    return found


def _only_settled(cooked, step):
    """Whether a step differs from what was cooked only in doubts that were settled: which of the foods it may have been."""
    if len(cooked) != len(step.lines):
        return False
    return all(
        (was["key"], was["grams"], was["state"]) == (now["key"], now["grams"], now["state"])
        and now["food_id"] in (was["food_id"], *was["others"])
        for was, now in zip(cooked, step.lines, strict=True)
    )


def _as_cooked(attempt):
    cook = getattr(attempt, "cooked_in", None)
    if cook is None:
        return Item(
            "cooked", "Cooked and weighed", BLOCKED, "This is a plan. Cook it: what goes out is what really went in."
        )
    step = standing_step(attempt)
    if step.number and not _only_settled(attempt.steps.get(number=0).lines, step):
        return Item(
            "cooked",
            "Cooked and weighed",
            BLOCKED,
            "It was changed on the bench since it was cooked. Cook it again, or undo the change.",
        )
    weighed = (
        f"{cook.cooked_g:,.0f} g in all" if cook.cooked_g else "not weighed as a whole: the portion is an estimate"
    )
    return Item(
        "cooked", "Cooked and weighed", DONE, f"Cooked {cook.started_at:%B %-d} by {cook.started_by}; {weighed}."
    )


def _gates(card, ready):
    gauges = [(g.nutrient, g.verdict.state, card["words_of"](g)) for g in card["sight"].gauges]
    tags = [(i.tag, i.state, f"{i.label}: {i.words}") for i in card["sheet"].avoided]
    shut = [(key, words) for key, state, words in gauges if state != OPEN]
    # What a plan keeps out and was found is never waved through; what a label decides is settled at the labels.
    found = [words for _, state, words in tags if state == SHUT]
    if found:
        return Item("gates", "Gates open as cooked", BLOCKED, f"{'; '.join(found)}. A dish with it in does not go out.")
    if not gauges and not tags:
        return Item(
            "gates", "Gates open as cooked", BLOCKED, "No limit is set for this person, so nothing was held against it."
        )
    if not shut:
        return Item(
            "gates", "Gates open as cooked", DONE, f"All {len(gauges) + len(tags)} are open or settled by a label."
        )
    missing = [words for key, words in shut if not ready.accepted.get(key)]
    fields = tuple(
        (f"accept-{key}", words, ready.accepted.get(key, ""), "why it goes out all the same") for key, words in shut
    )
    count = f"{len(shut)} of {len(gauges) + len(tags)} {'is' if len(shut) == 1 else 'are'} not open"
    words = (
        f"{count}. Say why it goes out all the same, or cook it otherwise."
        if missing
        else f"{count}: accepted with a reason."
    )
    return Item("gates", "Gates open as cooked", TO_DO if missing else DONE, words, fields)


def _claims(card):
    false = [claim for claim in card["sheet"].claims if claim.holds is not True]
    if not false:
        made = card["sheet"].claims
        words = (
            f"{', '.join(f'“{claim.words}”' for claim in made)} hold{'s' if len(made) == 1 else ''}."
            if made
            else "Title and notes promise nothing."
        )
        return Item("claims", "What it promises is true", DONE, words)
    words = "; ".join(
        f"“{claim.words}” {'cannot be told' if claim.holds is None else 'does not hold'}: {claim.why}"
        for claim in false
    )
    return Item("claims", "What it promises is true", BLOCKED, f"{words}. Change the title or the notes.")


def _labels(rows):
    unread = [row for row in rows if not row.is_read]
    held = [(row, tag) for row in rows for tag in row.holds if row.is_avoided]
    if not rows:
        return Item(
            "labels",
            "Allergens confirmed by label",
            DONE,
            "No line leaves an allergen to its label; whoever shops still reads every one.",
        )
    if unread:
        names = "; ".join(row.name for row in unread)
        return Item(
            "labels", "Allergens confirmed by label", TO_DO, f"Read the label of {names}, and note what it says below."
        )
    return Item(
        "labels",
        "Allergens confirmed by label",
        DONE,
        f"{len(rows)} label{'s' * (len(rows) > 1)} read." + (" One names something to note." if held else ""),
    )


def _label_findings(rows, avoided):
    """Labels that name what a plan keeps out: nothing waves that through."""
    bad = [f"{row.name} names {TAGS[tag].lower()}" for row in rows for tag in row.holds if tag in avoided]
    if not bad:
        return None
    return Item(
        "label-holds",
        "Nothing kept out is on a label",
        BLOCKED,
        f"{'; '.join(bad)}. Buy another product, or swap it on the bench.",
    )


def _portion(ready):
    if not ready.portion:
        fields = (
            ("portion", "One portion, as it is served", "", "a soup plate, two ladles; one slice as thick as a thumb"),
        )
        return Item("portion", "The portion is described", TO_DO, "Grams alone are hard to see on a plate.", fields)
    return Item(
        "portion",
        "The portion is described",
        DONE,
        f"{ready.portion}.",
        (("portion", "One portion, as it is served", ready.portion, ""),),
    )


def _keeping(card, ready):
    safety = card["sheet"].safety
    most = f"at most {safety.keep_days} days cold, {safety.freeze_months} months frozen (USDA FSIS)"
    fields = (
        ("keep_days", "Keeps, days in the cold", _typed(ready.keep_days), ""),
        ("freeze_months", "Freezes, months (0: do not freeze)", _typed(ready.freeze_months), ""),
    )
    if ready.keep_days is None or ready.freeze_months is None:
        return Item("keeping", "Keeping and freezing are set", TO_DO, f"For this dish: {most}.", fields)
    if ready.keep_days > safety.keep_days or ready.freeze_months > safety.freeze_months:
        return Item(
            "keeping", "Keeping and freezing are set", TO_DO, f"Longer than the authorities say: {most}.", fields
        )
    frozen = f"{ready.freeze_months} months frozen" if ready.freeze_months else "not for the freezer"
    return Item("keeping", "Keeping and freezing are set", DONE, f"{ready.keep_days} days cold, {frozen}.", fields)


def _typed(number):
    return "" if number is None else f"{number}"


def _targets(card):
    if card["drafts"]:
        return Item(
            "targets",
            "Targets confirmed",
            BLOCKED,
            f"{card['drafts']} of {len(card['targets'])} are drafts: a licensed practitioner confirms them on the page of {card['person']}.",
        )
    if card["unsettled"]:
        return Item(
            "targets",
            "Targets confirmed",
            BLOCKED,
            f"Plans pull apart and nobody has said which leads: settle it on the page of {card['person']}.",
        )
    who = "; ".join(card["confirmed_by"])
    return Item(
        "targets",
        "Targets confirmed",
        DONE,
        f"By {who}." if who else "Nothing to confirm: only what is kept out counts.",
    )


def _lines(card):
    open_lines = [row.now.text for row in card["sight"].to_check] + card["unweighed"]
    if open_lines:
        return Item(
            "lines",
            "Every line is settled",
            BLOCKED,
            f"Still open: {'; '.join(dict.fromkeys(open_lines))}. Say on the bench which food it was.",
        )
    return Item("lines", "Every line is settled", DONE, "Every line has its food and its weight.")


def checklist(card, ready):
    """The list for a card as card.build gives it."""
    rows = label_rows(card, ready)
    avoided = {item.tag for item in card["sheet"].avoided}
    items = [
        _as_cooked(card["attempt"]), _lines(card), _gates(card, ready), _claims(card), _labels(rows),
        _label_findings(rows, avoided), _portion(ready), _keeping(card, ready), _targets(card),
    ]  # fmt: skip
    return Checklist([item for item in items if item], rows)


__all__ = [
    "BLOCKED",
    "CONTAINS",
    "DONE",
    "TO_DO",
    "Checklist",
    "Item",
    "LabelRow",
    "checklist",
    "label_rows",
    "readiness_of",
]

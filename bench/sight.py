"""What the bench shows: the dish as written and the try, side by side, asked of the core."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from nutrition.dish.cooking import methods, share_eaten
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.food.nutrients import BY_KEY, INDEX, MEASURED, Nutrient
from nutrition.food.table import Food, foods
from nutrition.food.tags import CONTAINS, TAGS
from nutrition.limits.avoid import find
from nutrition.limits.eater import Eater
from nutrition.limits.gates import Target
from nutrition.limits.noted import Named, named_in
from nutrition.limits.plans.common import NotLimited
from nutrition.reading.done import on_offer
from nutrition.reading.eaten import Question, questions_of
from nutrition.reading.spans import Piece, pieces_of
from nutrition.reading.whole import open_additions, whole_dish
from nutrition.sheet.analysis import Analysis, analyze
from nutrition.sheet.cautions import Caution
from nutrition.sheet.doubts import Doubt
from nutrition.sheet.examine import Sheet, examine
from nutrition.sheet.verdicts import OPEN, SHUT, UNSURE, Verdict
from nutrition.swaps.balance import Upset, check
from nutrition.swaps.telling import StepNow, telling

from .models import Bench, Edit, Try

DEFAULT_WATCH = "sodium_mg"


@dataclass(frozen=True, slots=True)
class Thread:
    """One line of the bench: what was written and what stands in the try; either may be missing."""

    key: str
    written: Line | None
    now: Line | None
    change: str
    share: float | None
    share_written: float | None
    is_unknown: bool
    position: int | None = None
    dish: Dish | None = None

    @property
    def line(self) -> Line:
        line = self.now or self.written
        if line is None:
            raise ValueError("a thread has one end at least")
        return line

    @property
    def step_words(self) -> str:
        """The step that adds it, as it is cooked now; empty for a line of the list."""
        return self.dish.steps[self.now.step - 1] if self.dish and self.now and self.now.step else ""

    @property
    def method(self) -> str:
        """What the kitchen does to it, in words; empty for nothing."""
        return methods()[self.now.state].label if self.now and self.now.state else ""

    @property
    def states(self) -> list[tuple[str, str, bool]]:
        """What the kitchen may do to it in this dish: (key, words, whether it stands). What a step leaves behind has its own question."""
        found = on_offer(self.dish, self.position) if self.dish and self.position is not None else []
        may = [each for each in found if each[2] or each[0] not in methods() or not methods()[each[0]].left]
        return may if len(may) > 1 else []


@dataclass(frozen=True, slots=True)
class Gauge:
    """A gate of the try, with the amount as written beside it."""

    verdict: Verdict
    written: float
    is_watched: bool

    @property
    def nutrient(self) -> str:
        return self.verdict.gate.nutrient


@dataclass(frozen=True, slots=True)
class MethodStep:
    """A step as the bench shows it. `place`: where an edit of it goes, from 1, 0 for the step of a preparation; `number`: as it is cooked,
    0 for one left out; `pieces`: its words with the lines they name; `adds`: what no line holds; `questions`: what it leaves behind."""

    place: int
    number: int
    pieces: tuple[Piece, ...]
    was: str
    is_own: bool
    adds: tuple[Line, ...]
    questions: tuple[Question, ...]

    @property
    def is_out(self) -> bool:
        return not self.number

    @property
    def open(self) -> list[Line]:
        """What it adds of which nobody knows how much."""
        return [line for line in self.adds if not line.is_weighed]

    @property
    def text(self) -> str:
        return "".join(words for words, _ in self.pieces)


#: What a reader looks for first in a row of gates.
FIRST_ON_THE_FENCE = (SHUT, UNSURE, OPEN)


@dataclass(frozen=True)
class Sight:
    """Everything the bench draws. `sheet`: all the core has to say of the try.

    `allergies` and `dislikes`: what the person noted in words of their own.
    """

    threads: list[Thread]
    gauges: list[Gauge]
    watch: str
    sheet: Sheet
    written: Analysis
    was: Dish
    dish: Dish
    order: str = ""
    allergies: tuple[str, ...] = ()
    dislikes: tuple[str, ...] = ()
    free: tuple[NotLimited, ...] = ()
    allergen_list: str = ""

    @property
    def other_order(self) -> str:
        """What the button over the shares would order by."""
        return "" if self.order else "share"

    @property
    def serves(self) -> float:
        return self.dish.servings

    @property
    def serves_written(self) -> float:
        return self.was.servings

    @property
    def now(self) -> Analysis:
        return self.sheet.analysis

    @cached_property
    def balance(self) -> list[Upset]:
        """Whether the whole still holds: warnings with a line that mends them."""
        return check(self.was.listed.lines, self.dish.listed.lines, self.was.kind)

    @property
    def not_limited(self) -> list[tuple[NotLimited, float, float]]:
        """(what no limit stands on, least, most of one serving), where blood results decide."""
        return [(each, *self.now.interval(each.nutrient)) for each in self.free]

    @property
    def cautions(self) -> Sequence[Caution]:
        return self.sheet.cautions

    @cached_property
    def fence(self) -> list[Gauge]:
        """The gauges as a row of small gates: shut first, then what cannot be told, then open."""
        return sorted(self.gauges, key=lambda gauge: FIRST_ON_THE_FENCE.index(gauge.verdict.state))

    @cached_property
    def raised(self) -> dict[str, list[str]]:
        """Thread key -> reminders that its line gives cause for."""
        found: dict[str, list[str]] = {}
        for caution in self.cautions:
            for position in caution.lines:
                found.setdefault(self.lines_now[position].key, []).append(caution.text)
        return found

    @property
    def lines_now(self) -> list[Line]:
        """The lines of the try in the order the core counts them."""
        return list(self.dish.lines)

    @property
    def tally(self) -> dict[str, int]:
        states_ = [gauge.verdict.state for gauge in self.gauges] + [item.state for item in self.sheet.avoided]
        return {state: states_.count(state) for state in ("open", "shut", "unsure")}

    @property
    def to_check(self) -> list[Thread]:
        """Lines of the try whose words leave open what a limit may hang on."""
        return [thread for thread in self.threads if thread.now and thread.now.sure == "check"]

    @cached_property
    def doubts(self) -> list[tuple[Thread, Doubt]]:
        """(line, what settling it decides) of the lines to check that decide something here, the weightiest first."""
        by_key = {thread.key: thread for thread in self.threads}
        return [(by_key[doubt.key], doubt) for doubt in self.sheet.doubts if doubt.decides and doubt.key in by_key]

    @cached_property
    def quiet(self) -> set[str]:
        """Keys of lines to check that change nothing here."""
        return {doubt.key for doubt in self.sheet.doubts if not doubt.decides}

    @property
    def added(self) -> tuple[Line, ...]:
        """What only the steps add, of which nobody knows how much: asked about."""
        return open_additions(self.dish)

    @cached_property
    def steps(self) -> list[StepNow]:
        """The steps as they are cooked now, beside the same as written."""
        return telling(self.was, self.dish.listed)

    @cached_property
    def questions(self) -> tuple[Question, ...]:
        """What the steps leave behind, answered or not."""
        return questions_of(self.dish)

    def left_of(self, key: str) -> list[Question]:
        """What the steps leave behind of one line."""
        return [each for each in self.questions if key in each.lines]

    @cached_property
    def method(self) -> list[MethodStep]:
        """The steps, each with what it names, adds and leaves behind."""
        pieces, found, number = pieces_of(self.dish), [], 0
        for step in self.steps:
            number += not step.is_out
            at = 0 if step.is_out else number
            found.append(
                MethodStep(
                    step.place,
                    at,
                    pieces[at - 1] if at else (),
                    step.was,
                    bool(step.own),
                    tuple(line for line in self.dish.added if line.step == at),
                    tuple(each for each in self.questions if each.step == at),
                )
            )
        return found

    @property
    def next_place(self) -> int:
        """Where a step that is added goes."""
        return 1 + max((step.place for step in self.steps), default=0)

    def holds(self, line: Line | None) -> set[str]:
        """What a line holds outright, by the list of allergens that counts for this person."""
        found = find([line], TAGS, self.allergen_list) if line else []
        return {finding.tag for finding in found if finding.verdict == CONTAINS}

    @cached_property
    def noted_allergies(self) -> list[Named]:
        """Every allergy noted in words, with the lines that name it."""
        return named_in(self.allergies, self.lines_now)

    @cached_property
    def not_eaten(self) -> list[Named]:
        """What the person will not eat and a line names."""
        return [each for each in named_in(self.dislikes, self.lines_now) if each.lines]

    @cached_property
    def flags(self) -> dict[str, tuple[str, str]]:
        """Key of a line -> (flag, what it says) where it names something noted; an allergy before a dislike."""
        noted = [("not eaten", "will not eat", each) for each in self.not_eaten]
        noted += [("allergy", "noted allergy:", each) for each in self.noted_allergies]
        return {
            self.lines_now[position].key: (flag, f"{said} {each.words}")
            for flag, said, each in noted
            for position in each.lines
        }

    @property
    def serving_changed(self) -> int:
        """Percent by which the serving weighs more or less than as written."""
        if not self.written.serving_grams:
            return 0
        return round(100 * (self.now.serving_grams / self.written.serving_grams - 1))


def change_of(written: Line | None, now: Line | None) -> str:
    """How a line of the try stands to the line as written."""
    if now is None:
        return "dropped"
    if written is None:
        return "added"
    if written.food_id != now.food_id:
        return "swapped"
    if written.grams is None or now.grams is None:
        return "kept" if written.grams == now.grams else "unsettled"
    if abs(now.grams - written.grams) <= 0.005 * written.grams:
        return "kept" if now.state == written.state else "cooked"
    return "less" if now.grams < written.grams else "more"


def _share(analysis: Analysis, position: int | None, key: str) -> float | None:
    return None if position is None else float(analysis.shares(key)[position])


def _threads(was: Dish, dish: Dish, written: Analysis, now: Analysis, watch: str) -> list[Thread]:
    """As written and now by key, with the share of the watched nutrient; what was added stands last, what a line is made with at it."""
    written_at = {line.key: at for at, line in enumerate(was.lines)}
    now_at = {line.key: at for at, line in enumerate(dish.lines)}
    unknown = set(now.unknown_lines(watch))
    threads = []
    for key in _in_order(written_at, dish):
        before, after = was.line(key), dish.line(key)
        threads.append(
            Thread(
                key=key,
                written=before,
                now=after,
                change=change_of(before, after),
                share=_share(now, now_at.get(key), watch),
                share_written=_share(written, written_at.get(key), watch),
                is_unknown=now_at.get(key) in unknown,
                position=now_at.get(key),
                dish=dish,
            )
        )
    return threads


def _in_order(written: Iterable[str], dish: Dish) -> list[str]:
    """Keys as written, then those that are new; the foods of a preparation stand behind the first of them."""
    keys = list(written)
    for before, line in zip((None, *dish.lines), dish.lines, strict=False):
        if line.key in keys:
            continue
        at = keys.index(before.key) + 1 if before and line.made and line.made == before.made else len(keys)
        keys.insert(at, line.key)
    return keys


def look(bench: Bench, edit: Edit, eater: Eater, watch: str = "", attempt: Try | None = None, order: str = "") -> Sight:
    """The bench of a try. `eater`: the person as the core takes them; `attempt`: for its notes and cooked weight.

    `order` "share" puts the lines that carry most of the watched nutrient first; else they stand as in the recipe.
    """
    was, dish = whole_dish(bench.written), edit.dish
    written = analyze(was)
    is_as_written = (dish.lines, dish.serves) == (bench.written.lines, bench.written.serves)
    weighed = attempt.weighed_g if attempt else None
    sheet = examine(
        replace(dish, title=bench.recipe.title),
        eater,
        bench.meal,
        notes=attempt.notes if attempt else "",
        cooked_serving_g=weighed / dish.serves if weighed else bench.recipe.serving_grams if is_as_written else None,
    )
    dish, now, verdicts = replace(sheet.dish, title=dish.title), sheet.analysis, sheet.verdicts
    watched = [verdict.gate.nutrient for verdict in verdicts]
    if watch not in BY_KEY:
        shut = next((v.gate.nutrient for v in verdicts if v.state == SHUT), None)
        watch = shut or (watched[0] if watched else DEFAULT_WATCH)
    threads = _threads(was, dish, written, now, watch)
    if order == "share":
        threads.sort(key=lambda thread: -(thread.share if thread.share is not None else -1.0))
    return Sight(
        threads=threads,
        order=order,
        gauges=[Gauge(v, written.amount(v.gate.nutrient), v.gate.nutrient == watch) for v in verdicts],
        watch=watch,
        sheet=sheet,
        written=written,
        was=was,
        dish=dish,
        allergies=eater.noted_names,
        dislikes=eater.disliked,
        allergen_list=eater.allergen_list,
        free=tuple(each for _, each in eater.not_limited()),
    )


@dataclass(frozen=True, slots=True)
class Brought:
    """What one line brings to a figure: the food, its weight in a serving, the table's value, what cooking leaves."""

    line: Line
    food: Food | None
    grams: float
    per_100g: float
    kept: float
    amount: float
    at_most: float
    is_unknown: bool


def why(sight: Sight, key: str) -> list[Brought]:
    """Every line's part in one figure, the largest first."""
    table, column, parts = foods(), INDEX[key], []
    lines = sight.lines_now
    unknown = set(sight.now.unknown_lines(key))
    for position, line in enumerate(lines):
        food = table.by_id(line.food_id) if line.food_id else None
        eaten = share_eaten(line) if food else None
        share = eaten[1][column] if eaten is not None else 1.0
        parts.append(
            Brought(
                line=line,
                food=food,
                grams=line.span.likely / sight.serves,
                per_100g=float(table.known[food.row, column]) if food else 0.0,
                kept=float(share),
                amount=float(sight.now.by_line[position, column]),
                at_most=line.span.most / sight.serves / 100 * float(table.at_most_per_100g[food.row, column])
                if food
                else 0.0,
                is_unknown=position in unknown,
            )
        )
    return sorted(parts, key=lambda part: -part.amount)


def posts_of(eater: Eater, key: str, meal: str) -> list[tuple[Target, float | None, float | None, bool, bool]]:
    """(target, limit of one serving at least, at most, whether it stands) of everybody's targets for one nutrient."""
    gate = next((gate for gate in eater.gates(meal) if gate.nutrient == key), None)
    standing, found = eater.standing_targets(), []
    for target in eater.targets:
        factor = target.factor(meal, eater.shares)
        if target.nutrient != key or factor is None:
            continue
        low, high = (None if side is None else side * factor for side in (target.minimum, target.maximum))
        posts = gate.posts if gate else ()
        wins = any(post.target is target for post in posts)
        found.append((target, low, high, wins, target in standing))
    return found


@dataclass(frozen=True, slots=True)
class Compared:
    """One nutrient as written beside the try."""

    nutrient: Nutrient
    written: float
    now: float
    written_at_most: float
    now_at_most: float
    other: float | None = None

    @property
    def change(self) -> float:
        return self.now - self.written

    @property
    def percent(self) -> int | None:
        return None if self.written == 0 else round(100 * self.change / self.written)

    @property
    def is_uncertain(self) -> bool:
        return self.now_at_most > self.now * 1.001 or self.written_at_most > self.written * 1.001


def compare(
    written: Analysis, now: Analysis, per: str = "serving", watched: Sequence[str] = (), other: Analysis | None = None
) -> list[Compared]:
    """Every measured nutrient and every watched one, per serving or per 100 g of the dish as weighed in.

    `other`: the analysis of a third try to set beside the two.
    """

    def scaled(analysis: Analysis, value: float) -> float:
        if per == "serving":
            return value
        return 100 * value / analysis.serving_grams if analysis.serving_grams else 0.0

    rows = []
    extra = [BY_KEY[key] for key in watched if BY_KEY[key] not in MEASURED]
    for nutrient in (*MEASURED, *extra):
        key = nutrient.key
        rows.append(
            Compared(
                nutrient,
                scaled(written, written.amount(key)),
                scaled(now, now.amount(key)),
                scaled(written, written.interval(key)[1]),
                scaled(now, now.interval(key)[1]),
                scaled(other, other.amount(key)) if other else None,
            )
        )
    return rows

"""What the bench shows: the dish as written and the try, side by side, asked of the core."""

from dataclasses import dataclass

from nutrition.analysis import Analysis, analyze
from nutrition.cautions import cautions_for
from nutrition.cooking import state_of, states
from nutrition.gates import SHUT, gates_for, judge
from nutrition.nutrients import BY_KEY, NUTRIENTS
from nutrition.recipe import Line

from .actions import as_line

DEFAULT_WATCH = "sodium_mg"


@dataclass(frozen=True, slots=True)
class Row:
    """One line of the bench: what was written and what stands in the try; either may be missing."""

    key: str
    written: Line | None
    now: Line | None
    kind: str
    share: float | None
    share_written: float | None
    is_unknown: bool

    @property
    def line(self):
        return self.now or self.written

    @property
    def state(self):
        return state_of(self.now.food_id) if self.now else ""

    @property
    def states(self):
        return states(self.now.food_id) if self.now else ()


@dataclass(frozen=True, slots=True)
class Gauge:
    """A gate of the try, with the amount as written beside it."""

    verdict: object
    written: float
    is_watched: bool

    @property
    def nutrient(self):
        return self.verdict.gate.nutrient


@dataclass(frozen=True, slots=True)
class Sight:
    """Everything the bench draws."""

    rows: list[Row]
    gauges: list[Gauge]
    watch: str
    now: Analysis
    written: Analysis
    cautions: list
    serves: float
    serves_written: float

    @property
    def tally(self):
        states_ = [gauge.verdict.state for gauge in self.gauges]
        return {state: states_.count(state) for state in ("open", "shut", "unsure")}

    @property
    def to_check(self):
        """Lines of the try whose words leave open what a limit may hang on."""
        return [row for row in self.rows if row.now and row.now.sure == "check"]

    @property
    def serving_changed(self):
        """Percent by which the serving weighs more or less than as written."""
        if not self.written.serving_grams:
            return 0
        return round(100 * (self.now.serving_grams / self.written.serving_grams - 1))


def kind_of(written, now):
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
        return "kept"
    return "less" if now.grams < written.grams else "more"


def _share(analysis, position, key):
    return None if position is None else float(analysis.shares(key)[position])


def look(bench, step, targets, plan_keys, watch=""):
    """The bench of a try. `targets`: the person's, as the core takes them."""
    written_rows = [(row["key"], as_line(row)) for row in bench.lines]
    now_rows = [(row["key"], as_line(row)) for row in step.lines]
    written_at = {key: i for i, (key, _) in enumerate(written_rows)}
    now_at = {key: i for i, (key, _) in enumerate(now_rows)}
    written = analyze([line for _, line in written_rows], bench.serves)
    now = analyze([line for _, line in now_rows], step.serves)
    gates = gates_for(targets, bench.meal, bench.person.meal_shares)
    verdicts = judge(gates, now)
    watched = [verdict.gate.nutrient for verdict in verdicts]
    if watch not in BY_KEY:
        shut = next((v.gate.nutrient for v in verdicts if v.state == SHUT), None)
        watch = shut or (watched[0] if watched else DEFAULT_WATCH)
    unknown = set(now.unknown_lines(watch))
    keys = [key for key, _ in written_rows] + [key for key, _ in now_rows if key not in written_at]
    rows = []
    for key in keys:
        was = written_rows[written_at[key]][1] if key in written_at else None
        is_ = now_rows[now_at[key]][1] if key in now_at else None
        rows.append(
            Row(
                key=key,
                written=was,
                now=is_,
                kind=kind_of(was, is_),
                share=_share(now, now_at.get(key), watch),
                share_written=_share(written, written_at.get(key), watch),
                is_unknown=now_at.get(key) in unknown,
            )
        )
    limited = {verdict.gate.nutrient for verdict in verdicts if verdict.gate.high}
    return Sight(
        rows=rows,
        gauges=[Gauge(v, written.amount(v.gate.nutrient), v.gate.nutrient == watch) for v in verdicts],
        watch=watch,
        now=now,
        written=written,
        cautions=cautions_for([line for _, line in now_rows], plan_keys, limited),
        serves=step.serves,
        serves_written=bench.serves,
    )


@dataclass(frozen=True, slots=True)
class Compared:
    """One nutrient as written beside the try."""

    nutrient: object
    written: float
    now: float
    written_at_most: float
    now_at_most: float

    @property
    def change(self):
        return self.now - self.written

    @property
    def percent(self):
        return None if self.written == 0 else round(100 * self.change / self.written)

    @property
    def is_uncertain(self):
        return self.now_at_most > self.now * 1.001 or self.written_at_most > self.written * 1.001


def compare(written, now, per="serving"):
    """Every nutrient, per serving or per 100 g of the dish as weighed in."""

    def scaled(analysis, value):
        if per == "serving":
            return value
        return 100 * value / analysis.serving_grams if analysis.serving_grams else 0.0

    rows = []
    for nutrient in NUTRIENTS:
        key = nutrient.key
        rows.append(
            Compared(
                nutrient,
                scaled(written, written.amount(key)),
                scaled(now, now.amount(key)),
                scaled(written, written.interval(key)[1]),
                scaled(now, now.interval(key)[1]),
            )
        )
    return rows

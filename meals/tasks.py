"""Long work of meals: a week planned, one dish changed so that it opens everybody's meal, a way over a whole table."""

from dataclasses import replace
from datetime import date

from errands.run import errand
from nutrition.dish.codec import to_data
from nutrition.meals.together import over_without, ways_for_all
from nutrition.meals.whole import way_for_table
from nutrition.notes import Problem
from nutrition.swaps.wish import Wish
from people.models import Person

from .models import Occasion
from .planning import found_for
from .sight import table_of
from .whole_way import kept_whole


@errand("plan")
def plan_a_week(asked):
    """The open places of a week. Args: person, monday; is_household, with_snack, not_again."""
    wish = {name: asked.args[name] for name in ("is_household", "with_snack", "not_again")}
    person = Person.objects.get(pk=asked.args["person"])
    return found_for(person, date.fromisoformat(asked.args["monday"]), **wish)


@errand("whole_table")
def look_over_the_table(asked):
    """A way over a whole table, portions first. Args: occasion."""
    sight = table_of(Occasion.objects.get(pk=asked.args["occasion"]))
    return kept_whole(sight, way_for_table(sight.table))


@errand("table")
def look_for_all(asked):
    """Ways for all who eat of a dish. Args: occasion, dish."""
    sight = table_of(Occasion.objects.get(pk=asked.args["occasion"]))
    at = sight.row_of(asked.args["dish"])
    whole = sight.rows[at].served.dish
    if over := over_without(sight.table, at):
        said = tuple((place.seat.name, nutrient, by) for place, nutrient, by in over)
        raise Problem("meals.over_without", title=whole.title, over=said)
    outcome = ways_for_all(sight.table, at, Wish(ways=3, one_pot=True))
    return {
        "ways": [
            {
                "changes": [(str(change.text), str(change.why) if change.why else "") for change in way.changes],
                "dish": to_data(replace(whole, lines=way.lines, serves=way.serves)),
            }
            for way in outcome.ways
        ],
        "version": sight.occasion.version,
        "note": str(outcome.note) if outcome.note else "",
        "conflict": [
            {"nutrient": miss.nutrient, "side": miss.side, "limit": miss.limit, "source": str(miss.source)}
            for miss in outcome.conflict
        ],
    }

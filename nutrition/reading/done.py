"""What the steps do to a line, as far as a method of the kitchen asks: a method is on offer only where a step does it, or the line says so.

"Marinade, poured off" of a brownie's sugar is no offer: no step marinates, and none pours off.
"""

from nutrition.dish.cooking import Method, methods, treatments
from nutrition.dish.dish import Dish
from nutrition.dish.line import Line
from nutrition.dish.method import Method as Course
from nutrition.food.spoken import without_accents
from nutrition.reading.method import read_method
from nutrition.reading.whole import marked


def on_offer(dish: Dish, position: int) -> list[tuple[str, str, bool]]:
    """(key, words, whether it stands) of what may be done to a line in this dish; as cooking.treatments, less what nobody does."""
    line = marked(dish).lines[position]
    course = read_method(dish)
    at = sum(not each.step for each in dish.lines[:position])
    return [
        (key, words, stands)
        for key, words, stands in treatments(line)
        if stands or key not in methods() or is_done(methods()[key], line, course, at)
    ]


def is_done(method: Method, line: Line, course: Course, at: int) -> bool:
    """Whether a step that takes the line in hand (`at`: its position in the method) does it, or the line's own words say it is done.

    >>> from nutrition.reading.recipe import read_line
    >>> def read(*steps):
    ...     return read_method(Dish("Noodles", 2, (read_line("4 tbsp soy sauce"), read_line("300 g tofu")), steps))
    >>> soy = read_line("4 tbsp soy sauce")
    >>> is_done(methods()["poured-off"], soy, read("Stir the soy sauce into the noodles."), 0)
    False
    >>> is_done(methods()["fried-in"], read_line("1 l oil for deep-frying"), read(), 0)
    True
    """
    says = bool(method.does.pattern) and line.words_hold and bool(method.does.search(line.text))
    if method.left:
        return says or any(key == method.key for key, _ in line.leaves)
    return not method.does.pattern or says or any(method.does.search(text) for text in _texts(course, at))


def _texts(course: Course, at: int) -> list[str]:
    """The steps that take a line in hand, lower case, each with the one after it: "Boil the potatoes." "Drain.\""""
    plain = [without_accents(step.text.lower()) for step in course.steps]
    taken = [any(use.line == at for use in step.uses) for step in course.steps]
    return [" ".join(plain[number : number + 2]) for number, is_taken in enumerate(taken) if is_taken]

"""What the words of a line leave open: which of several kinds it is, or whether it is that food at all."""

from nutrition.dish.line import Line

#: Codes of questions after which the food may be another altogether: what was read of the words is not all they say.
_WHAT_IS_ASKED = frozenset(
    f"reading.{name}"
    for name in (
        *("unused", "is_this_it", "which_food", "nothing_like", "not_in_tables", "promise"),
        *("from_can", "from_can_or_dry", "several", "after_plus", "mixed_in", "eggs_and_parts"),
    )
)
#: ... and of how a food was found that fits only a part of the words, or only looks like them.
_HOW_IT_WAS_FOUND = frozenset(("reading.read_as", "reading.nearest"))


def is_in_question(line: Line) -> bool:
    """Whether a line may mean another food altogether: then it is unknown to every gate until somebody settles it. One that leaves open
    only which kind of a food it is counts as every kind at once.

    >>> from nutrition.reading.recipe import read_line
    >>> is_in_question(read_line("200 g moringa potatoes")), is_in_question(read_line("300 ml milk"))
    (True, False)
    """
    if line.sure != "check" or not line.is_food_open:
        return False
    return line.ask.code in _WHAT_IS_ASKED or (not line.is_of_a_kind and line.why.code in _HOW_IT_WAS_FOUND)

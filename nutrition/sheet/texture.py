"""What a dish is to chew, as the method leaves it: big pieces, and pieces in a thin liquid (IDDSI Framework, 2019)."""

from collections.abc import Sequence

from nutrition.dish.line import Line
from nutrition.dish.method import Method
from nutrition.dish.naming import description_of
from nutrition.reading.pieces import pieces_in
from nutrition.tables import pattern, words_of

#: Pieces of this size on are too big for level 6 (soft and bite-sized) of an adult.
BIG_MM = 15
MIXED, PIECES = "mixed", "pieces"
TEXTURES = (MIXED, PIECES)


def of_texture(which: str, lines: Sequence[Line], method: Method) -> tuple[int, ...]:
    """Positions of the lines that end as such. Raises KeyError for a texture nobody knows."""
    return {MIXED: _mixed, PIECES: _in_pieces}[which](lines, method)


def _in_pieces(lines: Sequence[Line], method: Method) -> tuple[int, ...]:
    """Lines that are cut big, by their own words or by a step that takes them in hand by name."""
    big = {at for at, line in enumerate(lines) if not line.step and max(pieces_in(line.text), default=0) >= BIG_MM}
    for step in method.steps:
        if max(step.pieces_mm, default=0) >= BIG_MM:
            big |= {use.line for use in step.uses}
    return tuple(sorted(big))


def _mixed(lines: Sequence[Line], method: Method) -> tuple[int, ...]:
    """Lines that lie in pieces in a liquid that stays: simmered in it, or in a step that speaks of a soup or of juice; and not blended whole there
    or later."""
    found: set[int] = set()
    wet = {at for at, line in enumerate(lines) if pattern("to_simmer_in").search(description_of(line))}
    broths = {at for name, inside in method.products if name.split()[-1] in words_of("liquid_head") for at in inside}
    for step in method.steps:
        inside = {use.line for use in step.uses}
        adds_liquid = any(pattern("to_simmer_in").search(each.words) for each in step.adds)
        if step.in_liquid or ("boil" in step.operations and (adds_liquid or inside & (wet | broths))):
            found |= inside - wet
        if "blend" in step.operations and not step.in_part:
            found -= inside
    return tuple(sorted(found))

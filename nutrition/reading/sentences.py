"""What the reading room says: how a food was found, how it was weighed, what the words leave open, what cannot be
read."""

from nutrition.food.names import cook_name
from nutrition.food.nutrients import BY_KEY


def _vague(cue: str, span: tuple[float, float, float], unit: str, per: str, source: str) -> str:
    least, likely, most = span
    return f"“{cue}” taken as {least:g} to {most:g} {unit}, middle {likely:g}, for each {per} ({source})"


def _promise(words: str, food: str) -> str:
    return f"“{words}” was read, and {cook_name(food)} is not: which food is it?"


def _and(names: tuple[str, ...]) -> str:
    return " and ".join([*([", ".join(names[:-1])] if names[:-1] else []), *names[-1:]])


def _left(words: str, yes: str, no: str, how: str) -> dict[str, object]:
    """What one way of leaving something behind is called, and its two answers."""
    return {
        f"left_{how}": lambda step, names: words.format(step=step, names=_and(names)),
        f"left_{how}_yes": lambda least, most: f"{yes}: {100 * least:.0f} to {100 * most:.0f} % counts",
        f"left_{how}_no": f"{no}: all of it counts",
    }


SENTENCES = {
    # how a food was found
    "own_name": "your practice's own name",
    "no_words": "no food words were read",
    "all_words": "all its words, in the food table",
    "read_as": "read as {name}",
    "cooks_name": "a cook's name: {name}",
    "cooks_name_canned": "a cook's name: {name}, canned",
    "nothing_like": "no food is called anything like this",
    "not_in_tables": "the words are not in the tables",
    "nearest": "the nearest description in the food table",
    "chosen_by_hand": "chosen by hand",
    # what the words leave open
    "which_food": "which food is this?",
    "is_this_it": "no food is called just this: is it the one meant?",
    "unused": "“{words}” was not used: does it matter?",
    "from_can_or_dry": "from a can, or dry?",
    "from_can": "from a can? counted as fresh: canned holds salt or sugar",
    "promise": _promise,
    "keeps_it": "the nearest food that is {words}",
    "which_kind": "“{words}” was read: which of its kinds is it?",
    "dry_or_cooked": "cooked by the packet: is the amount of the dry food, or of the cooked?",
    "which_of": "which one: {names}?",
    "several": "several foods on one line: only “{name}” is counted; write each on its own line",
    "salt_and_pepper": "salt and pepper stand on one line: only the salt is counted",
    "sweet_pepper": "a sweet pepper? of which color?",
    "after_plus": "what stands after “plus” is not counted: write it on its own line",
    "mixed_in": "what is mixed into the water is not counted: write it on its own line",
    "juice_and_zest": "juice and zest: counted as a whole {fruit}",
    "eggs_and_parts": "whole eggs and yolks or whites on one line: only the whole eggs are counted",
    "minus": "a minus sign stands before the amount: read as a bullet point",
    "unread": "the amount could not be read: type it as in 2 tbsp",
    "bone_or_shell": "weighed with bone or shell? only the edible part counts: type its weight",
    "by_serving": "the amount goes by serving: how many servings are there?",
    # how it was weighed
    "no_amount": "no amount was read",
    "stated": "stated in the line",
    "stated_beside": "the weight stated beside the measure",
    "so_many_of": "{count:g} of {size:g} {unit}",
    "when_drained": "{rule}; about {share:.0%} is left when drained",
    "measure": "1 {name} = {grams:g} g ({source})",
    "drained_weight": "the drained weight stated, {grams:g} g",
    "and_more": "{rule}; and {grams:.0f} g more, after “plus”",
    "no_weight_of_size": "no weight is known for one of this kind (“{size}”): taken as the common one",
    "class_average": "1 {name} = {grams:g} g (class average)",
    "share_of_one": "1/{share} of one: {rule}",
    "unknown_measure": "no weight is known for 1 {unit}: {rule}",
    "no_weight_of_one": "no weight is known for 1 {unit} of this food",
    "scoop": "a scoop taken as {least:g} to {most:g} ml; what its label says is kept with the food",
    "glass": "a glass taken as {least:g} to {most:g} ml",
    "as_water": "no household measure known: weighed as water",
    "vague": _vague,
    "heaped": "{rule}; heaped: up to {times:g} times",
    "extra": "{rule}; “extra” counted as up to {grams:g} g",
    "zero": "the amount read is zero or less",
    "too_heavy": lambda grams, most: f"{grams:,.0f} g was read, more than {most / 1000:,.0f} kg",
    "typed_in_grams": "typed in grams",
    # what cannot be taken of what was typed
    "no_food_yet": "This line has no food yet. Choose the food first, then its amount.",
    "no_amount_typed": "No amount was typed. Type grams or a measure, as in 450 or 1½ cups.",
    "below_zero": "“{typed}” is below zero. Type an amount above zero, or drop the line.",
    "amount_unclear": "“{typed}” was not understood as an amount of {food}. Type grams, as in 450.",
    "amount_impossible": "“{typed}” is {grams:,.0f} g. Type an amount above 0 and up to {most:,.0f} g; to "
    "leave the food "
    "out, drop the line.",
    "food_gone": "That food is not in the table any more. Search for it again.",
    "nothing_typed": "Nothing was typed. Write the line as in a recipe, as in 2 tbsp lemon juice.",
    "line_too_long": "{length} characters were typed; one ingredient line of at most {most} is expected.",
    # what cannot be read of a source
    "nothing_pasted": "Nothing was pasted. Paste the recipe with its title, ingredient lines and steps.",
    "text_too_long": "{count:,} characters were pasted; a recipe has a few thousand, and at most {most:,} are read. "
    "Paste only the one recipe.",
    "binary": "This is not text but a binary file. Paste words, or upload a saved web page or JSON.",
    "web_address": "“{address}” is a web address, and pages are not fetched here. Open it in a browser, save the page as one file "
    "and upload it, or copy the recipe's words and paste them.",
    "several_recipes": "{count} recipes were found in the text: {titles}. Paste them one at a time.",
    "pdf_locked": "The PDF is locked with a password. Open it, mark the recipe's words, copy and paste them.",
    "pdf_long": "The PDF has {pages} pages; at most {most} are read. Paste the one recipe.",
    "pdf_heavy": "The PDF draws more than a recipe does, and is not read. Open it, mark the recipe's words, copy and paste them.",
    "pdf_of_pictures": "The PDF holds pictures of words, and pictures are not read here. Type or paste the recipe's words.",
    "unlisted": "step {step} adds {words}, which no line names: how much is not known",
    "step_adds": "step {step} adds it and no line names it: how much goes in?",
    "from_bare_page": "found in a page without recipe marks: is this a line of the recipe?",
    "few_servings": "one serving would hold {kcal:,.0f} kcal: how many does it really serve?",
    "no_words_found": "No words were found in the text. Paste the title, the ingredient lines and the steps.",
    "no_lines_found": "No ingredient lines were found in “{raw}”. Put each ingredient on a line of its own, "
    "amount first.",
    "too_many": "More than {most} {what} were read; at most {most} are taken. Paste one recipe.",
    "too_long": "“{start}…” has {count:,} characters; {what} have at most {most:,}. Break it up, or paste one recipe.",
    "json_broken": "The file starts like JSON but breaks at {place}. Save it again, or paste the recipe as plain text.",
    "json_without_recipe": "The JSON holds no schema.org Recipe (an object with @type Recipe). Paste the "
    "recipe as plain text.",
    "json_without_lines": "The Recipe in the JSON has no recipeIngredient lines. Paste the ingredients as plain text.",
    "page_too_long": "The recipe in the saved page is longer than is read here, and a part of it would be lost. Copy its text and "
    "paste it instead.",
    "page_without_recipe": "No recipe was found in the saved page. Copy the recipe's text and paste it instead.",
    "file_empty": "The file is empty. Choose a saved web page, a JSON-LD recipe or a text file.",
    "file_too_large": "The file is {figure:.1f} MB; a saved recipe page is under 5 MB. Paste the text instead.",
    "file_of_a_kind": "The file is {kind}, which is not read here. Open it, mark the recipe's words, copy and paste them.",
    "file_not_text": "The file is not text (a picture or document?). Save the page as HTML, or paste the "
    "recipe's words.",
    "answer_holds": lambda nutrient, amount: f"{BY_KEY[nutrient].show(amount)} {BY_KEY[nutrient].label.lower()}",
    "answer_holds_in_100g": lambda nutrient, amount: (
        f"{BY_KEY[nutrient].show(amount)} {BY_KEY[nutrient].label.lower()} in 100 g"
    ),
    # what the steps leave behind
    "nothing_left": "Step {step} does not say any more that something is left behind. Nothing was changed.",
    **_left("step {step} pours off {names}", "poured off", "it is eaten", "poured_off"),
    **_left("step {step} pours off fat of {names}", "poured off, of the fat", "it is eaten", "fat"),
    **_left("step {step} strains out {names}", "strained out", "it stays in", "strained_out"),
    **_left("step {step} takes out {names}", "taken out", "it stays in", "lifted_out"),
    **_left("step {step} leaves {names} in the pan", "most stays in the pan", "it is eaten", "left_in_pan"),
    **_left("step {step} presses liquid out of {names}", "the liquid goes", "nothing runs off", "pressed_out"),
    **_left(
        "step {step} turns food in {names}, and some is left over", "some is left over", "all of it clings", "left_over"
    ),
    **_left("step {step} soaks salt out of {names}", "the water goes", "not soaked", "soaked_out"),
    **_left("{names}: weighed with the bones?", "with bones", "without", "bone"),
    **_left("{names}: weighed in the shell?", "in the shell", "shelled", "shell"),
    **_left("{names}: weighed with the stones?", "with stones", "stoned", "pit"),
    **_left("{names}: weighed on the cob?", "on the cob", "off the cob", "cob"),
    **_left("{names}: weighed with the peel?", "with peel", "peeled", "peel"),
}

"""What the recipes room says."""

SENTENCES = {
    "not_weighed": "This line has no food or no weight yet. Choose a food and type its amount; then accept it.",
    "library_needs_title_and_servings": "A dish of the library keeps a title and a number of servings: others rest on "
    "them. Type both.",
    "is_a_part": "{recipe} is a part of another dish; it stays in the library.",
    "on_the_bench": "{recipe} is on the bench for somebody; it stays in the library.",
    "no_such_kind": "“{kind}” is not a kind of dish; one of {kinds}.",
    "not_added": "“{words}” was to be waved off, and no step adds it any more: nothing was changed.",
    "why_waved": "Say in a word why {words} is not in the dish, as in “only for the photograph”: it is kept beside the recipe.",
    "serves_missing": "How many servings does it make? Type the number; it is never assumed.",
    "title_missing": "The recipe has no title yet. Type one.",
    "no_lines": "No ingredient line is left. Paste the recipe again.",
    "own_part": "{recipe} cannot be a part of itself. Choose another recipe.",
    "loop": "That would go round in a circle: {way}. Choose another part, or take that one out first.",
    "part_unread": "{part} has not been read yet: settle its lines first.",
}

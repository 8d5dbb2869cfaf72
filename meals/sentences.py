"""What the meals room of the house says."""

SENTENCES = {
    "nothing_to_add": "Nothing was chosen to put on the table. Choose a dish, or write a food with its weight, as in 1 slice of bread, 35 g.",
    "no_servings": "Nobody has said how many “{title}” serves, so no portion of it can be told. Say it on its page first.",
    "not_here": "That is not on this table any more: it was taken off elsewhere. Below is how the table stands now.",
    "at_the_table": "{name} sits at this table already.",
    "no_portions": "No portions of these dishes keep {name} within every limit. Change a dish, or take one off.",
    "no_plan": "“{key}” is no plan known here.",
    "full": "A table has room for {most} {what}; this one is full. Lay another table.",
    "no_lines": "“{title}” would have no line left.",
    "no_way": "No change of this dish was kept to take. Ask for a way again.",
}

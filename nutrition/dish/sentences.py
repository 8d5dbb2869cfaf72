"""What the dish room says."""

SENTENCES = {
    "serves_unknown": "How many servings the dish makes is not known. Type the number; it is never assumed.",
    "line_unreadable": "A kept line could not be read: {text}. Type the line anew.",
    "weight_impossible": "“{text}” is kept with a weight that cannot be: {weight}. Type its weight anew.",
    "version_unknown": "This dish was kept in form {version}; this program reads forms up to {known}. Use a "
    "newer program.",
    "food_gone": "this food ({food}) is no longer in the table: what it holds is not known. Choose another food",
    "food_retired": "this food is no longer in the table: counted with its last known values. Choose another food",
    "no_such_state": "{line} cannot be {state}. Choose one of the ways offered for it.",
    "brought_to": "{state}: {share:.0%} of the weight before",
    "share_of_part": "{amount} of {title}; {rule}",
    "share_of_weighed": "{amount}, which weighs {grams:,.0f} g when done",
    "share_of_estimated": "{amount}, which weighs {grams:,.0f} g when done (estimated: {least:,.0f} to {most:,.0f})",
    "amount_volume": "{ml:,.4g} ml of it, at 0.5 to 1.35 g a milliliter as nobody weighed it",
    "amount_grams": "{grams:,.4g} g of it",
    "amount_share": lambda share: {1.0: "all of it", 0.5: "half of it"}.get(share, f"{100 * share:.3g} % of it"),
    "part_amount": "“{typed}” was read; a share (half, 1/3, 40 %, one batch), portions, a weight (250 g) or a measure (2 tbsp) is expected.",
    "part_portions": "“{typed}” was read, and the part does not say how many portions it makes. Say it there, or give a share or a weight.",
    "part_grams": "{typed} of a part was read; more than 0 and up to {most:,.0f} g is expected.",
    "part_share": "“{typed}” of a part was read; more than nothing and up to {most:g} times is expected.",
    "part_weighs_nothing": "This part has no weight known, so grams of it cannot be taken. Take a share, as in half.",
}

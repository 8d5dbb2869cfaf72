"""What every room may say."""

SENTENCES = {
    "stale": "This was changed in another tab since your page was drawn; it is shown as it stands now. Do it again if you "
    "still want it.",
    "stale_typed": "This was changed in another tab since your page was drawn; it is shown as it stands now. You asked for "
    "“{typed}”. Do it again if you still want it.",
    "not_understood": "That was not understood. Use the buttons of the {place}.",
    "not_a_number": "“{typed}” is not a number of {what}. Type a number, as in {example}.",
    "number_needed": "No {what} was typed. Type a number, as in {example}.",
    "number_out_of_range": "{typed} {what} cannot be. Type a number from {least:g} to {most:,g}.",
    "number_above": "{typed} {what} cannot be. Type a number above {least:g} and up to {most:,g}.",
}

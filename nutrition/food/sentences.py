"""What the foods room says."""

SENTENCES = {
    "look_for": "{text}",
    "on_the_us_list": "{text}",
    "says_free": "it calls itself free of this: the label must say so",
    "coat": "what its coat is made of",
}

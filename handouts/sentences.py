"""What the handouts room says."""

SENTENCES = {
    "word_needed": "Your practice asks for a word besides the link: type one the person knows, as their year of birth.",
    "not_whole": "“{typed}” {what} was read; a whole number from 0 to {most} is expected.",
    "link_days": "For how many days should the link work? Type a number from 1 to {most}.",
    "not_released": "Not released. Still open: {waiting}.",
}

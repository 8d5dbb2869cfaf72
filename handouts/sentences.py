"""What the handouts room says."""

SENTENCES = {
    "not_whole": "“{typed}” {what} was read; a whole number from 0 to {most} is expected.",
    "link_days": "For how many days should the link work? Type a number from 1 to {most}.",
    "not_released": "Not released. Still open: {waiting}.",
}

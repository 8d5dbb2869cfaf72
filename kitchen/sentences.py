"""What the kitchen says."""

SENTENCES = {
    "finished": "This cook is finished: what went in stands. Begin another to cook it again.",
    "nothing_to_take_back": "Nothing has been recorded yet, so there is nothing to take back.",
    "timer_length": "A timer of {length} was read; from 1 second to 24 hours is expected.",
    "too_many_timers": "{most} timers are running. Stop one first.",
    "not_counted_out": "“{key}” is not counted out here.",
    "nothing_cooked": "Every line was left out: nothing was cooked. Take the last tap back.",
    "spent_less_than_tapped": "{total:g} g of {what} was typed, and {tapped:g} g were tapped at the stove. Go back and "
    "take a tap back, or leave the field as it is.",
    "scale_over": "There is more on the scale than it can weigh. Weigh it in parts.",
    "scale_moving": "The scale is still moving, at about {grams:.0f} g. Let it settle and tap again.",
    "scale_empty": "The scale shows {grams:.1f} g. Put the food on it, then tap again.",
}

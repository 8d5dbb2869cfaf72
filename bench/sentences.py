"""What the bench says."""

SENTENCES = {
    "step_too_long": "This step has {length:,} characters; up to {most:,} are taken. Part it into two.",
    "step_empty": "An empty step was sent. Write what is to be done, as in “Let it rest for 10 minutes”.",
    "no_step_does": "“{words}” was chosen for {line}, and no step of this recipe does it. Write it into the step that does it, under Method, and it is on offer.",
    "why_waved": "Say in a word why {words} is not in the dish, as in “only for the photograph”: it is kept with the try.",
    "line_gone": "That line is not in this try any more. The bench below is how it stands now.",
    "last_line": "This is the last line: a dish of nothing cannot be judged. Replace it instead.",
    "nothing_written": "That line was added in this try; there is nothing written to put back. Drop it instead.",
    "nothing_to_undo": "There is nothing left to undo.",
    "nothing_to_redo": "There is nothing to do again.",
    "not_a_job": "“{job}” is not a job; one of {jobs}.",
    "offer_gone": "That way is not open for this line any more. The ways below are how it stands now.",
    "way_gone": "That way is not kept any more. Find a way through again.",
    "nothing_decided": "Nothing was decided: choose keep it, try again, or give it up.",
    "no_reason": "Say why in a few words: the next cook who is offered the same swap will read it.",
}

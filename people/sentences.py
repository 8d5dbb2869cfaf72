"""What the people's room says."""

SENTENCES = {
    "not_licensed": "Only a licensed practitioner can confirm targets. Ask one of your practice to sign in.",
    "cannot_look_after": "{name} cannot look after people here: the account is closed, or its role does not go with it.",
    "conflict_gone": "That conflict is not there any more: the plans have changed. This is how they stand now.",
    "not_in_conflict": "That plan has no part in this conflict. Choose one of the plans named in it.",
    "share_not_a_number": "“{typed}” was typed for {meal}; a percentage is expected, as in 30.",
    "share_out_of_range": "{typed} % was typed for {meal}; 0 to 100 is expected.",
    "shares_do_not_add_up": "The meals add up to {total:g} %, and a day is 100 %: change one by {by:+g}.",
    "course": "{problem}.",
    "no_course": "This plan has no course. Choose a plan that has one.",
    "course_dates": "“{typed}” and “{weeks}” were read; a date as in 2026-03-02 and whole weeks, 2 to 6, are expected.",
    "food_unknown": "“{words}” is not a food of the tables. Write a plain name, as in carrots.",
    "measured_tomorrow": "{on:%B %-d, %Y} was typed; a date up to today is expected.",
    "value_not_a_number": "“{typed}” was typed; a number is expected, as in 4.4.",
    "date_not_a_date": "“{typed}” was typed; a date is expected, as in 2026-03-02.",
    "nothing_drafted": "The plan says nothing else for this limit any more. This is how it stands now.",
    "target_changed": "This limit was changed in another tab since your page was drawn.",
}

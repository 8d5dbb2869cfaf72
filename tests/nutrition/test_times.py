"""Where the times of a step pass, as a cook who stands there would say."""

from django.test import SimpleTestCase

from nutrition.reading.steps import waits_of
from nutrition.reading.times import times_of
from tests.nutrition.gold_methods import gold

#: Step -> where each of its times passes, "!" where somebody stands by.
CASES = {
    "Knead for 10 minutes, cover and leave to rise for 1 hour.": "hands! wait",
    "Bring to the boil and cook for 12 minutes, then drain.": "hob",
    "Brown the meat for 5 minutes, stirring, then braise in the oven at 150 °C for 3 hours.": "hob! oven",
    "Roast for 20 minutes. Turn the heat down and cook for 40 minutes more.": "oven oven",
    "Bake at 200 °C for 15 minutes, lower to 160 °C and give it 30 minutes more.": "oven oven",
    "Turn off the oven and leave the meringues in it for 2 hours.": "oven",
    "Chill for 2 hours.": "fridge",
    "Soak the beans for 8 hours.": "wait",
    "Steam for 12 minutes and serve.": "hob",
    "Whisk for 5 minutes until pale.": "hands!",
    "Simmer for 20 minutes, stirring now and then.": "hob!",
    "Grill for 4 minutes a side.": "grill",
    "Marinate in the fridge for 4 hours.": "fridge",
    "Let the meat rest for 15 minutes under foil.": "wait",
    "Deep-fry for 3 minutes.": "hob!",
    "Leave it in the oven with the door ajar for 1 hour.": "oven",
    "Toast the seeds in a dry pan for 2 minutes.": "hob!",
    "Keep it warm for 10 minutes.": "wait",
    "Poach the eggs for 3 minutes, lift them out and dry them on a cloth.": "hob",
    "Put it back in the oven for 10 minutes.": "oven",
}


class Where(SimpleTestCase):
    def test_as_a_cook_would_say(self):
        for step, wanted in CASES.items():
            with self.subTest(step):
                found = [f"{time.where}{'!' if time.is_watched else ''}" for time in times_of(step)]
                self.assertEqual(" ".join(found), wanted)

    def test_no_time_is_lost(self):
        for dish in gold():
            for step in dish.steps:
                times = [(time.seconds, time.most_seconds) for time in times_of(step.text)]
                self.assertEqual(times, [(wait.seconds, wait.most_seconds) for wait in waits_of(step.text)], step.text)

"""The worktop of a recipe as it is read: what goes into what, what stands beside it, and what a word calls."""

from django.test import SimpleTestCase

from nutrition.dish.dish import Dish
from nutrition.reading import method as reader
from nutrition.reading.method import read_method
from nutrition.reading.recipe import read_line
from tests.nutrition.gold_methods import gold

#: Lines; steps; the lines (from 1) that the last step takes in hand.
CASES = (
    # A product is found by what it must be: shaped, wet, of flour, to fill with.
    ("200 g flour;100 ml water;300 g minced lamb;1 onion", "Knead flour and water to a dough.|Mix the lamb with the onion.|"
     "Roll out the dough, put the meat on it and pinch shut.|Fry the parcels.", "1 2 3 4"),
    ("500 g beef bones;2 carrots;1 leek;100 g noodles", "Simmer the bones with the carrots in water.|Boil the noodles.|"
     "Slice the leek.|Strain the broth.", "1 2"),
    ("2 eggs;100 ml cream;1 sheet puff pastry;2 leeks;20 g butter", "Soften the leeks in the butter.|Beat the eggs with the cream.|"
     "Line a tin with the pastry, spread the leeks over it and pour on the custard.", "1 2 3 4 5"),
    # What is begun stands beside the pot, and is found by its name.
    ("400 g spinach;20 g butter;300 g rice;1 onion", "Wilt the spinach in the butter.|Boil the rice with the onion.|"
     "Stir in the spinach.", "1 2 3 4"),
    # Hot fat and hot water wait for what is cooked in them; something else cooks by itself.
    ("3 tbsp oil;4 chicken thighs;200 g rice", "Heat the oil.|Brown the thighs.|Boil the rice.", "3"),
    ("3 tbsp oil;4 chicken thighs", "Heat the oil.|Brown the thighs.", "1 2"),
    # What something lay in runs off; what is wiped off is gone.
    ("4 pork chops;300 ml milk;2 eggs", "Leave the chops in the milk for an hour.|Drain the chops.|Fry them.", "1"),
    ("4 duck legs;60 g coarse salt;500 g duck fat", "Rub the legs with the salt.|Rinse off the salt.|Cook the legs in the fat.", "1 3"),
    # Taken out, it lies beside the pot; put back, it is in it again.
    ("1 chicken;2 carrots;1 l water;1 lemon", "Simmer the chicken and carrots in the water.|Lift out the chicken.|Squeeze in the lemon.|"
     "Put the chicken back and simmer.", "1 2 3 4"),
    # A part thrown away leaves the line; what was there for its taste goes.
    ("2 duck breasts;1 onion", "Pull the skin off the duck and throw it out.|Fry the duck with the onion.", "1 2"),
    ("1 kg lamb shanks;2 bay leaves;1 l stock", "Simmer the shanks in the stock with the bay leaves.|Pull out the bay leaves and the bones.|"
     "Reduce.", "1 3"),
    # "It" of the same clause is no pot: the nuts are loosened.
    ("2 aubergines;100 g walnuts;1 clove garlic", "Fry the aubergines.|Grind the walnuts with the garlic, loosening it with water.", "2 3"),
    # Two of a food are told apart by the words before them.
    ("125 g cold butter;20 g melted butter;250 g flour", "Rub the cold butter into the flour.", "1 3"),
    ("300 g flour;1 egg;1 l chicken stock", "Mix flour and egg.|Simmer the stock.|Serve with the stock.", "3"),
)  # fmt: skip


class Cases(SimpleTestCase):
    def test_the_last_step(self):
        for lines, steps, wanted in CASES:
            with self.subTest(steps.split("|")[-1], lines=lines):
                dish = Dish("Pot", 4.0, tuple(map(read_line, lines.split(";"))), tuple(steps.split("|")))
                uses = [use.line + 1 for use in read_method(dish).steps[-1].uses]
                self.assertEqual(" ".join(map(str, uses)), wanted)


class Laws(SimpleTestCase):
    def test_what_is_gone_stands_nowhere_and_nothing_stands_that_no_step_took(self):
        seen = []
        take = reader.take_in_hand

        def watched(plain, words, state):
            taken = take(plain, words, state)
            for batch in state.top.batches:
                seen.append(len(batch.lines))
                self.assertFalse(batch.lines & state.top.gone, plain)
                self.assertTrue(batch.lines <= state.seen, plain)
            self.assertFalse(set(taken.how) - state.allowed, plain)
            return taken

        reader.take_in_hand = watched
        try:
            for dish in gold():
                reader._method.cache_clear()
                read_method(dish.dish)
        finally:
            reader.take_in_hand = take
            reader._method.cache_clear()
        self.assertGreater(len(seen), 1_000)

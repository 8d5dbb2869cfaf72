"""Offers on the bench and the way through, in the browser's terms."""

from django.urls import reverse

from bench import actions, lessons
from bench.models import Try
from bench.sight import look
from nutrition.dish.naming import description_of
from nutrition.food.table import foods
from nutrition.swaps.weights import weights
from pantry.models import SwapRule, own_rules
from people.regimen import regimen_of
from tests.web.base import PracticeTest, make_person, make_recipe

CURRY = "Chickpea curry\nServes 4\n2 tbsp olive oil\n1 onion\n1 can chickpeas, drained\n1 can coconut milk\n1 tsp salt\nMethod\nSimmer it all."


class Ways(PracticeTest):
    def setUp(self):
        super().setUp()
        plans = {"low-sodium": {"sodium": "aha"}, "heart": {}, "dairy-free": {}}
        self.eve = make_person(self.ana, "Eve", plans, energy_kcal=2000, dislikes="avocado")
        recipe = make_recipe(self.ana, CURRY)
        self.pot, self.first = actions.take_to_bench(recipe, self.eve, "dinner", self.ana)

    def key(self, words):
        return next(row.key for row in self.pot.written.lines if words in row.text)

    def edit(self, **data):
        self.first.refresh_from_db()
        url = reverse("bench:edit", args=[self.pot.pk, self.first.pk])
        return self.client.post(url, {"version": self.first.version, **data}, headers={"HX-Request": "true"})

    def lines(self, attempt=None):
        attempt = attempt or self.first
        attempt.refresh_from_db()
        return actions.standing_edit(attempt).dish.lines

    def open_line(self, words):
        return self.client.get(f"{self.first.get_absolute_url()}?line={self.key(words)}")

    def test_offers_stand_in_the_drawer(self):
        page = self.open_line("coconut milk")
        self.assertContains(page, "It is here for: creamy")
        self.assertContains(page, 'data-choice="1"')
        self.assertNotContains(page, "Whole milk")

    def test_an_offer_is_taken_with_its_effects(self):
        salt = self.key("salt")
        response = self.edit(act="offer", line=salt, offer="salt-salty-less-0-25")
        self.assertEqual(response.status_code, 200)
        row = next(row for row in self.lines() if row.key == salt)
        self.assertAlmostEqual(row.grams, 1.5, delta=0.1)
        self.edit(act="undo")
        self.assertEqual(self.lines(), self.pot.written.lines)

    def test_an_offer_of_several_foods_makes_lines_of_their_own(self):
        milk = self.key("coconut milk")
        self.edit(act="offer", line=milk, offer="coconutmilk-creamy-mix-3")
        self.assertEqual(len(self.lines()), len(self.pot.written.lines) + 1)
        self.assertEqual(len({row.key for row in self.lines()}), len(self.lines()))

    def test_an_offer_that_is_not_open_is_refused(self):
        response = self.edit(act="offer", line=self.key("coconut milk"), offer="coconutmilk-creamy-mix")
        self.assertContains(response, "not open for this line", status_code=422)
        self.assertEqual(self.lines(), self.pot.written.lines)

    def test_preview_saves_nothing(self):
        url = reverse("bench:preview", args=[self.pot.pk, self.first.pk])
        response = self.client.get(url, {"line": self.key("salt"), "offer": "salt-salty-drop"})
        self.assertContains(response, "If you take it:")
        self.assertContains(response, "Sodium")
        self.assertEqual(self.lines(), self.pot.written.lines)
        self.assertEqual(self.client.get(url, {"line": "nope", "offer": "x"}).status_code, 404)
        self.assertEqual(self.client.get(url, {"line": self.key("salt"), "offer": "x"}).status_code, 404)

    def test_the_way_opens_every_gate(self):
        url = reverse("bench:way", args=[self.pot.pk, self.first.pk])
        self.assertContains(self.client.get(url), "never touch")
        page = self.client.get(url, {"find": "1"})
        self.assertContains(page, "Way 1")
        signed = page.context["ways"][0][2]
        response = self.client.post(reverse("bench:take_way", args=[self.pot.pk, self.first.pk]), {"way": signed})
        branch = Try.objects.latest("pk")
        self.assertRedirects(response, branch.get_absolute_url())
        sight = look(self.pot, actions.standing_edit(branch), regimen_of(self.eve).eater, attempt=branch)
        self.assertEqual({gauge.verdict.state for gauge in sight.gauges}, {"open"})
        self.assertEqual(branch.edits.count(), 1 + len(page.context["ways"][0][1]))
        self.assertEqual(self.lines(), self.pot.written.lines)

    def test_a_way_can_be_taken_up_to_a_step(self):
        page = self.client.get(reverse("bench:way", args=[self.pot.pk, self.first.pk]), {"find": "1"})
        data = {"way": page.context["ways"][0][2], "count": "1"}
        self.client.post(reverse("bench:take_way", args=[self.pot.pk, self.first.pk]), data)
        self.assertEqual(Try.objects.latest("pk").cursor, 1)

    def test_a_way_from_before_a_change_is_refused(self):
        page = self.client.get(reverse("bench:way", args=[self.pot.pk, self.first.pk]), {"find": "1"})
        self.edit(act="drop", line=self.key("onion"))
        take = reverse("bench:take_way", args=[self.pot.pk, self.first.pk])
        for signed, words in (
            (page.context["ways"][0][2], "changed since this way was found"),
            ("forged", "not kept any more"),
        ):
            response = self.client.post(take, {"way": signed}, follow=True)
            self.assertContains(response, words)
        self.assertEqual(self.pot.tries.count(), 1)

    def test_everything_pinned_is_said(self):
        url = reverse("bench:way", args=[self.pot.pk, self.first.pk])
        page = self.client.get(url, {"find": "1", "pin": [row.key for row in self.pot.written.lines]})
        self.assertContains(page, "Every line is pinned")

    def test_at_least_half_stays(self):
        url = reverse("bench:way", args=[self.pot.pk, self.first.pk])
        salt = self.key("salt")
        wished = self.client.get(url, {"find": "1", "nothing_new": "on", "one_pot": "on", "never": "soy"})
        self.assertContains(wished, 'value="soy"')
        self.assertNotContains(wished, "To buy")
        page = self.client.get(url, {"find": "1", f"keep-{salt}": "half"})
        for way, *_ in page.context["ways"]:
            left = sum(line.grams for line in way.lines if description_of(line).startswith("Salt, table"))
            self.assertGreaterEqual(left, 0.49 * 6.1)

    def test_what_to_do_differently_reaches_the_card(self):
        self.edit(act="offer", line=self.key("salt"), offer="salt-salty-lemon-juice")
        self.first.refresh_from_db()
        card = self.client.get(reverse("handouts:card", args=[self.first.pk]))
        self.assertContains(card, "Stir in off the heat.")

    def test_a_dish_that_is_through_says_so_and_which_labels_to_read(self):
        eater = make_person(self.ana, "Rhys", {"gluten-free": {}})
        recipe = make_recipe(self.ana, "Gnocchi pan\nServes 4\n500 g gnocchi\n300 g spinach\nMethod\nFry the gnocchi.")
        pot, first = actions.take_to_bench(recipe, eater, "dinner", self.ana)
        page = self.client.get(reverse("bench:way", args=[pot.pk, first.pk]), {"find": "1", "sure": "likely"})
        self.assertContains(page, "through as it stands")
        self.assertContains(page, "Labels to read")

    def test_nobody_with_limits(self):
        free = make_person(self.ana, "Uma", {})
        pot, first = actions.take_to_bench(self.recipe, free, "dinner", self.ana)
        page = self.client.get(reverse("bench:way", args=[pot.pk, first.pk]), {"find": "1"})
        self.assertContains(page, "no limit to meet")


class TheWhole(PracticeTest):
    def test_a_slumping_cake_is_said_with_its_remedy(self):
        cake = "Lemon cake\nServes 8\n250 g flour\n3 eggs\n200 g sugar\n150 g butter\n2 tsp baking powder\nMethod\nBeat the butter and sugar.\nBake 40 minutes."
        bench, attempt = actions.take_to_bench(make_recipe(self.ana, cake), self.person, "snack", self.ana)
        eggs = next(row.key for row in bench.written.lines if "eggs" in row.text)
        actions.drop(attempt, attempt.version, eggs, self.ana)
        page = self.client.get(attempt.get_absolute_url())
        self.assertContains(page, "Less binds it than as written")
        self.assertContains(page, "ground flaxseed")

    def test_steps_on_the_card_follow_a_swap(self):
        from nutrition.food.table import foods

        cake = "Lemon cake\nServes 8\n250 g flour\n150 g butter\nMethod\nMelt the butter.\nBake 40 minutes."
        bench, attempt = actions.take_to_bench(make_recipe(self.ana, cake), self.person, "snack", self.ana)
        butter = next(row.key for row in bench.written.lines if "butter" in row.text)
        oil = foods().by_description("Oil, olive, salad or cooking").id
        actions.set_food(attempt, attempt.version, butter, oil, self.ana)
        self.assertContains(self.client.get(reverse("handouts:card", args=[attempt.pk])), "Melt the olive oil.")


class Felt(PracticeTest):
    def test_every_weight_is_shown_with_what_it_stands_for(self):
        page = self.client.get(reverse("pantry:felt"))
        for name, (_, told) in weights().items():
            self.assertContains(page, name)
            self.assertContains(page, told[:40])

    def test_what_was_given_up_is_farther_what_was_kept_nearer(self):
        salt = self.sodium_line()
        lemon = foods().by_description("Lemon juice, raw").id
        actions.set_food(self.attempt, self.attempt.version, salt.key, lemon, self.ana)
        for choice, shift in (("give up", -0.1), ("keep", 0.05)):
            lessons.decide(self.attempt, choice, "so it was", self.ana)
            self.assertEqual(lessons.learned(), {(salt.food_id, lemon): shift})  # the latest decision of a try counts


class OwnSwaps(PracticeTest):
    def add(self, **data):
        fields = {"replaces": "salt", "how": "swap", "food1": "lemon zest", "grams1": "50", "job": "salty",
                  "closeness": "0.8", "source": "our tests"} | data  # fmt: skip
        return self.client.post(reverse("pantry:add_rule"), fields)

    def test_takes_part_at_once(self):
        self.add()
        salt = self.sodium_line().key
        self.assertContains(self.client.get(f"{self.attempt.get_absolute_url()}?line={salt}"), "Lemon zest")

    def test_refusals_keep_what_was_typed(self):
        for data, words in (
            ({"grams1": "0"}, "0"), ({"food1": "salt"}, "in its own place"), ({"food1": "zzyzx"}, "not a food"),
            ({"replaces": "zzyzx"}, "not a food"), ({"source": ""}, "required"), ({"grams1": ""}, "How many grams"),
            ({"food1": ""}, "of which food"), ({"food1": "", "grams1": ""}, "Which food takes over"),
            ({"how": "less"}, "How much of it"), ({"how": "less", "percent": "200"}, "between 0 and 1"),
        ):  # fmt: skip
            response = self.add(**data)
            self.assertContains(response, words, status_code=422)
            self.assertContains(response, data.get("food1", "lemon zest"), status_code=422)

    def test_field_by_field(self):
        """Several foods, a part that stays, less of it, nothing: each as one would say it."""
        for data, told in (
            ({"food2": "garlic", "grams2": "12,5"}, "50 g lemon zest + 12 g garlic for 100 g"),
            ({"keeps": "40"}, "40 g of it kept + 50 g lemon zest for 100 g"),
            ({"how": "less", "percent": "50"}, "50% of it"),
            ({"how": "drop"}, "nothing: left out"),
        ):
            self.assertEqual(self.add(**data).status_code, 302)
            self.assertContains(self.client.get(reverse("pantry:pantry")), told)
        self.assertEqual(own_rules()[-1].closeness, 0.8)

    def test_a_rule_whose_food_is_not_understood_any_more_stops_nothing(self):
        kept = {"replaces": "salt", "job": "salty", "source": "old", "set_by": self.ana}
        SwapRule.objects.create(to="white bread, low sodium, no salt * 1", practice_id=self.ana.practice_id, **kept)
        self.assertEqual(own_rules(), ())
        self.assertEqual(
            self.client.get(f"{self.attempt.get_absolute_url()}?line={self.sodium_line().key}").status_code, 200
        )
        self.assertContains(self.client.get(reverse("pantry:pantry")), "not in use")

    def test_names_of_foods_come_by_typing(self):
        page = self.client.get(reverse("pantry:names"), {"food1": "lemon"})
        self.assertContains(page, "Lemon")
        self.assertContains(page, "<option")

    def test_everyone_at_the_table(self):
        make_person(self.ana, "Uma", {"vegan": {}})
        response = self.client.get(reverse("bench:table", args=[self.bench.pk, self.attempt.pk]))
        for words in ("Imre", "Uma", "contains", "Sodium"):
            self.assertContains(response, words)

    def test_three_in_one_comparison(self):
        second = actions.start_try(self.bench, self.attempt, self.ana, "Bold try")
        actions.drop(second, second.version, self.sodium_line(second).key, self.ana)
        url = reverse("bench:compare", args=[self.bench.pk, self.attempt.pk])
        response = self.client.get(url, {"with": second.pk})
        self.assertContains(response, '<th class="number">Bold try</th>')
        self.assertEqual(self.client.get(url, {"with": "nonsense"}).status_code, 200)

    def test_jobs_can_be_corrected(self):
        salt = self.sodium_line().key
        url = reverse("bench:edit", args=[self.bench.pk, self.attempt.pk])
        data = {"version": self.attempt.version, "act": "jobs", "line": salt, "job": ["keeps"]}
        page = self.client.post(url, data, headers={"HX-Request": "true"})
        self.assertNotContains(page, "Lemon juice")
        self.bench.refresh_from_db()
        self.assertEqual(self.bench.jobs, {salt: ["keeps"]})
        refused = self.client.post(url, data | {"job": ["shine"]}, headers={"HX-Request": "true"})
        self.assertContains(refused, "is not a job", status_code=422)

    def test_lines_by_share(self):
        page = self.client.get(self.attempt.get_absolute_url(), {"order": "share", "watch": "sodium_mg"})
        shares = [row.share for row in page.context["sight"].threads]
        self.assertEqual(shares, sorted(shares, reverse=True))

"""The method on the bench, as a cook goes through it: a step written anew, undone, told after a swap; what is eaten answered; a release that waits."""

from django.urls import reverse

from accounts.scope import within
from bench import actions as bench_actions
from tests.browser.base import BrowserTest
from tests.web.base import make_recipe
from tests.web.test_method import TOFU


class Method(BrowserTest):
    def setUp(self):
        super().setUp()
        with within(self.ana.practice):
            dish = make_recipe(self.ana, TOFU)
            self.bench, self.attempt = bench_actions.take_to_bench(dish, self.person, "dinner", self.ana)
        self.go(f"/bench/{self.bench.pk}/try/{self.attempt.pk}/")
        self.see("Gates for one serving")

    def test_a_step_is_written_anew_undone_and_told_after_a_swap(self):
        page = self.page
        page.locator("[data-step]").nth(2).locator(".food").focus()
        self.key("e")
        page.wait_for_selector("#step-text")
        self.assertEqual(page.input_value("#step-text"), "Cut the lime.")
        page.fill("#step-text", "Cut the lime and scatter with peanuts.")
        page.click("text=Save")
        self.see("was: Cut the lime.")
        page.wait_for_selector("#method >> text=adds peanut")
        self.key("u")
        page.wait_for_selector("text=was: Cut the lime.", state="detached")
        # A food of a step leads to its line, and the line lights its places.
        page.locator("[data-step]").first.locator(".food", has_text="honey").click()
        page.wait_for_selector(".food.is-lit")
        self.see("written as “1 tbsp honey”")
        page.click("text=Leave it out")
        self.see("was: Marinate the tofu in the fish sauce and honey for an hour.")
        self.assertIn("Marinate the tofu in the fish sauce for an hour.", page.inner_text("#method"))

    def test_what_is_eaten_is_answered(self):
        page = self.page
        page.click("text=poured off: 5 to 40 % counts")
        page.wait_for_selector("#method [aria-pressed=true]")
        self.assertIn("poured off", page.inner_text("#method [aria-pressed=true]"))
        page.click("text=it is eaten: all of it counts")
        page.wait_for_selector("#method [aria-pressed=true]:has-text('it is eaten')")

    def test_on_a_phone_it_is_the_second_leaf(self):
        page = self.page
        page.set_viewport_size({"width": 390, "height": 844})
        self.assertFalse(page.is_visible("#method"))
        page.click(".tabs >> text=Method")
        page.wait_for_selector("#method", state="visible")
        self.assertFalse(page.is_visible("#lines"))
        page.locator("[data-step]").nth(1).locator("[data-edit]").click()
        page.wait_for_selector("#step-text")
        self.assertTrue(page.is_visible("#method"))

    def test_a_release_waits_and_says_for_which_words(self):
        page = self.page
        page.locator("[data-step]").nth(2).locator(".food").focus()
        self.key("e")
        page.wait_for_selector("#step-text")
        page.click("text=Leave it out >> nth=0")
        page.wait_for_selector(".step.is-out")
        self.go(reverse("handouts:release", args=[self.attempt.pk]))
        self.see("No step says what is done with 1 lime.")

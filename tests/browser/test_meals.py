"""A table by keyboard, a day and a week, and all of it on a phone."""

from datetime import date

from playwright.sync_api import expect

from accounts.scope import within
from meals import actions
from meals.models import Occasion
from tests.browser.base import BrowserTest
from tests.web.base import make_person, make_recipe

POT = (
    "Squash and cream pot\nServes 4\n800 g butternut squash, diced\n1 onion, chopped\n1 tbsp olive oil\n200 ml heavy cream\n1 tsp salt\nMethod\n"
    "Soften the onion in the oil for 5 minutes.\nAdd the squash and simmer for 20 minutes.\nStir in the cream and salt."
)
OATS = "Overnight oats with apple\nServes 1\n60 g rolled oats\n200 ml skim milk\n1 apple, grated\nMethod\nChill for 8 hours."
STEW = "Carrot and chicken stew\nServes 2\n300 g chicken breast\n400 g carrots\n1 tbsp olive oil\nMethod\nSimmer for 30 minutes."


class TableTest(BrowserTest):
    def setUp(self):
        super().setUp()
        with within(self.ana.practice):
            self.person.household = "Harbor"
            self.person.save()
            make_person(self.ana, "Noor", {"free-of:milk": {}}, household="Harbor")
            self.pot = make_recipe(self.ana, POT)
            self.table = actions.begin(date(2027, 3, 1), "dinner", "Harbor", "Long evening", self.ana)
            actions.add_try(self.table, None, self.attempt)

    def open(self):
        self.go(self.table.get_absolute_url())
        self.page.wait_for_selector(".crossings")

    def portion(self, who, dish):
        return self.page.get_by_label(f"{who}: portion of {dish}")


class ByKeyboard(TableTest):
    def test_a_dish_is_added_portioned_split_and_taken_off(self):
        page = self.page
        self.expected_status |= {422}
        self.open()
        page.locator("#add-words").focus()
        page.keyboard.type("squash")
        expect(page.locator(".dishes-found li")).to_have_count(1)
        self.settled()
        page.keyboard.press("Tab")
        page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        expect(self.portion("Imre", "Squash and cream pot")).to_be_visible()
        self.settled()
        # Up and down go through one eater's portions; a word is enough, and the gates answer.
        self.portion("Imre", "Barley soup").focus()
        page.keyboard.press("ArrowDown")
        expect(self.portion("Imre", "Squash and cream pot")).to_be_focused()
        page.keyboard.type("half")
        page.keyboard.press("Tab")
        self.settled()
        expect(self.portion("Imre", "Squash and cream pot")).to_have_value("half")
        # What cannot be read stays as it was typed.
        self.portion("Imre", "Barley soup").fill("a good lot")
        self.portion("Imre", "Barley soup").press("Tab")
        self.see("is no portion that can be read")
        expect(self.portion("Imre", "Barley soup")).to_have_value("a good lot")
        self.portion("Imre", "Barley soup").fill("none")
        self.portion("Imre", "Barley soup").press("Tab")
        self.settled()
        # Noor cannot have cream: it waits, and her part is taken out.
        self.see("Leave heavy cream")
        page.locator("button:has-text('Serve it so')").first.press("Enter")
        self.see("without 200 ml heavy cream")
        page.locator("tr[data-row]", has_text="Barley soup").locator("summary").press("Enter")
        page.locator("button:has-text('Take it off the table')").first.press("Enter")
        self.see("put back")
        expect(self.portion("Imre", "Barley soup")).to_have_count(0)
        page.locator("button:has-text('put back')").press("Enter")
        expect(self.portion("Imre", "Barley soup")).to_have_value("none")

    def test_the_whole_table_is_laid_otherwise_once_it_was_told(self):
        with within(self.ana.practice):
            actions.add_recipe(Occasion.objects.get(pk=self.table.pk), None, self.pot)
        self.open()
        self.page.locator("button:has-text('A way for everybody')").press("Enter")
        told = self.page.get_by_label("A way over the whole table")
        expect(told).to_be_visible(timeout=60_000)
        expect(told).to_contain_text("changed for this table")
        expect(self.page.locator(".crossings")).to_contain_text("contains milk")
        told.locator("button:has-text('Lay the table so')").press("Enter")
        expect(self.page.locator(".crossings")).not_to_contain_text("contains milk")
        self.see("Changed for this table.")

    def test_a_guest_sits_down(self):
        page = self.page
        self.open()
        page.locator("summary:has-text('Somebody else sits down')").press("Enter")
        page.fill("#guest", "Ottilie")
        page.locator("label:has-text('Free of egg')").click()
        page.locator("button:has-text('The guest sits down')").press("Enter")
        expect(page.locator(".crossings thead", has_text="Ottilie")).to_be_visible()
        self.settled()
        expect(page.locator(".crossings thead", has_text="Free of egg")).to_be_visible()

    def test_a_week_is_planned_and_laid(self):
        page = self.page
        with within(self.ana.practice):
            for text in (OATS, STEW):
                make_recipe(self.ana, text)
        self.go(f"/meals/week/{self.person.pk}/2027-03-08/")
        page.locator("button:has-text('Plan the open places')").press("Enter")
        page.wait_for_selector(".plan-days, #plan .empty, #plan .words-shut")
        self.see("dishes of the library were looked at")
        if page.locator("button:has-text('Lay these tables')").count():
            page.locator("button:has-text('Lay these tables')").press("Enter")
            self.see("came onto tables")
        page.locator(".crossings thead a").first.press("Enter")
        page.wait_for_selector(".day-meals")

    def test_what_a_day_has_room_for_comes_onto_the_table(self):
        page = self.page
        with within(self.ana.practice):
            make_recipe(self.ana, STEW)
        self.go(f"/meals/day/{self.person.pk}/2027-03-09/")
        dinner = page.get_by_label("Dinner", exact=True)
        dinner.locator("summary").press("Enter")
        dinner.locator("button:has-text('Carrot and chicken stew')").press("Enter")
        self.see("Dinner: the table")
        expect(page.get_by_label("Dinner", exact=True)).to_contain_text("Carrot and chicken stew")

    def test_what_is_at_home_goes_from_the_list(self):
        page = self.page
        self.expected_status |= {422}
        self.go(f"/meals/week/{self.person.pk}/2027-03-01/shopping/")
        box = page.get_by_label("How much pearl barley is at home")
        box.fill("a good deal")
        box.press("Tab")
        self.see("was not understood")
        expect(box).to_have_value("a good deal")
        box.fill("always")
        box.press("Tab")
        self.see("At home already")
        expect(page.get_by_label("How much pearl barley is at home")).to_have_value("always")

    def test_a_person_is_found_as_one_types(self):
        page = self.page
        self.go("/people/")
        page.locator("#people-words").focus()
        page.keyboard.type("noo")
        expect(page.locator("#people-found li")).to_have_count(1)
        expect(page.locator("#people-found li")).to_contain_text("Noor")
        self.assertNotIn("noo", page.url)


class OneThumb(TableTest):
    """390 px wide: one eater at a time, nothing runs out of the page."""

    def setUp(self):
        super().setUp()
        self.page.set_viewport_size({"width": 390, "height": 800})
        with within(self.ana.practice):
            self.dish = actions.add_recipe(Occasion.objects.get(pk=self.table.pk), None, self.pot)

    def test_the_table_shows_one_eater_and_another_at_a_tap(self):
        page = self.page
        self.open()
        visible = page.locator(".crossings thead th:visible:not(.corner)")
        expect(visible).to_have_count(1)
        page.locator(".eaters a:has-text('Noor')").click()
        self.settled()
        expect(page.locator(".crossings thead th:visible", has_text="Noor")).to_be_visible()
        self.portion("Noor", "Squash and cream pot").fill("half")
        self.portion("Noor", "Squash and cream pot").press("Tab")
        self.settled()
        expect(page.locator(".crossings thead th:visible", has_text="Noor")).to_be_visible()

    def test_nothing_runs_out_of_the_page(self):
        for path in (
            "/meals/",
            f"/meals/{self.table.pk}/",
            f"/meals/{self.table.pk}/clock/",
            f"/meals/day/{self.person.pk}/2027-03-01/",
            f"/meals/week/{self.person.pk}/2027-03-01/",
            f"/meals/week/{self.person.pk}/2027-03-01/shopping/",
            f"/meals/week/{self.person.pk}/2027-03-01/sheet/",
            f"/meals/{self.table.pk}/pot/{self.dish.pk}/",
            "/people/",
            "/recipes/?fits=",
        ):
            with self.subTest(path):
                self.go(path)
                self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), 390)

"""The whole way, from a new person and a pasted recipe to a card, as a user goes it."""

from playwright.sync_api import expect

from accounts.models import User
from accounts.scope import within
from kitchen import actions as kitchen_actions
from tests.browser.base import BrowserTest

RECIPE = """Noodle pot
Serves 4

For the pot:
2 tbsp butter
200 g egg noodles
4 cups chicken stock
1 tsp salt
2 tbsp zhoug

Method
Boil the noodles in the stock with everything else for ten minutes.
"""


class Answers(BrowserTest):
    def test_a_key_answers_what_a_line_leaves_open(self):
        """The second answer of the line one is at, and every line of the same doubt with it."""
        page = self.page
        self.go("/recipes/import/")
        page.fill("#text", "Rolls\nServes 4\n100 g butter\n1 cup milk\n2 tbsp butter, melted\nMethod\nBake.")
        page.click("text=Read it")
        self.see("Look at these first")
        row = page.locator(".reading-line", has_text="100 g butter")
        expect(row.locator("[data-answer='2']")).to_contain_text("unsalted butter")
        row.get_by_role("button", name="Other foods").focus()
        self.key("2")
        self.see("1 more line with the same doubt")
        for text in ("100 g butter", "2 tbsp butter, melted"):
            line = page.locator(".reading-line", has_text=text)
            expect(line.locator(".said-as")).to_have_text("Butter, without salt")
            expect(line).to_contain_text("accepted")
        expect(page.locator(".reading-line", has_text="1 cup milk").locator("[data-answer]").first).to_be_visible()


class OneAfterTheOther(BrowserTest):
    def test_stepping_on_after_accepting_skips_no_line(self):
        page = self.page
        self.go("/recipes/import/")
        page.fill(
            "#text", "Rolls\nServes 4\n100 g butter\n200 g cheese\n1 cup milk\n2 tbsp honey mustard\nMethod\nBake."
        )
        page.click("text=Read it")
        self.see("Look at these first")
        doubts = [row.get_attribute("id") for row in page.locator("[data-row][data-doubt]").all()]
        self.assertGreaterEqual(len(doubts), 3)
        self.key("j")
        for at in (0, 1):
            self.key("a")
            expect(page.locator(f"#{doubts[at]}")).to_contain_text("accepted")
            self.settled()
            self.key("j")
        expect(page.locator(f"#{doubts[2]}")).not_to_contain_text("accepted")


class TheWordsThemselves(BrowserTest):
    def test_what_is_typed_beside_the_words_goes_along_and_a_mended_line_stands_in_them(self):
        page = self.page
        self.go("/recipes/import/")
        page.fill("#text", "Rolls\nServes 4\n100 g butter\n300 g zhoug\nMethod\nBake.")
        page.click("text=Read it")
        self.see("Look at these first")
        row = page.locator(".reading-line", has_text="300 g zhoug")
        row.get_by_role("button", name="Other foods").click()
        self.settled()
        typed = page.locator("input[name='text']").first
        typed.fill("300 g pesto")
        typed.press("Enter")
        self.settled()
        if not page.locator("#words-lines").is_visible():
            page.click("#words summary")
        expect(page.locator("#words-lines")).to_have_value("100 g butter\n300 g pesto")
        page.fill("#title", "Green rolls")
        page.fill("#serves", "6")
        page.fill("#words-lines", "100 g butter\n300 g pesto\n2 eggs")
        page.click("text=Read these words")
        self.see("Read anew")
        expect(page.locator("#title")).to_have_value("Green rolls")
        expect(page.locator("#serves")).to_have_value("6")
        expect(page.locator(".reading-line", has_text="2 eggs")).to_be_visible()


class WholePath(BrowserTest):
    def test_from_person_to_card(self):
        page = self.page
        self.go("/people/add/")
        page.fill("#id_name", "Zoltan Merrow")
        page.fill("#id_weight_kg", "70")
        page.check("label:has-text('Kidney, before dialysis')")
        page.click("text=Add this person")
        self.see("Confirm all 5 drafts as Ana, RD")
        page.click("text=Confirm all 5 drafts")
        self.see("confirmed")

        self.go("/recipes/import/")
        page.fill("#text", RECIPE)
        page.click("text=Read it")
        self.see("Look at these first")
        self.assertEqual(page.input_value("#serves"), "4")
        # What leaves most open comes first: the line without a food. One key accepts the next, another opens the foods.
        self.key("j", "j")
        self.key("a")
        self.see("accepted")
        page.locator(".reading-line", has_text="zhoug").get_by_role("button", name="Other foods").click()
        self.settled()
        page.fill("input[placeholder='type to search']", "pesto")
        page.wait_for_selector(".foods >> text=Pesto sauce")
        page.locator(".foods button").first.click()
        self.settled()
        page.click("text=Into the library")
        self.see("is in the library")

        page.select_option("#person", label="Zoltan Merrow")
        page.click("text=Take to the bench")
        self.see("Gates for one serving")
        page.click("a:has-text('Card')")
        self.see("What one portion holds")
        self.see("Limits confirmed by Ana, RD")
        # The correction was remembered.
        self.go("/pantry/")
        self.see("zhoug")


class BenchByKeyboard(BrowserTest):
    def line(self, text):
        return self.page.locator("tr[data-row]", has_text=text)

    def test_change_replace_drop_undo_redo_branch(self):
        page = self.page
        self.go(f"/bench/{self.bench.pk}/try/{self.attempt.pk}/")
        self.see("Gates for one serving")
        self.key("j", "j", "j")
        self.key("Enter")
        self.see("written as “1 tsp salt”")
        before = page.inner_text(".gate[aria-pressed=true] .words")
        self.key("g")
        page.keyboard.type("¼ tsp")
        self.key("Enter")
        page.wait_for_selector("tr.is-chosen >> text=less")
        self.assertNotEqual(page.inner_text(".gate[aria-pressed=true] .words"), before)
        self.key("Escape")
        self.key("u")
        page.wait_for_selector("tr.is-chosen >> text=kept")
        self.assertEqual(page.inner_text(".gate[aria-pressed=true] .words"), before)
        self.key("U")
        page.wait_for_selector("tr.is-chosen >> text=less")
        # Another food: search, then a figure.
        self.key("s")
        page.keyboard.type("cumin")
        page.wait_for_selector("#foods button")
        self.key("Escape")
        self.key("1")
        page.wait_for_selector("tr.is-chosen >> text=Cumin")
        # The next gate becomes the watched one.
        watched = page.locator("th", has_text="Share of").inner_text()
        self.key("]")
        expect(page.locator("th", has_text="Share of")).not_to_have_text(watched)
        self.key("n")
        page.wait_for_selector(".lineage >> text=Try 2")
        page.reload()
        page.wait_for_selector("text=Cumin")

    def test_focus_stays_where_the_hands_were(self):
        self.go(f"/bench/{self.bench.pk}/try/{self.attempt.pk}/")
        self.key("j", "j")
        self.key("Enter")
        self.assertTrue(self.page.evaluate("document.activeElement.dataset.place.startsWith('pick-')"))

    def test_stale_tab(self):
        self.expected_status.add(409)
        url = f"/bench/{self.bench.pk}/try/{self.attempt.pk}/?line=w2"
        self.go(url)
        other = self.context.new_page()
        other.goto(f"{self.live_server_url}{url}")
        other.click("text=Leave it out")
        other.wait_for_selector("text=left out of this try")
        other.close()
        self.page.fill("#amount", "½ tsp")
        self.page.click("form:has(#amount) >> text=Set")
        self.see("changed elsewhere")
        self.see("“½ tsp”")

    def test_refusal_in_words(self):
        self.expected_status.add(422)
        self.go(f"/bench/{self.bench.pk}/try/{self.attempt.pk}/?line=w2")
        self.page.fill("#amount", "-3")
        self.page.click("form:has(#amount) >> text=Set")
        self.see("below zero")
        self.assertEqual(self.page.input_value("#amount"), "-3")

    def test_draining_by_mouse(self):
        self.go(f"/bench/{self.bench.pk}/try/{self.attempt.pk}/?line=w3")
        self.page.click("text=drained and rinsed")
        self.page.wait_for_selector("tr.is-chosen >> text=240 g")

    def test_works_on_a_phone(self):
        self.page.set_viewport_size({"width": 390, "height": 800})
        for path in (
            "/",
            f"/bench/{self.bench.pk}/try/{self.attempt.pk}/",
            f"/people/{self.person.pk}/",
            f"/recipes/{self.recipe.pk}/reading/",
        ):
            self.go(path)
            wide = self.page.evaluate("document.documentElement.scrollWidth")
            self.assertLessEqual(wide, 390, path)

    def test_a_way_by_keyboard_with_its_preview(self):
        page = self.page
        self.go(f"/bench/{self.bench.pk}/try/{self.attempt.pk}/?line=w2")
        before = page.inner_text("#gauges .gate .words")
        page.focus("[data-choice='1']")
        page.wait_for_selector("text=If you take it:")
        self.assertNotEqual(page.inner_text("#gauges .gate .words"), before)
        page.focus("#amount")
        expect(page.locator(".preview-head")).to_have_count(0)
        self.assertEqual(page.inner_text("#gauges .gate .words"), before)
        page.keyboard.press("Escape")
        self.key("1")
        expect(page.locator("#gauges .gate .words").first).not_to_have_text(before)
        self.key("w")
        self.see("The way through")
        page.click("text=Find a way through")
        self.see("Way 1")
        page.click("text=Take this way as a new try >> nth=0")
        self.see("Gates for one serving")
        expect(page.locator(".gates-head")).to_contain_text("0 shut")


class Roles(BrowserTest):
    def offered(self, path):
        """How many forms that change something the page offers."""
        self.go(path)
        return self.page.locator("main form[method=post]:visible").count()

    def test_what_a_role_does_not_go_with_is_not_offered(self):
        bench = f"/bench/{self.bench.pk}/try/{self.attempt.pk}/?line=w2"
        person, recipe, own = f"/people/{self.person.pk}/", f"/recipes/{self.recipe.pk}/", "/office/account/"
        self.assertGreater(min(self.offered(path) for path in (bench, person, recipe, own)), 0)
        User.objects.filter(pk=self.ana.pk).update(role="reader")
        self.assertEqual([self.offered(path) for path in (bench, person, recipe)], [0, 0, 0])
        self.assertGreater(self.offered(own), 0)
        User.objects.filter(pk=self.ana.pk).update(role="kitchen")
        self.assertEqual(self.offered(recipe), 0)
        with within(self.ana.practice):
            cook = kitchen_actions.begin(self.attempt, self.ana)
        self.assertGreater(self.offered(f"/kitchen/{cook.pk}/?step=1"), 0)
        self.assertGreater(self.offered(f"/kitchen/{cook.pk}/finish/"), 0)


class OneThumb(BrowserTest):
    """A dish adapted on a phone, 390 px wide: from a line to a way, with the gates in sight all along."""

    def setUp(self):
        super().setUp()
        self.page.set_viewport_size({"width": 390, "height": 800})

    def box(self, selector):
        return self.page.locator(selector).first.bounding_box()

    def test_from_line_to_way(self):
        page = self.page
        self.go(self.attempt.get_absolute_url())
        page.locator("tr[data-row]", has_text="tsp salt").locator(".pick").click()
        page.wait_for_selector(".drawer.is-chosen")
        self.settled()
        # The sheet stands at the thumb, the chosen line over it, the fence of gates on it.
        sheet, row = self.box(".drawer.is-chosen"), self.box("tr.is-chosen")
        self.assertAlmostEqual(sheet["y"] + sheet["height"], 800, delta=2)
        self.assertLess(row["y"] + row["height"], sheet["y"] + 1)
        self.assertTrue(page.locator(".slim").is_visible())
        self.assertEqual(page.locator(".slim > div").count(), page.locator("#gauges [data-gate]").count())
        # It scrolls inside, and the fence stays.
        page.locator(".offers li").last.scroll_into_view_if_needed()
        self.assertLess(abs(self.box(".slim")["y"] - self.box(".drawer.is-chosen")["y"]), 4)
        page.locator(".offers button").first.click()
        self.settled()
        expect(page.locator(".lines .changed").first).to_be_visible()
        page.locator("button:has-text('Done')").click()
        expect(page.locator(".drawer.is-chosen")).to_have_count(0)
        page.locator("a:has-text('Way through')").click()
        page.click("text=Find a way through")
        page.wait_for_selector(".way-steps, .empty, #found .plate")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)

    def test_names_have_room_at_any_width(self):
        """Of a choice, the name has two fifths of the row, and each rail stands under its head."""
        page = self.page
        page.set_viewport_size({"width": 1280, "height": 800})
        self.go(self.attempt.get_absolute_url())
        page.locator("tr[data-row]", has_text="tsp salt").locator(".pick").click()
        page.wait_for_selector(".offers button")
        for width in (1280, 1024, 900):
            page.set_viewport_size({"width": width, "height": 800})
            self.assertGreaterEqual(self.box(".offer-text")["width"], 0.38 * self.box(".offers button")["width"], width)
            heads, rails = page.locator(".offers-head .fence span"), page.locator(".offers li").first.locator(".rail")
            self.assertEqual(heads.count(), rails.count())
            for n in range(heads.count()):
                head, rail = heads.nth(n).bounding_box(), rails.nth(n).bounding_box()
                self.assertAlmostEqual(head["x"] + head["width"] / 2, rail["x"] + rail["width"] / 2, delta=3, msg=width)

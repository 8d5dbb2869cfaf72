"""What could not be sent is said where the finger is, stays typed, and is sent again: on the bench, at the stove, in forms."""

from playwright.sync_api import expect

from accounts.scope import within
from bench.models import Edit
from kitchen import actions as kitchen_actions
from kitchen.models import Tap
from people.models import Person
from tests.browser.base import BrowserTest


def broken_by(status, server=""):
    """A handler that answers posts with an error, by a page as ours where the server is named."""
    page = (
        "<html><body data-page='broken'><h1>Something broke</h1><a data-back hidden href='/'>back</a>"
        f"<script src='{server}/static/js/keep.js'></script></body></html>"
    )

    def answer(route):
        if route.request.method == "POST":
            route.fulfill(status=status, body=page if server else "broken", content_type="text/html")
        else:
            route.continue_()

    return answer


class NothingVanishes(BrowserTest):
    def setUp(self):
        super().setUp()
        self.bench_page = f"/bench/{self.bench.pk}/try/{self.attempt.pk}/?line=w2"

    def note_console(self, message):
        if "Response Status Error Code" not in message.text:  # htmx tells the console what this is about
            super().note_console(message)

    def edits(self):
        return Edit._base_manager.filter(attempt=self.attempt).count() - 1

    def type_an_amount(self):
        self.go(self.bench_page)
        self.page.fill("#amount", "½ tsp")
        self.page.click("form:has(#amount) >> text=Set")

    def sign_out_elsewhere(self):
        """The session ends while the page is open."""
        self.context.clear_cookies(name="sessionid")

    def sign_in_in_another_tab(self):
        other = self.context.new_page()
        other.goto(f"{self.live_server_url}/account/sign-in/")
        other.fill("#id_login", "ana@example.org")
        other.fill("#id_password", "a long password")
        other.keyboard.press("Enter")
        other.wait_for_selector("text=What waits")
        other.close()

    def notice(self):
        return self.page.locator(".not-sent")

    def sent_again(self):
        self.page.click(".not-sent >> text=Send it again")
        self.page.wait_for_selector("tr.is-chosen >> text=less")
        expect(self.notice()).to_have_count(0)
        self.assertEqual(self.edits(), 1)

    def test_an_edit_answered_by_an_error(self):
        for status in (500, 502):
            self.expected_status.add(status)
            self.page.route("**/edit/", broken_by(status))
            self.type_an_amount()
            expect(self.notice()).to_contain_text(f"the server answered {status}")
            self.assertEqual(self.page.input_value("#amount"), "½ tsp")
            self.assertEqual(self.edits(), 0)
            self.page.unroute("**/edit/")
        self.sent_again()

    def test_no_network(self):
        self.page.route("**/edit/", lambda route: route.abort("connectionrefused"))
        self.type_an_amount()
        expect(self.notice()).to_contain_text("could not be reached")
        self.assertEqual(self.page.input_value("#amount"), "½ tsp")
        self.page.unroute("**/edit/")
        self.troubles.clear()  # the refusal is what this is about
        self.sent_again()

    def test_a_session_that_ended_on_the_bench(self):
        self.expected_status.add(401)
        self.go(self.bench_page)
        self.sign_out_elsewhere()
        self.page.fill("#amount", "½ tsp")
        self.page.click("form:has(#amount) >> text=Set")
        expect(self.notice()).to_contain_text("You were signed out")
        expect(self.notice().get_by_role("link")).to_have_attribute("href", "/account/sign-in/")
        self.assertEqual(self.page.input_value("#amount"), "½ tsp")
        self.sign_in_in_another_tab()
        self.sent_again()

    def test_a_form_after_a_session_that_ended(self):
        """A page of its own: the door first, then what was typed, offered again."""
        self.go(f"/people/{self.person.pk}/edit/")
        self.sign_out_elsewhere()
        self.page.fill("#id_allergies", "kiwi, and two more that took long to type")
        self.page.click("text=Save")
        self.page.wait_for_selector("h1:has-text('Sign in')")
        self.page.fill("#id_login", "ana@example.org")
        self.page.fill("#id_password", "a long password")
        self.page.keyboard.press("Enter")
        expect(self.notice()).to_contain_text("It is kept")
        self.page.click(".not-sent >> text=Send it again")
        self.page.wait_for_selector("h1:has-text('Imre')")
        self.assertIn("kiwi", Person._base_manager.get(pk=self.person.pk).allergies)
        self.go(f"/people/{self.person.pk}/edit/")
        expect(self.notice()).to_have_count(0)

    def test_a_reading_and_a_checklist_that_broke(self):
        """The broken page leads back, and the page offers what was typed."""
        self.expected_status.add(500)
        for page, box in (
            (f"/recipes/{self.recipe.pk}/reading/", "#serving_grams"),
            (f"/card/{self.attempt.pk}/release/", "#portion"),
        ):
            with self.subTest(page):
                self.go(page)
                typed = "310" if "recipes" in page else "a soup plate"
                self.page.fill(box, typed)
                self.page.route(f"**{page}", broken_by(500, self.live_server_url))
                self.page.locator(f"form:has({box}) button").last.click()
                self.page.wait_for_selector("text=Something broke")
                self.page.unroute(f"**{page}")
                self.page.click("text=back")
                expect(self.notice()).to_contain_text("It is kept")
                self.page.click(".not-sent >> text=Put it back")
                self.assertEqual(self.page.input_value(box), typed)

    def with_carrot_in_hand(self):
        """A cook at the stove before the first step."""
        with within(self.ana.practice):
            cook = kitchen_actions.begin(self.attempt, self.ana)
        self.go(f"/kitchen/{cook.pk}/?step=0")
        self.page.locator(".hand-row", has_text="Carrot").click()
        self.page.wait_for_selector(".hand.is-chosen >> text=Carrot")
        # What was swapped in listens only once it has settled.
        self.page.wait_for_function(
            "!document.querySelector('.htmx-request, .htmx-swapping, .htmx-settling, .htmx-added')"
        )
        return cook

    def taps_of_carrot(self, cook, count):
        expect(self.page.locator(".taps li", has_text="Carrot")).to_have_count(count)
        expect(self.page.locator("#stove-lost")).to_be_hidden()
        self.assertEqual(Tap._base_manager.filter(cook=cook).count(), count)

    def test_kept_taps_survive_a_session_that_ended(self):
        # 403: a tap under way while the other tab signs in.
        self.expected_status |= {401, 403}
        cook = self.with_carrot_in_hand()
        self.sign_out_elsewhere()
        self.page.keyboard.press("+")
        self.page.wait_for_selector("#stove-door:not([hidden])")
        self.page.keyboard.press("+")
        self.assertEqual(Tap._base_manager.filter(cook=cook).count(), 0)
        self.sign_in_in_another_tab()
        self.taps_of_carrot(cook, 2)

    def test_a_tap_under_way_while_somebody_signs_in_again(self):
        """The new token of the sign-in overruns the tap, and then the first try to send it again."""
        self.expected_status.add(403)
        cook = self.with_carrot_in_hand()
        tokens = iter("ab")

        def overrun(route):
            token = next(tokens, None)
            if token is None:
                route.continue_()
            else:
                route.fulfill(status=403, headers={"Set-Cookie": f"csrftoken={token * 32}; Path=/"}, body="refused")

        self.page.route(f"**/kitchen/{cook.pk}/tap/", overrun)
        self.page.keyboard.press("+")
        self.taps_of_carrot(cook, 1)
        self.assertIsNone(next(tokens, None))

"""The circle from paper to plate and back: import, bench, stove, table, release, handout; by keyboard, in Chromium."""

import os
import re
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

from django.db import connection
from django.test import override_settings
from playwright.sync_api import expect

from accounts.scope import within
from kitchen import actions as kitchen_actions
from kitchen.models import Cook, Tap
from people import actions as people_actions
from tests.browser.base import BrowserTest
from tests.web.base import finished_cook
from tests.web.test_kitchen import RunningScale

ROOT = Path(__file__).resolve().parents[2]
DISH = """Parsnip pot
Serves 4

500 g parsnips, sliced
1 onion, chopped
2 tbsp olive oil
600 ml water
1 tsp salt

Method
Soften the onion in the oil for 5 minutes.
Add the parsnips, water and salt and simmer for 20 minutes.
"""


class Circle(BrowserTest):
    def tab_to(self, locator):
        """Put the focus on a control as the Tab key would, and say that it can be reached by it."""
        locator.focus()
        self.assertGreaterEqual(locator.evaluate("node => node.tabIndex"), 0)

    def enter(self, name, **kwargs):
        """Press Enter on the button or link of this name."""
        found = (
            self.page.get_by_role("button", name=name, **kwargs)
            .or_(self.page.get_by_role("link", name=name, **kwargs))
            .first
        )
        self.tab_to(found)
        self.page.keyboard.press("Enter")

    def type_into(self, selector, text):
        self.tab_to(self.page.locator(selector).first)
        self.page.keyboard.press("Control+A")
        self.page.keyboard.type(text)

    def test_from_paper_to_a_released_handout_by_keyboard(self):
        page = self.page
        with within(self.ana.practice):
            for target in self.person.targets.all():
                people_actions.confirm(target, self.ana)
        self.go("/recipes/import/")
        self.type_into("#text", DISH)
        self.enter("Read it")
        self.see("Parsnips, raw")
        self.enter("Into the library")
        self.see("is in the library")
        self.enter("Take to the bench")
        self.see("Gates for one serving")
        # One line by hand: half the salt.
        for _ in range(5):
            self.key("j")
        self.key("Enter")
        self.key("g")
        page.keyboard.press("Control+A")
        page.keyboard.type("½ tsp")
        self.key("Enter")
        page.wait_for_selector("tr.is-chosen >> text=less")
        self.key("Escape")
        self.enter("Cook it")
        # At the stove: on with the arrows, a line by its number, salt with p, a timer with t, back with u.
        self.see("Lay out and weigh")
        self.key("2")
        expect(page.locator(".hand.is-chosen")).to_contain_text("Onion")
        self.key("+")
        self.see("Onion: 10 g more")
        self.key("u")
        expect(page.locator(".taps")).not_to_contain_text("Onion")
        self.key("ArrowRight")
        self.see("Step 1 of 2")
        self.key("t")
        expect(page.locator(".timers [data-ends]")).to_have_count(1)
        self.key("ArrowRight")
        self.see("Step 2 of 2")
        self.key("p")
        page.wait_for_selector(".taps >> text=Salt:")
        page.reload()
        self.see("Step 2 of 2")
        expect(page.locator(".timers [data-ends]")).to_have_count(1)
        self.key("ArrowRight")
        self.see("Weigh the whole dish")
        self.type_into("#cooked_g", "1180")
        self.type_into("#minutes_hands_on", "0")
        self.enter("This is how it was cooked")
        self.see("Planned beside cooked")
        self.enter("Taste and judge")
        self.type_into("#taster", "Imre")
        self.type_into("#taste", "8")
        self.enter("Keep these marks")
        self.see("Kept what Imre said")
        self.tab_to(page.locator("#choice-1"))
        page.keyboard.press("Space")
        self.type_into("#reason", "Eaten to the last spoon.")
        self.enter("Decide")
        self.see("its tries at the table")
        self.go("/card/")
        self.enter("Parsnip pot")
        self.see("before it goes out")
        self.type_into("#portion", "a soup plate")
        self.type_into("#keep_days", "3")
        self.type_into("#freeze_months", "2")
        for box in page.locator("input[name^=accept-]").all():
            box.fill("bread beside it")
        for box in page.locator("input[name^=read-]").all():
            self.tab_to(box)
            page.keyboard.press("Space")
        self.enter("Keep this")
        self.see("Everything is made sure of")
        self.enter("Release it")
        self.see("Private links")
        self.enter("Make a link")
        address = page.input_value("#address")
        other = self.browser.new_context(viewport={"width": 390, "height": 800})
        self.addCleanup(other.close)
        reader = other.new_page()
        reader.goto(address)
        reader.wait_for_selector("text=a soup plate")
        self.assertLessEqual(reader.evaluate("document.documentElement.scrollWidth"), 390)
        self.assertEqual(reader.locator("a[href^='/bench'], a[href^='/people'], nav[aria-label=Rooms]").count(), 0)


class AtTheStove(BrowserTest):
    def setUp(self):
        super().setUp()
        with within(self.ana.practice):
            self.cook = kitchen_actions.begin(self.attempt, self.ana)
        self.stove = f"/kitchen/{self.cook.pk}/?step=0"

    def taps(self):
        return list(Tap._base_manager.filter(cook=self.cook, taken_back_at=None).values_list("words", flat=True))

    def test_two_browsers_cook_at_once(self):
        self.go(self.stove)
        other = self.context.new_page()
        other.goto(f"{self.live_server_url}{self.stove}")
        self.page.locator(".hand-row", has_text="Carrot").click()
        self.page.wait_for_selector(".hand.is-chosen >> text=Carrot")
        other.locator(".hand-row", has_text="Carrot").click()
        other.wait_for_selector(".hand.is-chosen >> text=Carrot")
        self.page.keyboard.press("+")
        self.page.wait_for_selector(".taps >> text=Carrot")
        other.keyboard.press("+")
        expect(other.locator(".taps li", has_text="Carrot")).to_have_count(2)
        self.assertEqual(len(self.taps()), 2)
        other.goto(f"{self.live_server_url}/bench/{self.bench.pk}/try/{self.attempt.pk}/?line=w2")
        other.fill("#amount", "1 g")
        other.click("form:has(#amount) >> text=Set")
        other.wait_for_selector("tr.is-chosen >> text=less")
        # The pot goes by the plan it began with: an edit on the bench does not change what is being cooked.
        self.page.reload()
        self.assertEqual(len(self.taps()), 2)
        other.close()

    def test_the_scale_vanishes_and_comes_back(self):
        with RunningScale() as scale:
            url, port = scale.url, scale.port
            with override_settings(SCALE_URL=url, SCALE_IS_STANDIN=True):
                self.go(self.stove)
                expect(self.page.locator("#scale-words")).to_have_text("steady")
                self.page.fill("#standin", "84")
                self.page.click(".standin button:has-text('g')")
                expect(self.page.locator("#scale-grams")).to_have_text(re.compile(r"84\.\d g"))
                expect(self.page.locator("#scale-words")).to_have_text("steady")
                self.key("w")
                self.page.wait_for_selector(".taps >> text=84 g weighed in")
        with override_settings(SCALE_URL=url, SCALE_IS_STANDIN=True):
            expect(self.page.locator("#scale-words")).to_contain_text("No scale answers")
            self.page.fill("#grams", "90")
            self.page.keyboard.press("Enter")
            self.page.wait_for_selector(".taps >> text=90 g weighed in")
            with RunningScale(port):
                expect(self.page.locator("#scale-words")).to_have_text("steady")

    def test_a_timer_rings_in_words(self):
        self.go(self.stove)
        self.page.fill("input[name=label]", "eggs")
        self.page.fill("input[name=minutes]", "0.03")
        self.page.click(".stove-side >> text=Start")
        expect(self.page.locator("#timer-said")).to_contain_text("Time is up")
        expect(self.page.locator(".timers .is-done")).to_contain_text("eggs")

    def test_works_on_a_phone(self):
        with within(self.ana.practice):
            finished = finished_cook(self.attempt, self.ana)
            cook = kitchen_actions.begin(self.attempt, self.ana)
        self.page.set_viewport_size({"width": 390, "height": 800})
        for path in (
            f"/kitchen/{cook.pk}/?step=0", f"/kitchen/{cook.pk}/?step=1", f"/kitchen/{cook.pk}/finish/", f"/kitchen/{finished.pk}/cooked/",
            f"/kitchen/{finished.pk}/taste/", f"/kitchen/tasted/{self.bench.pk}/", f"/card/{finished.result_id}/release/",
            f"/diary/{self.bench.pk}/", "/kitchen/", "/card/",
        ):  # fmt: skip
            self.go(path)
            self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), 390, path)


class KilledInMidStep(BrowserTest):
    """The server dies without a word; taps that were answered stand, the tap in flight is sent again."""

    def start(self, port):
        at = connection.settings_dict
        url = f"postgres://{at['USER']}:{at['PASSWORD']}@{at['HOST']}:{at['PORT']}/{at['NAME']}"
        server = subprocess.Popen(
            [sys.executable, "manage.py", "runserver", f"127.0.0.1:{port}", "--noreload", "--insecure"],
            cwd=ROOT, env=os.environ | {"DATABASE_URL": url, "DJANGO_SETTINGS_MODULE": "opengate.settings.test"},
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, start_new_session=True,
        )  # fmt: skip
        self.addCleanup(self.end, server)
        for _ in range(600):
            try:
                socket.create_connection(("127.0.0.1", port), timeout=0.5).close()
                return server
            except OSError:
                time.sleep(0.1)
        raise AssertionError("the server did not start")

    def end(self, server):
        if server.poll() is None:
            os.killpg(server.pid, signal.SIGKILL)
        server.wait()

    def note_failure(self, request):
        """Here requests are meant to fail."""

    def note_console(self, message):
        """And the console says so."""

    def test_nothing_answered_is_lost(self):
        with within(self.ana.practice):
            cook = kitchen_actions.begin(self.attempt, self.ana)
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            port = free.getsockname()[1]
        server = self.start(port)
        page = self.page
        page.goto(f"http://127.0.0.1:{port}/kitchen/{cook.pk}/?step=0")
        page.locator(".hand-row", has_text="Carrot").click()
        page.wait_for_selector(".hand.is-chosen >> text=Carrot")
        page.keyboard.press("+")
        page.wait_for_selector(".taps >> text=Carrot")
        self.end(server)
        page.keyboard.press("x")
        expect(page.locator("#stove-lost")).to_be_visible()
        self.assertEqual(Tap._base_manager.filter(cook=cook).count(), 1)
        self.start(port)
        expect(page.locator("#stove-lost")).to_be_hidden()
        page.wait_for_selector(".taps >> text=left out")
        self.assertEqual(Tap._base_manager.filter(cook=cook).count(), 2)
        self.assertIsNone(Cook._base_manager.get(pk=cook.pk).finished_at)

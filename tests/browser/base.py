"""One browser a process, one context a test; nothing leaves the machine, and nothing may fail in silence."""

import os
from pathlib import Path

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.test import tag
from playwright.sync_api import expect, sync_playwright

from accounts.scope import within
from bench import actions as bench_actions
from tests.web.base import make_person, make_practice, make_recipe

AXE = (Path(__file__).parent / "axe.min.js").read_text()
CHROMIUM = "/usr/bin/chromium"
# A wait ends as soon as the page is ready; only a stuck page on a machine busy with other work uses it up.
PATIENCE_MS = 45_000
expect.set_options(timeout=PATIENCE_MS)
QUIET = [
    "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost",
    "--disable-background-networking",
]


@tag("browser")
class BrowserTest(StaticLiveServerTestCase):
    """Ana's practice with one person, one recipe and a bench; `self.page` is signed in as Ana."""

    host = "127.0.0.1"

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls._playwright = sync_playwright().start()
        cls.addClassCleanup(cls._playwright.stop)
        cls.browser = cls._playwright.chromium.launch(
            executable_path=CHROMIUM, chromium_sandbox=os.geteuid() != 0, args=QUIET
        )
        cls.addClassCleanup(cls.browser.close)

    def setUp(self):
        self.ana = make_practice("Ana House", "ana@example.org", "RD")
        with within(self.ana.practice):
            self.person = make_person(self.ana, "Imre", {"low-sodium": {}, "diabetes": {}}, energy_kcal=2000)
            self.recipe = make_recipe(self.ana)
            self.bench, self.attempt = bench_actions.take_to_bench(self.recipe, self.person, "dinner", self.ana)
        self.expected_status = {200, 204, 302, 304}
        self.troubles = []
        self.context = self.browser.new_context(
            viewport={"width": 1280, "height": 800}, reduced_motion="reduce", locale="en-US", timezone_id="UTC"
        )
        self.addCleanup(self.context.close)
        self.page = self.context.new_page()
        self.page.set_default_timeout(PATIENCE_MS)
        self.page.on("pageerror", lambda error: self.troubles.append(f"error: {error}"))
        self.page.on("requestfailed", lambda request: self.note_failure(request))
        self.page.on("response", lambda response: self.note_status(response))
        self.page.on("console", lambda message: self.note_console(message))
        self.sign_in()

    def note_failure(self, request):
        if "ERR_ABORTED" not in (request.failure or ""):
            self.troubles.append(f"failed: {request.url} {request.failure}")

    def note_status(self, response):
        if response.status not in self.expected_status:
            self.troubles.append(f"{response.status}: {response.url}")

    def note_console(self, message):
        if message.type in ("error", "warning") and "Failed to load resource" not in message.text:
            self.troubles.append(f"console: {message.text}")

    def tearDown(self):
        self.assertEqual(self.troubles, [])

    def go(self, path):
        self.page.goto(f"{self.live_server_url}{path}")

    def sign_in(self):
        self.go("/account/sign-in/")
        self.page.fill("#id_login", "ana@example.org")
        self.page.fill("#id_password", "a long password")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("text=What waits")

    def settled(self):
        """Wait until htmx has put everything in its place."""
        expect(self.page.locator(".htmx-request, .htmx-swapping, .htmx-settling")).to_have_count(0)

    def key(self, *keys):
        for key in keys:
            self.page.keyboard.press(key)
        self.page.wait_for_timeout(60)
        self.settled()

    def see(self, text):
        self.page.wait_for_selector(f"text={text}")

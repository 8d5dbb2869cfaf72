#!/usr/bin/env python3
"""Take the pictures of docs/screenshots anew, from a freshly loaded demo that ./start serves.

    .venv/bin/python tools/pictures.py http://127.0.0.1:8000 [NAME ...]

It begins a cook and leaves it on the stove; everything else is only looked at.
"""

import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from playwright.sync_api import sync_playwright  # noqa: E402

from demo import EMAIL, PASSWORD  # noqa: E402

FOLDER = ROOT / "docs" / "screenshots"
DESK, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}


class Camera:
    """A signed-in browser and the steps to each picture."""

    def __init__(self, page, base):
        self.page, self.base = page, base

    def go(self, path):
        self.page.goto(self.base + path)

    def sign_in(self):
        self.go("/account/sign-in/")
        self.page.fill("#id_login", EMAIL)
        self.page.fill("#id_password", PASSWORD)
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("text=What waits")

    def find(self, room, name):
        """Open what is called so in a list."""
        self.go(room)
        self.page.locator(f"main a:has-text('{name}')").first.click()
        self.page.wait_for_load_state("networkidle")

    def dish(self, name, attempt=""):
        self.find("/bench/", name)
        if attempt:
            self.page.locator(f".lineage a:has-text('{attempt}')").first.click()
        self.page.wait_for_selector("#workspace")

    def line(self, words):
        self.page.locator("tr[data-row]", has_text=words).first.locator(".pick").click()
        self.page.wait_for_selector(".drawer.is-chosen")

    def today(self):
        self.go("/")

    def person(self):
        self.find("/people/", "Teodora")

    def reading(self):
        self.find("/", "pea and ham pot")

    def bench(self):
        self.dish("Paprika chicken", "Try 2")

    def drawer(self):
        """A line open at seven gates."""
        self.bench()
        self.line("chicken thighs")

    def phone(self):
        """A line open under a thumb."""
        self.bench()
        self.line("pearl barley")

    def addition(self):
        self.dish("Celeriac and lentil bowl")

    def doubt(self):
        self.dish("Herbed barley pilaf", "By hand")
        self.line("vegetable stock")

    def label(self):
        self.doubt()
        self.page.click("a:has-text('A label in the hand')")
        for field, typed in (("name", "Quernmoor stock"), ("serving", "1 cup (240 g)"), ("energy_kcal", "15"), ("fat_g", "0"),
                             ("sodium_mg", "2100"), ("carbohydrate_g", "3"), ("protein_g", "1"),
                             ("ingredients", "Water, salt, onion, celery, potassium chloride")):  # fmt: skip
            self.page.fill(f"#{field}", typed)
        self.page.click("text=Keep this label")

    def way(self):
        self.dish("Chickpea and spinach curry")
        self.page.keyboard.press("w")
        self.page.click("text=Find a way through")
        self.page.wait_for_selector("text=Way 1")

    def table(self):
        self.find("/meals/", "Midwinter")
        self.page.wait_for_selector(".crossings")

    def cook(self):
        self.dish("Leek and potato bake", "Way through")
        self.page.click("button:has-text('Cook it')")
        self.page.wait_for_selector("#stove")
        self.page.goto(f"{self.page.url.partition('?')[0]}?step=4")
        self.page.wait_for_timeout(1200)

    def tasting(self):
        self.find("/kitchen/", "Paprika chicken")
        self.page.click("a:has-text('Taste and judge')")
        self.page.click("a:has-text('All its tries')")

    def release(self):
        self.addition()
        self.page.locator("a:has-text('Card')").first.click()
        self.page.locator("a:has-text('Release')").first.click()
        self.page.wait_for_load_state("networkidle")

    def card(self):
        self.find("/card/", "Paprika chicken")

    def office(self):
        self.go("/office/")

    def week(self):
        self.find("/people/", "Marguerite")
        self.page.click("main a:has-text('Their week')")

    def day(self):
        self.week()
        self.page.click(".crossings a:has-text('Tuesday')")
        self.page.wait_for_selector(".strips")

    def shopping(self):
        self.week()
        self.page.click("main a:has-text('Shopping')")

    def oven(self):
        self.table()
        self.page.click("main a:has-text('Who starts what when')")


#: name of the picture -> (steps, whole page)
PICTURES = {
    "today": (Camera.today, False), "person": (Camera.person, False),
    "reading": (Camera.reading, False), "bench": (Camera.bench, False), "method": (Camera.addition, True),
    "label": (Camera.label, True), "day": (Camera.day, False), "week": (Camera.week, True), "oven": (Camera.oven, True),
    "drawer": (Camera.drawer, False), "way-through": (Camera.way, False), "table": (Camera.table, False),
    "office": (Camera.office, False), "shopping": (Camera.shopping, False),
    "cook": (Camera.cook, False), "tasting": (Camera.tasting, False),
    "release": (Camera.release, True), "card": (Camera.card, True), "phone": (Camera.phone, False),
}  # fmt: skip


def main(base, names):
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", chromium_sandbox=False)
        for name in names or PICTURES:
            steps, whole = PICTURES[name]
            page = browser.new_context(viewport=PHONE if name == "phone" else DESK, reduced_motion="reduce").new_page()
            camera = Camera(page, base.rstrip("/"))
            camera.sign_in()
            steps(camera)
            page.wait_for_load_state("networkidle") if name != "cook" else None
            page.wait_for_timeout(400)
            page.screenshot(path=FOLDER / f"{name}.png", full_page=whole)
            page.context.close()
            print(name)
        browser.close()


if __name__ == "__main__":
    if len(sys.argv) < 2:
        sys.exit(__doc__)
    main(sys.argv[1], sys.argv[2:])

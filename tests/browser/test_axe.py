"""axe-core finds no violation on any page, at desk and phone width."""

from tests.browser.base import AXE, BrowserTest


class Accessible(BrowserTest):
    def violations(self):
        self.page.evaluate(AXE)
        found = self.page.evaluate("axe.run(document, {resultTypes: ['violations']})")
        return [
            f"{v['id']}: {n['target']} {n['failureSummary'][:160]}" for v in found["violations"] for n in v["nodes"]
        ]

    def test_every_page(self):
        bench = f"/bench/{self.bench.pk}/try/{self.attempt.pk}/"
        target = None
        from accounts.scope import within

        with within(self.ana.practice):
            target = self.person.targets.first().pk
        pages = [
            "/", "/keys/", "/find/?q=barley", "/find/?q=zzzzqq", "/people/", "/people/add/", f"/people/{self.person.pk}/",
            f"/people/{self.person.pk}/edit/", f"/people/targets/{target}/", "/recipes/", "/recipes/import/",
            f"/recipes/{self.recipe.pk}/", f"/recipes/{self.recipe.pk}/reading/", "/bench/", bench, f"{bench}?line=w2",
            f"{bench}?line=w3", f"{bench}compare/", f"/card/{self.attempt.pk}/", "/pantry/?q=oats",
            "/pantry/food/curated/quark-low-fat/", "/account/password/",
        ]  # fmt: skip
        for path in pages:
            with self.subTest(path):
                self.go(path)
                self.assertEqual(self.violations(), [])
        self.page.set_viewport_size({"width": 390, "height": 800})
        for path in ("/", bench, f"/card/{self.attempt.pk}/", f"/recipes/{self.recipe.pk}/reading/"):
            with self.subTest(path, width=390):
                self.go(path)
                self.assertEqual(self.violations(), [])

    def test_the_door(self):
        self.context.clear_cookies()
        self.go("/account/sign-in/")
        self.assertEqual(self.violations(), [])

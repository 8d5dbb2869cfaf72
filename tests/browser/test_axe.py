"""axe-core finds no violation on any page, at desk and phone width."""

from datetime import date

from handouts import actions as handout_actions
from kitchen import actions as kitchen_actions
from meals import actions as meal_actions
from tests.browser.base import AXE, BrowserTest
from tests.web.base import finished_cook, made_release


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
            finished = finished_cook(self.attempt, self.ana)
            cook = kitchen_actions.begin(self.attempt, self.ana)
            release = made_release(finished.result, self.ana)
            table = meal_actions.begin_for(self.person, date(2026, 12, 24), "dinner", self.ana)
            on_table = meal_actions.add_try(table, None, self.attempt)
            _, week_token = meal_actions.give_week(self.person, table.on, "<h1>A week</h1>", 7, "Imre", self.ana)
            meal_actions.seat_guest(table, None, "Ottilie", ["gluten-free", "free-of:egg"], None, None)
            _, token = handout_actions.give_link(release, 7, "Imre", self.ana)
        pages = [
            "/", "/keys/", "/find/?q=barley", "/find/?q=zzzzqq", "/people/", "/people/add/", f"/people/{self.person.pk}/",
            f"/people/{self.person.pk}/edit/", f"/people/{self.person.pk}/plans/", f"/card/of/{self.person.pk}/",
            f"/people/targets/{target}/", "/recipes/", "/recipes/import/",
            f"/recipes/{self.recipe.pk}/", f"/recipes/{self.recipe.pk}/reading/", "/bench/", bench, f"{bench}?line=w2",
            f"{bench}?line=w3", f"{bench}compare/", f"/card/{self.attempt.pk}/", "/pantry/?q=oats",
            "/pantry/food/curated/quark-low-fat/", "/account/password/", "/kitchen/", f"/kitchen/{cook.pk}/?step=0",
            "/pantry/labels/enter/", "/pantry/labels/enter/?form=eu", f"{bench}jars/?line=w1", "/office/figures/",
            "/office/figures/curated:quark-low-fat/",
            f"/kitchen/{cook.pk}/?step=1", f"/kitchen/{cook.pk}/finish/", f"/kitchen/{finished.pk}/cooked/",
            f"/kitchen/{finished.pk}/taste/", f"/kitchen/tasted/{self.bench.pk}/", "/kitchen/lessons/", "/card/",
            f"/card/{finished.result_id}/release/", f"/card/released/{release.pk}/", f"/card/{finished.result_id}/shopping/",
            "/meals/", f"/meals/{table.pk}/", f"/meals/{table.pk}/clock/", f"/meals/week/{self.person.pk}/{table.on}/",
            f"/meals/day/{self.person.pk}/{table.on}/", f"/meals/week/{self.person.pk}/{table.on}/shopping/",
            f"/meals/week/{self.person.pk}/{table.on}/sheet/", f"/meals/{table.pk}/pot/{on_table.pk}/", f"/meals/for/{week_token}/",
            f"/recipes/{self.recipe.pk}/delete/", "/recipes/?fits=&q=barley", "/people/?away=1",
            f"/diary/{self.bench.pk}/", f"/card/for/{token}/", f"/card/for/{token}/?print=large", f"/card/for/{token}/?print=plain",
        ]  # fmt: skip
        for path in pages:
            with self.subTest(path):
                self.go(path)
                self.assertEqual(self.violations(), [])
        self.page.set_viewport_size({"width": 390, "height": 800})
        for path in (
            "/",
            bench,
            f"/card/{self.attempt.pk}/",
            f"/recipes/{self.recipe.pk}/reading/",
            f"/kitchen/{cook.pk}/?step=1",
            f"/card/{finished.result_id}/release/",
            "/pantry/labels/enter/",
            f"{bench}jars/?line=w1",
            f"/meals/{table.pk}/",
            f"/meals/{table.pk}/clock/",
            f"/meals/day/{self.person.pk}/{table.on}/",
            f"/meals/week/{self.person.pk}/{table.on}/",
            f"/meals/week/{self.person.pk}/{table.on}/shopping/",
            "/people/",
            "/recipes/?fits=",
        ):
            with self.subTest(path, width=390):
                self.go(path)
                self.assertEqual(self.violations(), [])

    def test_the_door(self):
        self.context.clear_cookies()
        self.go("/account/sign-in/")
        self.assertEqual(self.violations(), [])

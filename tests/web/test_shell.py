"""Sign-in, security headers, and how many queries a page may ask."""

import logging
import re
from datetime import date, datetime
from io import StringIO
from pathlib import Path
from unittest.mock import patch
from zoneinfo import ZoneInfo

from django.conf import settings
from django.core.exceptions import ValidationError
from django.test import SimpleTestCase
from django.urls import reverse

from accounts.models import known_time_zone
from kitchen import actions as kitchen_actions
from opengate.logs import Discreet
from tests.web.base import PracticeTest, finished_cook

ROOT = Path(settings.BASE_DIR)


class SignIn(PracticeTest):
    def test_with_the_form(self):
        self.client.logout()
        response = self.client.post(
            reverse("account_login"), {"login": "ana@example.org", "password": "a long password"}
        )
        self.assertRedirects(response, reverse("today"))

    def test_wrong_password_keeps_the_email(self):
        self.client.logout()
        response = self.client.post(reverse("account_login"), {"login": "ana@example.org", "password": "no"})
        self.assertContains(response, "ana@example.org")
        self.assertContains(response, "refused")

    def test_nobody_signs_up_alone(self):
        self.client.logout()
        self.assertContains(self.client.get(reverse("account_signup")), "Nobody signs up alone")

    def test_argon2_in_base_settings(self):
        from opengate.settings import base

        self.assertIn("Argon2", base.PASSWORD_HASHERS[0])


class Policy(PracticeTest):
    def test_no_inline_anything(self):
        response = self.client.get(self.attempt.get_absolute_url())
        policy = response["Content-Security-Policy"]
        self.assertIn("default-src 'none'", policy)
        self.assertNotIn("unsafe", policy)
        self.assertEqual(response["X-Frame-Options"], "DENY")

    def test_templates_hold_no_inline_style_or_script(self):
        for path in ROOT.glob("**/templates/**/*.html"):
            if ".venv" in path.parts:
                continue
            text = path.read_text()
            self.assertIsNone(re.search(r'\sstyle="|<style|\son\w+="|javascript:', text), path)
            self.assertIsNone(re.search(r"<script(?![^>]*src=)", text), path)
            self.assertIsNone(re.search(r'(?:src|href)="https?:', text), path)

    def test_nothing_is_fetched_from_elsewhere(self):
        for path in (ROOT / "static" / "css").glob("*.css"):
            self.assertIsNone(re.search(r"url\([\"']?https?:", path.read_text()), path)

    def test_templates_are_of_a_size_one_can_edit(self):
        templates = [p for p in ROOT.glob("**/*.html") if ".venv" not in p.parts and ".data" not in p.parts]
        self.assertGreater(len(templates), 70)
        for path in templates:
            lines = path.read_text().splitlines()
            self.assertLessEqual(len(lines), 150, path)
            self.assertLessEqual(max(map(len, lines), default=0), 160, path)

    def test_html_in_what_people_type_is_only_text(self):
        self.person.name = "<img src=x onerror=alert(1)>"
        self.person.save()
        self.assertNotContains(self.client.get(self.person.get_absolute_url()), "<img")


class Clock(PracticeTest):
    """Dates go by the practice's clock: at 23:30 in London it is tomorrow in Auckland."""

    def test_a_target_is_confirmed_on_the_practices_day(self):
        late = datetime(2026, 7, 1, 23, 30, tzinfo=ZoneInfo("UTC"))
        for zone, day in (
            ("", date(2026, 7, 1)),
            ("Pacific/Auckland", date(2026, 7, 2)),
            ("America/Lima", date(2026, 7, 1)),
        ):
            self.ana.practice.time_zone = zone
            self.ana.practice.save()
            self.person.targets.update(confirmed_on=None)
            with patch("django.utils.timezone.now", return_value=late):
                self.client.force_login(self.ana, backend="allauth.account.auth_backends.AuthenticationBackend")
                self.client.post(reverse("people:confirm_all", args=[self.person.pk]))
            self.assertEqual(self.person.targets.get().confirmed_on, day)

    def test_a_zone_that_is_none_is_refused_in_words(self):
        with self.assertRaisesRegex(ValidationError, "Auckland"):
            known_time_zone("Pacific/Aukland")


class Logs(SimpleTestCase):
    """What goes wrong is written down without a word of what was typed."""

    def test_no_name_no_recipe_no_token(self):
        written = StringIO()
        handler = logging.StreamHandler(written)
        handler.setFormatter(Discreet("%(levelname)s %(name)s: %(message)s"))
        log = logging.Logger("django.request")
        log.addHandler(handler)
        try:
            raise ValueError("2 tbsp butter for Imre")
        except ValueError:
            log.error("Internal Server Error: %s", "/card/for/a-secret-token/", exc_info=True)
        text = written.getvalue()
        for secret in ("Imre", "butter", "a-secret-token"):
            self.assertNotIn(secret, text)
        for told in ("ValueError", "test_shell.py", "test_no_name_no_recipe_no_token", "/card/for/…/"):
            self.assertIn(told, text)

    def test_it_is_what_the_settings_use(self):
        self.assertEqual(settings.LOGGING["formatters"]["discreet"]["()"], "opengate.logs.Discreet")


class Privacy(PracticeTest):
    def test_no_page_of_a_practice_is_kept_on_the_way(self):
        for page in (reverse("today"), reverse("people:person", args=[self.person.pk])):
            self.assertEqual(self.client.get(page)["Cache-Control"], "private, no-store")

    def test_what_is_looked_for_stands_in_no_address(self):
        self.assertContains(self.client.get(reverse("today")), f'action="{reverse("find")}"')
        self.assertContains(self.client.post(reverse("find"), {"q": "Imre"}), "Imre")
        self.assertNotContains(self.client.get(reverse("find"), {"q": "Imre"}), "Imre")


class Posts(SimpleTestCase):
    def test_a_view_reads_what_was_posted_through_a_form_alone(self):
        """So that an API can call the same verbs, and every field has its size in one place."""
        through_a_form = re.compile(r"Form\(request\.POST\b")
        views = [
            path
            for path in sorted(ROOT.glob("*/*.py"))
            if path.name != "forms.py" and path.parent.name not in ("accounts", "opengate")
        ]
        loose = [
            str(path.relative_to(ROOT))
            for path in views
            for line in path.read_text().splitlines()
            if "request.POST" in line and not through_a_form.search(line)
        ]
        self.assertEqual(loose, ["ui/posted.py"])


class Queries(PracticeTest):
    def test_budgets(self):
        line = self.sodium_line().key
        finished_cook(self.attempt, self.ana)
        self.cook = kitchen_actions.begin(self.attempt, self.ana)
        for url, most in (
            (reverse("today"), 9),
            (reverse("people:people"), 5),
            (self.person.get_absolute_url(), 9),
            (reverse("recipes:recipes"), 6),
            (self.recipe.get_absolute_url(), 10),
            (reverse("bench:benches"), 7),
            (f"{self.attempt.get_absolute_url()}?line={line}", 12),
            (reverse("handouts:card", args=[self.attempt.pk]), 10),
            (reverse("kitchen:cooks"), 8),
            (reverse("kitchen:stove", args=[self.cook.pk]), 10),
            (reverse("kitchen:sheet", args=[self.bench.pk]), 11),
            (reverse("kitchen:lessons"), 4),
            (reverse("handouts:handouts"), 6),
            (reverse("diary:diary", args=[self.bench.pk]), 10),
        ):
            with self.subTest(url), self.assertNumQueriesAtMost(most):
                self.assertEqual(self.client.get(url).status_code, 200)

    def assertNumQueriesAtMost(self, most):
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        test = self

        class AtMost(CaptureQueriesContext):
            def __exit__(self, *exc):
                super().__exit__(*exc)
                # The savepoints a test case adds are not our own.
                own = [q["sql"] for q in self.captured_queries if "SAVEPOINT" not in q["sql"]]
                test.assertLessEqual(len(own), most, "\n".join(sql[:160] for sql in own))

        return AtMost(connection)

    def test_an_edit_asks_twelve_queries_of_its_own_at_most(self):
        row = self.sodium_line()
        url = reverse("bench:edit", args=[self.bench.pk, self.attempt.pk])
        data = {"act": "amount", "line": row.key, "amount": "3 g", "version": 1}
        self.client.post(url, data | {"version": 99}, headers={"HX-Request": "true"})
        with self.assertNumQueriesAtMost(12):
            self.assertEqual(self.client.post(url, data, headers={"HX-Request": "true"}).status_code, 200)

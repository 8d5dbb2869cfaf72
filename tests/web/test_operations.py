"""For whoever runs the server: health, figures, numbers of requests, long work and what is kept of it."""

import io
import json
import logging
import sys
from datetime import timedelta
from unittest.mock import patch

from django.conf import settings
from django.db import connection
from django.test import Client, RequestFactory, SimpleTestCase, override_settings
from django.urls import reverse
from django.utils import timezone

from errands import run as errands
from errands.models import DOING, DONE, FAILED, STOPPED, WAITING, Errand
from handouts.models import Paper
from handouts.paper import may_fetch, pdf_of
from nutrition.notes import Problem
from opengate.logs import Discreet, DiscreetJson
from opengate.middleware import RequestNumberMiddleware
from tests.web.base import PracticeTest, finished_cook, made_release

#: What stands for an address that cannot be.
NO_ADDRESS = ".".join("0000")


class Health(PracticeTest):
    def test_lives_and_is_ready(self):
        visitor = Client()
        self.assertEqual(visitor.get(reverse("live")).status_code, 200)
        said = visitor.get(reverse("ready"))
        self.assertEqual((said.status_code, said.json()["database"]), (200, "ready"))
        self.assertGreater(said.json()["foods"], 7000)

    def test_a_database_that_is_gone_or_old_is_said(self):
        with patch("opengate.health.MigrationExecutor", side_effect=OSError):
            self.assertEqual(Client().get(reverse("ready")).status_code, 503)

    @override_settings(METRICS_TOKEN="a token for figures")
    def test_figures_for_who_has_the_token(self):
        self.client.get(reverse("today"))
        self.assertEqual(Client().get(reverse("metrics")).status_code, 404)
        wrong = Client().get(reverse("metrics"), headers={"Authorization": "Bearer guess"})
        self.assertEqual(wrong.status_code, 404)
        figures = Client().get(reverse("metrics"), headers={"Authorization": "Bearer a token for figures"})
        self.assertContains(figures, 'open_gate_requests_total{method="GET",status="200",view="today"}')
        self.assertNotContains(figures, "Imre")

    def test_without_a_token_there_are_none(self):
        answer = Client().get(reverse("metrics"), headers={"Authorization": "Bearer "})
        self.assertEqual(answer.status_code, 404)


class Broken(PracticeTest):
    def test_the_page_shows_the_number_the_log_has(self):
        """A traceback of places, with the number of the page; never a name, a note or a line of a recipe."""
        said = io.StringIO()
        handler = logging.StreamHandler(said)
        handler.setFormatter(Discreet("%(levelname)s %(name)s []: %(message)s"))
        logger = logging.getLogger("django.request")
        logger.addHandler(handler)
        self.addCleanup(logger.removeHandler, handler)
        self.client.raise_request_exception = False
        with patch("people.views.regimen_of", side_effect=RuntimeError(f"{self.person.name} and 1 tsp salt")):
            answer = self.client.get(reverse("people:person", args=[self.person.pk]))
        self.assertEqual(answer.status_code, 500)
        number = answer["X-Request-Number"]
        self.assertContains(answer, number, status_code=500)
        log = said.getvalue()
        self.assertIn(f"[{number}]", log)
        self.assertIn("people/views.py", log)
        self.assertIn("RuntimeError", log)
        for word in ("Imre", "salt"):
            self.assertNotIn(word, log)


class JsonLogs(SimpleTestCase):
    def test_one_object_a_line_with_no_word_of_what_was_typed(self):
        try:
            raise ValueError("Imre and 1 tsp salt")
        except ValueError:
            record = logging.getLogger("x").makeRecord(
                "x", 40, "f", 1, "at /card/for/secret-token/", (), sys.exc_info()
            )
        line = DiscreetJson().format(record)
        said = json.loads(line)
        self.assertEqual((said["level"], said["message"]), ("ERROR", "at /card/for/…/"))
        self.assertIn("ValueError", said["trace"])
        for word in ("Imre", "salt", "secret"):
            self.assertNotIn(word, line)
        self.assertNotIn("\n", line)


class TooMuch(PracticeTest):
    def test_a_body_is_refused_by_its_length_before_it_is_read(self):
        read = []

        class Body(io.BytesIO):
            def read(self, *args):
                read.append(args)
                return super().read(*args)

        answer = self.client.generic(
            "POST", reverse("recipes:import"), b"", **{"CONTENT_LENGTH": "9000000", "wsgi.input": Body(b"x" * 100)}
        )
        self.assertContains(answer, "up to 6 MB", status_code=413)
        self.assertEqual(read, [])
        for length in ("-1", "many", "9" * 40):
            answer = self.client.generic("POST", reverse("recipes:import"), b"", CONTENT_LENGTH=length)
            self.assertEqual(answer.status_code, 413)

    def test_a_form_of_thousands_of_fields_is_refused_in_words(self):
        answer = self.client.post(reverse("people:add"), {f"f{n}": "x" for n in range(2000)})
        self.assertEqual(answer.status_code, 400)


class Proxies(SimpleTestCase):
    def address(self, here, told="", trusted=()):
        with override_settings(TRUSTED_PROXIES=list(trusted)):
            seen = []
            middleware = RequestNumberMiddleware(lambda request: seen.append(request.META["REMOTE_ADDR"]) or {})
            middleware(RequestFactory().get("/", REMOTE_ADDR=here, HTTP_X_FORWARDED_FOR=told))
        return seen[0]

    def test_only_a_trusted_proxy_is_believed(self):
        for here, told, trusted, expected in (
            ("203.0.113.9", "198.51.100.7", (), "203.0.113.9"),
            ("10.0.0.5", "198.51.100.7", ("10.0.0.0/8",), "198.51.100.7"),
            ("10.0.0.5", "1.2.3.4, 198.51.100.7, 10.0.0.9", ("10.0.0.0/8",), "198.51.100.7"),
            ("203.0.113.9", "198.51.100.7", ("10.0.0.0/8",), "203.0.113.9"),
            ("10.0.0.5", "", ("10.0.0.0/8",), "10.0.0.5"),
            ("10.0.0.5", "<script>", ("10.0.0.0/8",), NO_ADDRESS),
            ("", "", (), NO_ADDRESS),
        ):
            with self.subTest(here=here, told=told):
                self.assertEqual(self.address(here, told, trusted), expected)


class LongWork(PracticeTest):
    """As in production: asked for in a request, done by a worker."""

    def setUp(self):
        super().setUp()
        queued = override_settings(ERRANDS_AT_ONCE=False)
        queued.enable()
        self.addCleanup(queued.disable)

    def work(self):
        """What a worker does with everything that waits in the queue."""
        with connection.cursor() as cursor:
            cursor.execute("SELECT args FROM procrastinate_jobs WHERE status = 'todo' ORDER BY id")
            jobs = [row[0] for row in cursor.fetchall()]
            cursor.execute("UPDATE procrastinate_jobs SET status = 'succeeded'")
        for args in jobs:
            args = json.loads(args) if isinstance(args, str) else args
            errands.carry_out_by_number(args["errand"], args["practice"])

    def way(self):
        return self.client.get(reverse("bench:way", args=[self.bench.pk, self.attempt.pk]), {"find": "1"})

    def test_a_way_is_looked_for_beside_the_request(self):
        page = self.way()
        self.assertContains(page, "Looking for ways")
        errand = page.context["errand"]
        state = reverse("bench:way_state", args=[self.bench.pk, self.attempt.pk, errand.pk])
        self.assertContains(self.client.get(state), "Looking for ways")
        self.work()
        found = self.client.get(state)
        self.assertContains(found, "Way 1")
        take = reverse("bench:take_way", args=[self.bench.pk, self.attempt.pk])
        self.assertEqual(self.client.post(take, {"way": found.context["ways"][0][2]}).status_code, 302)

    def test_it_can_be_stopped(self):
        errand = self.way().context["errand"]
        state = reverse("bench:way_state", args=[self.bench.pk, self.attempt.pk, errand.pk])
        self.assertContains(self.client.post(state), "was stopped")
        self.work()
        errand.refresh_from_db()
        self.assertEqual((errand.state, errand.result), (STOPPED, None))

    def test_one_at_a_time_for_each_user(self):
        first, second = self.way().context["errand"], self.way().context["errand"]
        first.refresh_from_db()
        self.assertEqual((first.state, second.state), (STOPPED, WAITING))
        self.assertEqual(Errand.objects.filter(state__in=(WAITING, DOING)).count(), 1)

    def test_nobody_sees_anothers_errand(self):
        errand = self.way().context["errand"]
        self.sign_in(self.bo)
        state = reverse("bench:way_state", args=[self.bench.pk, self.attempt.pk, errand.pk])
        self.assertEqual(self.client.get(state).status_code, 404)

    def test_what_breaks_is_said_and_what_cannot_be_too(self):
        for raised, words in ((Problem("bench.nothing_written"), "written"), (RuntimeError("x"), "Something broke")):
            errand = self.way().context["errand"]
            with patch.dict(errands._DOERS, {"way": lambda asked, raised=raised: (_ for _ in ()).throw(raised)}):
                self.work()
            errand.refresh_from_db()
            self.assertEqual(errand.state, FAILED)
            state = reverse("bench:way_state", args=[self.bench.pk, self.attempt.pk, errand.pk])
            self.assertContains(self.client.get(state), words)

    def test_left_by_a_worker_that_is_gone(self):
        errand = self.way().context["errand"]
        Errand.objects.update(state=DOING, asked_at=timezone.now() - timedelta(minutes=5))
        errand.refresh_from_db()
        self.assertTrue(errand.is_over)

    def test_a_card_is_set_once_and_kept(self):
        with override_settings(ERRANDS_AT_ONCE=True):
            release = made_release(finished_cook(self.attempt, self.ana).result, self.ana)
        page = reverse("handouts:released_pdf", args=[release.pk])
        waits = self.client.get(page)
        self.assertContains(waits, "is being set", status_code=202)
        state = reverse("handouts:paper_state", args=[waits.context["errand"].pk])
        self.assertEqual(self.client.get(state).json()["over"], False)
        self.work()
        self.assertEqual(self.client.get(state).json(), {"over": True, "done": True, "problem": ""})
        with patch("handouts.tasks.pdf_of", side_effect=AssertionError("rendered again")):
            self.assertEqual(self.client.get(page)["Content-Type"], "application/pdf")
        self.assertEqual(Paper.objects.get().release, release)
        self.assertEqual(Errand.objects.get(kind="pdf").state, DONE)


class Paperwork(SimpleTestCase):
    def test_a_card_fetches_nothing_but_what_ships(self):
        for address in (
            "file:///etc/passwd", "http://127.0.0.1/", "https://example.org/x.png", "data:text/plain,x", "ftp://x/y",
            f"file://{settings.BASE_DIR}/static/../opengate/settings/base.py",
            f"file://{settings.BASE_DIR}/static/%2e%2e/uv.lock",
        ):  # fmt: skip
            with self.subTest(address):
                self.assertFalse(may_fetch(address))
        self.assertTrue(may_fetch(f"file://{settings.BASE_DIR}/static/css/card.css"))
        body = '<p>A card</p><img src="file:///etc/hostname"><link rel="attachment" href="file:///etc/passwd">'
        paper = pdf_of(body, "A card", "A practice")
        self.assertNotIn(b"root:", paper)
        self.assertNotIn(b"/EmbeddedFile", paper)

"""What ./start and a server's keeper run."""

from io import StringIO

from django.core.management import CommandError, call_command
from django.test import TestCase
from django.urls import reverse

from accounts.models import Practice, User
from accounts.scope import within
from bench.actions import standing_edit
from bench.models import Decision, Try
from bench.sight import look
from demo import EMAIL
from handouts.models import Release
from kitchen.models import Cook
from people.models import Person
from people.regimen import regimen_of
from recipes.models import PartUse, Recipe

NOT_IN_THE_DEMO = [
    "enchilada",
    "lasagna",
    "carbonara",
    "pesto",
    "frittata",
    "bolognese",
    "chili",
    "casserole",
    "stuffing",
    "crumble",
    "bagel",
    "muffin",
    "brownie",
    "tenderloin",
    "skewer",
]


class Demo(TestCase):
    @classmethod
    def setUpTestData(cls):
        call_command("load_demo", stdout=StringIO())
        cls.practice = Practice.objects.get()

    def test_has_what_a_first_visit_needs(self):
        with within(self.practice):
            self.assertGreaterEqual(Person.objects.count(), 5)
            self.assertTrue(any(person.plans.count() == 2 for person in Person.objects.all()))
            self.assertEqual(Recipe.objects.filter(is_read=False).count(), 1)
            self.assertEqual(Try.objects.filter(is_finished=True).count(), 1)
            self.assertTrue(Recipe.objects.get(title__startswith="Harbor").lines.count() >= 25)
            titles = " ".join(Recipe.objects.values_list("title", flat=True)).lower()
        self.assertEqual([word for word in NOT_IN_THE_DEMO if word in titles], [])

    def test_the_finished_example_is_what_its_notes_say(self):
        with within(self.practice):
            attempt = Try.objects.select_related("bench__person").get(is_finished=True)
            sight = look(attempt.bench, standing_edit(attempt), regimen_of(attempt.bench.person).eater)
        self.assertEqual([g.nutrient for g in sight.gauges if g.verdict.state != "open"], ["energy_kcal"])

    def test_the_circle_is_told(self):
        with within(self.practice):
            self.assertEqual(Cook.objects.filter(finished_at=None).count(), 1)
            self.assertEqual(Cook.objects.filter(finished_at__isnull=False).count(), 5)
            self.assertEqual(
                sorted(Decision.objects.values_list("choice", flat=True)), ["again", "give up", "give up", "keep"]
            )
            self.assertEqual(Release.objects.get().title, "Paprika chicken with barley")
            self.assertEqual(PartUse.objects.get().part.title, "Roasted pepper sauce")

    def test_a_second_time_changes_nothing(self):
        call_command("load_demo", stdout=StringIO())
        self.assertEqual(Practice.objects.count(), 1)

    def test_today_shows_the_example_and_the_work(self):
        self.client.force_login(
            User.objects.get(email=EMAIL), backend="allauth.account.auth_backends.AuthenticationBackend"
        )
        page = self.client.get(reverse("today"))
        for words in (
            "Paprika chicken with barley",
            "pea and ham pot",
            "Targets nobody has confirmed",
            "Tries not finished",
        ):
            self.assertContains(page, words)


class AddPractice(TestCase):
    def add(self, email="kit@example.org", practice="Kit House", **options):
        options |= {"credential": "RD", "password": "a long password", "stdout": StringIO()}
        call_command("add_practice", practice, email, "Kit", **options)

    def test_first_user_is_licensed(self):
        self.add()
        user = User.objects.get(email="kit@example.org")
        self.assertTrue(user.is_licensed)
        self.assertEqual(user.signature, "Kit, RD")

    def test_the_same_email_twice(self):
        self.add()
        with self.assertRaisesMessage(CommandError, "already a user"):
            self.add("KIT@example.org")

    def test_the_same_practice_twice(self):
        self.add()
        with self.assertRaisesMessage(CommandError, "already a practice"):
            self.add("kat@example.org", " kit house ")
        self.assertEqual((Practice.objects.count(), User.objects.count()), (1, 1))

    def test_a_colleague_joins(self):
        self.add()
        self.add("kat@example.org", join=True)
        self.assertEqual(Practice.objects.get().users.count(), 2)
        with self.assertRaisesMessage(CommandError, "no practice is called"):
            self.add("kot@example.org", "Kat House", join=True)

    def test_a_new_practice_sees_what_to_do_first(self):
        self.add()
        user = User.objects.get(email="kit@example.org")
        self.client.force_login(user, backend="allauth.account.auth_backends.AuthenticationBackend")
        self.assertContains(self.client.get(reverse("today")), "Begin with the person you cook for")
        for name, words in (
            ("people:people", "Nobody yet"),
            ("recipes:recipes", "library is empty"),
            ("bench:benches", "bench is clear"),
            ("kitchen:cooks", "Nothing cooks"),
            ("kitchen:lessons", "Nothing has been decided yet"),
            ("handouts:handouts", "Nothing has been released yet"),
        ):
            self.assertContains(self.client.get(reverse(name)), words)

"""Who guesses passwords is slowed down; nobody else is shut out by it."""

from django.core.cache import cache
from django.test import override_settings
from django.urls import reverse

from tests.web.base import PracticeTest


@override_settings(AXES_ENABLED=True)
class LockOut(PracticeTest):
    def setUp(self):
        super().setUp()
        cache.clear()
        self.client.logout()

    def sign_in_with(self, email, password, address="10.0.0.1"):
        data = {"login": email, "password": password}
        return self.client.post(reverse("account_login"), data, REMOTE_ADDR=address)

    def test_guesses_at_invented_addresses_shut_nobody_out(self):
        for number in range(12):
            self.sign_in_with(f"nobody{number}@example.org", "wrong")
        self.assertRedirects(self.sign_in_with("ana@example.org", "a long password"), reverse("today"))

    def test_guesses_at_one_address_shut_that_one_out(self):
        for _ in range(12):
            refused = self.sign_in_with("ana@example.org", "wrong")
        self.assertEqual(refused.status_code, 429)
        self.assertEqual(self.sign_in_with("ana@example.org", "a long password").status_code, 429)
        self.assertRedirects(self.sign_in_with("bo@example.org", "a long password"), reverse("today"))

    def test_from_elsewhere_the_owner_still_gets_in(self):
        for _ in range(12):
            self.sign_in_with("ana@example.org", "wrong")
        answer = self.sign_in_with("ana@example.org", "a long password", "10.0.0.2")
        self.assertRedirects(answer, reverse("today"))

"""Make a practice and its first user."""

from django.core.management.base import BaseCommand, CommandError
from django.db import transaction

from accounts.models import Practice, User


class Command(BaseCommand):
    help = "Make a practice and its first user; the password is asked for."

    def add_arguments(self, parser):
        parser.add_argument("practice")
        parser.add_argument("email")
        parser.add_argument("name")
        parser.add_argument("--credential", default="", help="license of a practitioner, as in RD")
        parser.add_argument("--password", help="asked for when left out")

    @transaction.atomic
    def handle(self, *args, practice, email, name, credential, password, **options):
        if User.objects.filter(email__iexact=email).exists():
            raise CommandError(f"{email} is already a user")
        if not password:
            from getpass import getpass

            password = getpass("Password: ")
        owner = Practice.objects.create(name=practice)
        User.objects.create_user(email, password, name=name, credential=credential, practice=owner)
        self.stdout.write(f"{name} may sign in as {email}")

"""Make a practice and its first user."""

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction

from accounts.models import Practice, User, known_time_zone
from accounts.permissions import OWNER, PRACTITIONER, ROLES, STAFF


class Command(BaseCommand):
    help = "Make a practice and its first user, or add a user to one with --join; the password is asked for."

    def add_arguments(self, parser):
        parser.add_argument("practice")
        parser.add_argument("email")
        parser.add_argument("name")
        parser.add_argument("--credential", default="", help="license of a practitioner, as in RD")
        parser.add_argument("--role", choices=ROLES, help="what they may do; the first user of a practice is its owner")
        parser.add_argument("--password", help="asked for when left out")
        parser.add_argument("--time-zone", default="", help="by whose clock its days begin, as in Europe/Oslo")
        parser.add_argument("--join", action="store_true", help="the practice is there already: add the user to it")

    @transaction.atomic
    def handle(self, *args, practice, email, name, credential, role, password, time_zone, join, **options):
        if time_zone:
            try:
                known_time_zone(time_zone)
            except ValidationError as problem:
                raise CommandError(problem.message) from None
        if User.objects.filter(email__iexact=email).exists():
            raise CommandError(f"{email} is already a user")
        there = Practice.objects.filter(name__iexact=practice.strip()).first()
        if there and not join:
            raise CommandError(
                f"{there} is already a practice. To add {name} to it, say --join; to make another, choose another name"
            )
        if join and not there:
            raise CommandError(f"no practice is called {practice}. Leave --join out to make it")
        if not password:
            from getpass import getpass

            password = getpass("Password: ")
        home = there or Practice.objects.create(name=practice.strip(), time_zone=time_zone)
        user = User(email=email, name=name, credential=credential, practice=home)
        try:
            validate_password(password, user)
        except ValidationError as problem:
            raise CommandError(" ".join(problem.messages)) from None
        role = role or (OWNER if there is None else PRACTITIONER if credential else STAFF)
        User.objects.create_user(email, password, name=name, credential=credential, practice=home, role=role)
        self.stdout.write(f"{name} may sign in as {email}")

"""The drill: back up, destroy, restore on another server, walk all pages, compare every row and analysis."""

import json
import os
import subprocess
import sys
import tempfile
from io import StringIO
from pathlib import Path

import psycopg
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.test import SimpleTestCase, TransactionTestCase

from accounts.scope import within
from bench import actions as bench_actions
from handouts import actions as handout_actions
from office.keeping import CannotKeep, _binary, _opened, rows_of_tables
from tests.web.base import finished_cook, made_release, make_person, make_practice, make_recipe

ROOT = Path(settings.BASE_DIR)


def server_of_its_own(folder):
    """(address of an empty database, how to stop it): another PostgreSQL, on another port."""
    environment = os.environ | {"PG_BASE": str(folder), "PG_PORT": "54600", "PG_FAST": "1"}
    environment.pop("DATABASE_URL", None)
    address = subprocess.run(
        [str(ROOT / "bin" / "pg"), "start"], env=environment, capture_output=True, text=True, check=True
    ).stdout.strip()
    return address, lambda: subprocess.run([str(ROOT / "bin" / "pg"), "stop"], env=environment, check=True)


def run(address, *command):
    environment = os.environ | {"DATABASE_URL": address, "DJANGO_SETTINGS_MODULE": "opengate.settings.test"}
    done = subprocess.run([sys.executable, *command], env=environment, capture_output=True, text=True, cwd=ROOT)
    return done.returncode, done.stdout, done.stderr


class Drill(TransactionTestCase):
    def setUp(self):
        self.ana = make_practice("Ana House", "ana@example.org", "RD")
        with within(self.ana.practice):
            person, recipe = make_person(self.ana), make_recipe(self.ana)
            _, attempt = bench_actions.take_to_bench(recipe, person, "dinner", self.ana)
            release = made_release(finished_cook(attempt, self.ana).result, self.ana)
            handout_actions.give_link(release, 30, "Imre", self.ana)
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.folder.chmod(0o755)  # the server runs as another user where this one is root
        self.file = self.folder / "practice.backup"

    def own_address(self):
        of = connection.settings_dict
        return f"postgres://{of['USER']}:{of['PASSWORD']}@{of['HOST']}:{of['PORT']}/{of['NAME']}"

    def test_everything_comes_back_on_another_server(self):
        before = json.loads(run(self.own_address(), "-m", "tests.web.look_around", "ana@example.org")[1])
        # Looking signs in and is written down; what is compared is what stands after it.
        rows = rows_of_tables()
        call_command("backup", str(self.file), verbosity=0, stdout=StringIO())
        self.assertEqual(self.file.stat().st_mode & 0o077, 0)
        home = self.folder / "server"
        address, stop = server_of_its_own(home)
        self.addCleanup(stop)
        code, said, problem = run(address, "manage.py", "restore", str(self.file))
        self.assertEqual(code, 0, problem)
        self.assertRegex(said, r"[\d,]+ rows of \d+ tables are back")
        after = json.loads(run(address, "-m", "tests.web.look_around", "ana@example.org")[1])
        self.assertEqual(after["rows"], rows)
        self.assertEqual(after["dishes"], before["dishes"])
        self.assertEqual(after["pages"], before["pages"])
        self.assertEqual(set(after["pages"].values()), {200})
        self.assertGreater(len(after["pages"]), 12)
        # The triggers came along: the log and a released card stand there too.
        with psycopg.connect(address, autocommit=True) as restored:
            for table in ("records_entry", "handouts_release", "people_personevent"):
                with self.assertRaises(psycopg.Error):
                    restored.execute(f"DELETE FROM {table}")  # noqa: S608
        code, _, problem = run(address, "manage.py", "restore", str(self.file))
        self.assertNotEqual(code, 0)
        self.assertIn("not empty", problem)

    def test_a_damaged_or_foreign_file_is_refused(self):
        call_command("backup", str(self.file), verbosity=0, stdout=StringIO())
        whole = self.file.read_bytes()
        damaged = self.folder / "damaged.backup"
        at = len(whole) // 2
        damaged.write_bytes(whole[:at] + bytes([whole[at] ^ 1]) + whole[at + 1 :])
        half = self.folder / "half.backup"
        half.write_bytes(whole[:at])
        foreign = self.folder / "foreign.backup"
        foreign.write_text("something else")
        for file, words in (
            (damaged, "damaged"),
            (half, "only a part|damaged"),
            (foreign, "no backup"),
            (self.folder / "x", "no such"),
        ):
            with self.subTest(file.name), tempfile.TemporaryDirectory() as folder:
                with self.assertRaises(CannotKeep) as caught:
                    _opened(file, folder)
                self.assertRegex(str(caught.exception), words)

    def test_a_sealed_backup_needs_a_recipient(self):
        with self.assertRaisesRegex(CommandError, "recipient"):
            call_command("backup", str(self.folder / "practice.backup.age"), verbosity=0)
        with self.assertRaisesRegex(CommandError, "recipient"):
            call_command("backup", str(self.file), recipient="age1xyz", verbosity=0)


class Upgrade(SimpleTestCase):
    """Data of the release before this one: release-before.dump is the demo as that release kept it."""

    databases = {"default"}

    def test_the_steps_from_the_release_before_keep_what_is_there(self):
        of = connection.settings_dict
        server = f"postgres://{of['USER']}:{of['PASSWORD']}@{of['HOST']}:{of['PORT']}"
        with psycopg.connect(f"{server}/{of['NAME']}", autocommit=True) as maintenance:
            maintenance.execute("DROP DATABASE IF EXISTS release_before WITH (FORCE)")
            maintenance.execute("CREATE DATABASE release_before")
        address = f"{server}/release_before"
        restore = [
            _binary("pg_restore"),
            "--no-owner",
            "--dbname",
            address,
            str(Path(__file__).with_name("release-before.dump")),
        ]
        subprocess.run(restore, check=True, capture_output=True)
        with psycopg.connect(address) as old:
            kept = dict(old.execute("SELECT name, allergies FROM people_person").fetchall())
            lines = old.execute("SELECT count(*) FROM recipes_recipeline").fetchone()
        code, _, problem = run(address, "manage.py", "migrate", "-v0")
        self.assertEqual(code, 0, problem)
        with psycopg.connect(address) as now:
            self.assertEqual(dict(now.execute("SELECT name, allergies FROM people_person").fetchall()), kept)
            self.assertEqual(now.execute("SELECT count(*) FROM recipes_recipeline").fetchone(), lines)
            roles = dict(now.execute("SELECT name, role FROM accounts_user").fetchall())
        self.assertEqual(roles, {"Oona Varga": "owner", "Piet Haldane": "staff"})
        seen = json.loads(run(address, "-m", "tests.web.look_around", "oona@quayside.example")[1])
        self.assertEqual(set(seen["pages"].values()), {200})
        with psycopg.connect(f"{server}/{of['NAME']}", autocommit=True) as maintenance:
            maintenance.execute("DROP DATABASE release_before WITH (FORCE)")

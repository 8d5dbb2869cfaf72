"""Backups: one file with everything the database holds, what it was made of, and a proof that nothing is missing.

A TAR of `manifest.json` (when, which version, rows of every table, the digest of the dump) and `dump` (pg_dump, custom
format, of the very moment the rows were counted). It may be sealed with age or gpg for one recipient.
"""

import hashlib
import io
import json
import os
import subprocess
import tarfile
import tempfile
from datetime import UTC, datetime
from pathlib import Path

from django.db import connection, transaction
from django.db.migrations.recorder import MigrationRecorder

FORM = 1
#: How to seal and open, by the ending a sealed file has.
SEALS = {
    ".age": (["age", "--encrypt", "--recipient"], ["age", "--decrypt"]),
    ".gpg": (
        ["gpg", "--batch", "--yes", "--encrypt", "--trust-model", "always", "--recipient"],
        ["gpg", "--batch", "--decrypt"],
    ),
}


class CannotKeep(Exception):
    """Why there is no backup, or no restoring from one, in words."""


def _binary(name):
    """PostgreSQL's own tools stand off the path on Debian; the newest is taken."""
    found = sorted(Path("/usr/lib/postgresql").glob(f"*/bin/{name}"), key=lambda path: int(path.parts[4]))
    return str(found[-1]) if found else name


def _run(command, **options):
    """Run one of the tools. Raises CannotKeep with what it said."""
    try:
        return subprocess.run(command, check=True, capture_output=True, **options).stdout  # noqa: S603 - our own commands
    except FileNotFoundError:
        raise CannotKeep(f"{command[0]} is not installed on this machine") from None
    except subprocess.CalledProcessError as problem:
        said = problem.stderr.decode(errors="replace").strip().splitlines()
        raise CannotKeep(f"{Path(command[0]).name}: {said[-1] if said else 'it failed'}") from None


def _login():
    """How the tools reach the database; the password goes by the environment, never by the command line."""
    of = connection.settings_dict
    told = {"PGHOST": of["HOST"], "PGPORT": of["PORT"], "PGUSER": of["USER"], "PGPASSWORD": of["PASSWORD"]}
    return os.environ | {name: str(value) for name, value in told.items() if value}, of["NAME"]


def tables():
    with connection.cursor() as cursor:
        return sorted(info.name for info in connection.introspection.get_table_list(cursor) if info.type == "t")


_ROWS = "SELECT count(*), md5(coalesce(string_agg(md5(t::text), '' ORDER BY md5(t::text)), '')) FROM {table} t"


def rows_of_tables():
    """Table -> (rows, digest of all of them): the same twice means the same rows."""
    found = {}
    with connection.cursor() as cursor:
        for table in tables():
            # The names are those the database itself told of its tables.
            cursor.execute(_ROWS.format(table=connection.ops.quote_name(table)))
            found[table] = list(cursor.fetchone())
    return found


def back_up(path, recipient=""):
    """Write a backup; sealed for the recipient where the path ends in .age or .gpg. What the manifest says. Raises CannotKeep."""
    path = Path(path)
    seal = SEALS.get(path.suffix)
    if bool(seal) != bool(recipient):
        raise CannotKeep("a sealed backup has a recipient and ends in .age or .gpg; another has neither")
    environment, name = _login()
    with tempfile.TemporaryDirectory() as folder:
        dump = Path(folder, "dump")
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
            cursor.execute("SELECT pg_export_snapshot()")
            snapshot = cursor.fetchone()[0]
            tool = [
                _binary("pg_dump"), "--format=custom", "--no-owner", "--no-privileges", "--no-comments", f"--snapshot={snapshot}",
            ]  # fmt: skip
            _run([*tool, f"--file={dump}", name], env=environment)
            manifest = {
                "form": FORM,
                "made_at": datetime.now(UTC).isoformat(timespec="seconds"),
                "migrations": sorted(map(list, MigrationRecorder(connection).applied_migrations())),
                "rows": rows_of_tables(),
                "sha256": hashlib.sha256(dump.read_bytes()).hexdigest(),
            }
        plain = Path(folder, "backup.tar")
        with tarfile.open(plain, "w") as archive:
            said = json.dumps(manifest, indent=1).encode()
            info = tarfile.TarInfo("manifest.json")
            info.size = len(said)
            archive.addfile(info, io.BytesIO(said))
            archive.add(dump, "dump")
        whole = _run([*seal[0], recipient], stdin=plain.open("rb")) if seal else plain.read_bytes()
        new = path.with_name(path.name + ".new")
        new.touch(mode=0o600)
        new.write_bytes(whole)
        new.replace(path)
    return manifest


def _opened(path, folder):
    """(manifest, dump) of a backup, each checked. Raises CannotKeep."""
    whole = Path(path)
    if not whole.exists():
        raise CannotKeep(f"{path}: there is no such file")
    if whole.suffix in SEALS:
        plain = Path(folder, "plain.tar")
        with whole.open("rb") as sealed:
            plain.write_bytes(_run(SEALS[whole.suffix][1], stdin=sealed))
        whole = plain
    try:
        with tarfile.open(whole) as archive:
            for name in ("manifest.json", "dump"):
                Path(folder, name).write_bytes(archive.extractfile(name).read())
        manifest = json.loads(Path(folder, "manifest.json").read_text())
    except (tarfile.TarError, KeyError, ValueError, OSError, AttributeError):
        raise CannotKeep(f"{path} is no backup of Open Gate, or only a part of one") from None
    if manifest.get("form") != FORM:
        raise CannotKeep(f"{path} was made in form {manifest.get('form')}; this program reads form {FORM}")
    dump = Path(folder, "dump")
    if hashlib.sha256(dump.read_bytes()).hexdigest() != manifest["sha256"]:
        raise CannotKeep(f"{path} is damaged: its digest is not the one it was made with")
    return manifest, dump


def restore(path):
    """Everything of a backup into an empty database; every row is proven to be there. Raises CannotKeep; then nothing is."""
    if tables():
        raise CannotKeep("the database is not empty: restore into a new one, and point DATABASE_URL at it")
    environment, name = _login()
    with tempfile.TemporaryDirectory() as folder:
        manifest, dump = _opened(path, folder)
        tool = [_binary("pg_restore"), "--no-owner", "--no-privileges", "--exit-on-error", "--single-transaction"]
        _run([*tool, f"--dbname={name}", str(dump)], env=environment)
    connection.close()
    now = rows_of_tables()
    lost = [table for table, rows in manifest["rows"].items() if now.get(table) != rows]
    if lost:
        raise CannotKeep(f"not everything came back as it was: {', '.join(lost)}")
    return manifest

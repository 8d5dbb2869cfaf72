"""Turns one line of the product round at a time and runs the tests that must fall: `tools/mutate.py [key…]`.

The list is tests/mutations.tsv: key, place, the words as they stand (once in that file), as they are turned round, the tests. A copy of the
tree is changed, never the tree itself. Ends with 1 when a mutation lives, or when its words stand in the file no more.
"""

import csv
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
LIST = ROOT / "tests/mutations.tsv"


def mutations(keys: list[str]) -> list[dict[str, str]]:
    """Rows of the list; all of them where no key is named."""
    with LIST.open(encoding="utf-8") as file:
        rows = list(
            csv.DictReader((line for line in file if not line.startswith("#")), delimiter="\t", quoting=csv.QUOTE_NONE)
        )
    return [row for row in rows if not keys or row["key"] in keys]


def turned(row: dict[str, str]) -> tuple[str, str]:
    """The words as they stand, and as they are turned round."""
    return row["stands"].replace("\\n", "\n"), row["mutated"].replace("\\n", "\n")


def fate_of(tree: Path, row: dict[str, str]) -> str:
    """killed, LIVES, or why it could not be tried. `tree`: the copy that is changed, and put right again."""
    place, (stands, mutated) = tree / row["place"], turned(row)
    before = place.read_text(encoding="utf-8")
    if before.count(stands) != 1:
        return f"STALE: its words stand {before.count(stands)} times in {row['place']}"
    place.write_text(before.replace(stands, mutated), encoding="utf-8")
    try:
        asked = [sys.executable, "manage.py", "test", "--noinput", *row["tests"].split()]
        env = {**os.environ, "DJANGO_SETTINGS_MODULE": "opengate.settings.test", "PYTHONDONTWRITEBYTECODE": "1"}
        done = subprocess.run(asked, cwd=tree, env=env, capture_output=True, text=True, check=False)
    finally:
        place.write_text(before, encoding="utf-8")
    return (
        "LIVES"
        if done.returncode == 0
        else "killed"
        if "FAILED" in done.stderr + done.stdout
        else f"BROKEN: {done.stderr[-300:]}"
    )


def main() -> int:
    """Every mutation of the list, or those named."""
    with tempfile.TemporaryDirectory() as folder:
        tree = Path(folder) / "tree"
        shutil.copytree(
            ROOT, tree, ignore=shutil.ignore_patterns(".git", ".venv", ".data", "__pycache__", "node_modules")
        )
        fates = {row["key"]: fate_of(tree, row) for row in mutations(sys.argv[1:])}
    for key, fate in fates.items():
        print(f"{key:26} {fate}")
    return int(any(fate != "killed" for fate in fates.values()))


if __name__ == "__main__":
    sys.exit(main())

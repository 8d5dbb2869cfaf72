"""The same words give the same food and the same grams, whatever order a set happens to have in a process."""

import hashlib
import os
import subprocess
import sys
from pathlib import Path
from unittest import TestCase

HERE = Path(__file__).parent
#: Read in a process of its own, so that the seed of its hashes is its own.
READ = """
import hashlib, sys
from nutrition import read_line
from nutrition.dish.codec import line_to_data
import json
found = [json.dumps(line_to_data(read_line(text)), sort_keys=True) for text in sys.stdin.read().splitlines()]
print(hashlib.sha256("\\n".join(found).encode()).hexdigest())
"""
SEEDS = ("1", "77", "4242") if not os.environ.get("OPEN_GATE_FULL") else tuple(map(str, range(10)))


class UnderEverySeed(TestCase):
    def test_lines_of_many_kitchens_are_read_alike(self):
        rows = (HERE / "lines_of_kitchens.tsv").read_text(encoding="utf-8").splitlines()
        lines = [row.split("\t")[1] for row in rows if row and not row.startswith("#") and row.count("\t") > 1]
        lines = lines if os.environ.get("OPEN_GATE_FULL") else lines[::3]
        self.assertGreater(len(lines), 100)
        found = {seed: self.read_under(seed, "\n".join(lines)) for seed in SEEDS}
        self.assertEqual(len(set(found.values())), 1, found)
        self.assertEqual(len(next(iter(found.values()))), len(hashlib.sha256().hexdigest()))

    def read_under(self, seed, text):
        done = subprocess.run(
            [sys.executable, "-c", READ],
            input=text,
            capture_output=True,
            text=True,
            cwd=HERE.parent.parent,
            env=os.environ | {"PYTHONHASHSEED": seed},
            check=True,
            timeout=300,
        )
        return done.stdout.strip()

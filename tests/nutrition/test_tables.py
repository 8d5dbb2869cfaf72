"""Each table is read by one loader that refuses a broken cell and says where it stands."""

import re
import tempfile
from pathlib import Path
from unittest import TestCase, mock

from nutrition import tables
from nutrition.dish import cooking
from nutrition.food import (
    additives,
    contents,
    derived,
    fats,
    label_forms,
    made_of,
    measures,
    names,
    signatures,
    spoken,
    sweeteners,
    table,
)
from nutrition.giving import ceilings, packs, shopping
from nutrition.limits import life, measured, medicines, roles
from nutrition.meals import oven, planner, room, suits
from nutrition.reading import binding, clauses, kinds, lines, matching, mentions, other_words, promises, unlisted, weigh
from nutrition.sheet import cautions, claims, safety
from nutrition.swaps import balance, clashes, jobs, preparations, rules, sides, weights
from nutrition.tables import TABLES, BrokenTable, Row, pattern, read_table, words_of

#: What no number, list or regular expression is.
BROKEN = "☠("


def _fresh(remembered):
    """A worker as it is without what it remembers."""
    while hasattr(remembered, "__wrapped__"):
        remembered = remembered.__wrapped__
    return remembered


def _promise_rows():
    return _fresh(spoken._words_that_promise)(), _fresh(spoken._things)()


def _roles():
    return [roles._read(row) for row in read_table("roles.tsv")]


def _fodmap():
    kinds_of_sugar = derived.FODMAP_KINDS.values()
    spreads = [derived.spread_of(row) for _, row in derived.fodmap_rules()]
    return spreads, [derived.cut_off_g(row, kind) for _, row in derived.fodmap_rules() for kind in kinds_of_sugar]


def _names():
    return _fresh(names._first_names)(), matching.Matcher(table.foods().base, read_table("cooks_names.tsv"))


#: table -> (its loader, columns where any words may stand)
LOADERS = {
    "aisles": (shopping._aisles, ""),
    "at_table": (room.foods_as_eaten, "for one many"),
    "avoid_rules": (spoken._rules, "look_for source"),
    "cautions": (cautions._rules, "key text source unless"),
    "claim_words": (claims._claim_words, "key"),
    "clashes": (clashes._clashes, ""),
    "contents": (contents.contents, "food kinds"),
    "preparations": (preparations.preparations, "called rule step"),
    "cooking_methods": (cooking.methods, "key label source"),
    "cooks_names": (_names, "section ask source"),
    "dish_kinds": (kinds._kinds, ""),
    "drained_shares": (weigh._drained_shares, "source"),
    "draining": (cooking._rows, "source"),
    "dri_children": (life._rows, "source"),
    "energy_needs": (life._equations, ""),
    "fatty_acids": (fats.fat_rules, "source"),
    "felt": (weights.weights, "name stands_for"),
    "fodmap": (_fodmap, "name group source"),
    "food_safety": (lambda: _fresh(safety._kinds)("eu"), "kind advice source"),
    "free_words": (_promise_rows, "form"),
    "group_words": (mentions.groups, "word why"),
    "household_weights": (measures._rows, "food source"),
    "innocent_phrases": (spoken._innocent, "reads_as"),
    "jobs": (jobs._rules, ""),
    "kinds_of_foods": (made_of.kinds, "kind look_for"),
    "label_forms": (lambda: _fresh(label_forms.forms)(), "form name serving source"),
    "additives": (lambda: _fresh(additives.additives)(), "name"),
    "kitchen_words": (other_words._known, "language means"),
    "lactose": (derived.lactose_rules, "confidence source"),
    "label_fields": (
        lambda: [_fresh(label_forms.fields)(form) for form in ("us", "eu", "au", "in")],
        "form field name source",
    ),
    "label_servings": (ceilings._goods, "goods serving source"),
    "measures": (measured.measures, "key of label unit source"),
    "medicines": (lambda: _fresh(medicines._kinds)(), "kind text"),
    "operations": (lambda: _fresh(clauses._operations)(), "operation why"),
    "packs": (packs._rows, ""),
    "patterns": (tables._patterns, "name why"),
    "phrases": (names._phrases, "reads_as why"),
    "planned": (planner._costs, "name stands_for"),
    "powers": (balance._powers, "source"),
    "promises": (promises.promises, ""),
    "roles": (_roles, "key label"),
    "sides": (sides.sides, "food how"),
    "signatures": (lambda: _fresh(signatures._all)(), "heads under tells"),
    "step_cues": (unlisted._cues, "cue why"),
    "step_words": (unlisted._readings, "reads_as why"),
    "suits": (lambda: (_fresh(suits._words)(), _fresh(suits._by)("kind"), _fresh(suits._by)("role")), "by what"),
    "sweeteners": (sweeteners.sweetener_rules, "source"),
    "swaps": (rules.catalog, "id household do_differently limits caution school source test_line"),
    "unbound_words": (lambda: _fresh(binding._unbound)("name"), "why from"),
    "vague_amounts": (weigh._vague_amounts, "cue source"),
    "vague_cues": (lines._vague_cues, "cue"),
    "waiting": (oven._waitings, "of how"),
    "yields": (cooking._yields, "kind source"),
}
#: Lists of words and of foods, and what only a tool reads.
PLAIN = {
    "vocabulary",
    "simple_foods",
    "simple_words",
    "curated_foods",
    "foods_rejects",
    "foods_repairs",
    "signature_repairs",
}


class ARow(TestCase):
    def test_a_number_that_is_none_is_told_with_its_place(self):
        row = Row({"grams": "4o", "source": " ", "made": "maybe", "tags": "gluten wheet"}, "swaps.tsv, line 7")
        for column, ask in (
            ("grams", row.number),
            ("grams", row.whole),
            ("grams", row.amounts),
            ("source", row.text),
            ("made", row.yes),
            ("tags", lambda column: row.words(column, ("gluten", "wheat"))),
        ):
            with self.subTest(column=column), self.assertRaises(BrokenTable) as broken:
                ask(column)
            self.assertIn(f"swaps.tsv, line 7, column “{column}”: read “", str(broken.exception))

    def test_empty_is_no_number_unless_the_reader_says_what_it_stands_for(self):
        row = Row({"minutes": ""})
        self.assertEqual(
            (row.number("minutes", 2.0), row.whole("minutes", 3), row.number_or_none("minutes")), (2, 3, None)
        )
        with self.assertRaises(BrokenTable):
            row.number("minutes")

    def test_a_row_of_too_few_cells_is_told_by_its_line(self):
        with (
            self._tables({"packs.tsv": "# made up\nwords\tus\teu\nrice\tbag=500\n"}),
            self.assertRaises(BrokenTable) as broken,
        ):
            read_table("packs.tsv")
        self.assertIn("packs.tsv, line 3: read 2 cells, expected 3: words, us, eu", str(broken.exception))

    def _tables(self, texts):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        for name, text in texts.items():
            (Path(folder.name) / name).write_text(text, encoding="utf-8")
        return mock.patch.object(tables, "TABLES", Path(folder.name))


class EveryTable(TestCase):
    """Each cell of its last row broken in turn: the loader says which, or it is one where any words may stand."""

    @classmethod
    def setUpClass(cls):
        for loader, _ in LOADERS.values():
            loader()  # what they lean on is remembered, as it is
        pattern("fresh"), words_of("state"), names.normalized("eggs"), matching.matcher()

    def test_every_table_has_its_loader(self):
        self.assertEqual({path.stem for path in TABLES.glob("*.tsv")}, LOADERS.keys() | PLAIN)

    def test_a_broken_cell_is_refused_by_line_and_column(self):
        for name, (loader, free) in LOADERS.items():
            at, header, cells = self._last_row(name)
            taken = set()
            for position, column in enumerate(header):
                told = self._told(name, loader, at, [*cells[:position], BROKEN, *cells[position + 1 :]])
                if told:
                    self.assertIn(f"{name}.tsv, line {at}, column “{column}”: read “", told)
                else:
                    taken.add(column)
            with self.subTest(table=name):
                self.assertEqual(taken, set(free.split()))

    def test_a_source_is_never_missing(self):
        """Nor the reason of a row that has one; "any words" are words."""
        for name in LOADERS:
            for row in read_table(f"{name}.tsv"):
                for column in {"source", "why", "stands_for"} & row.keys():
                    if name not in ("measures", "patterns"):
                        row.text(column)

    def _last_row(self, name):
        lines = (TABLES / f"{name}.tsv").read_text(encoding="utf-8").splitlines()
        rows = [(at, line.split("\t")) for at, line in enumerate(lines, 1) if line.strip() and not line.startswith("#")]
        return rows[-1][0], rows[0][1], rows[-1][1]

    def _told(self, name, loader, at, cells):
        """What the loader says of the table with these cells in its last row; nothing where it takes them."""
        lines = (TABLES / f"{name}.tsv").read_text(encoding="utf-8").splitlines()
        lines[at - 1] = "\t".join(cells)
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / f"{name}.tsv").write_text("\n".join(lines), encoding="utf-8")
            with mock.patch.object(tables, "TABLES", _Patched(folder)):
                try:
                    _fresh(loader)()
                except BrokenTable as broken:
                    return str(broken)
        return ""


class _Patched:
    """The folder of tables with one of them changed."""

    def __init__(self, folder):
        self.folder = Path(folder)

    def __truediv__(self, name):
        changed = self.folder / name
        return changed if changed.exists() else TABLES / name


class Nothing(TestCase):
    def test_no_reader_turns_a_cell_into_a_number_by_hand(self):
        """A cell is asked for as what it is (Row.number, Row.pattern): by hand nobody would learn which cell was broken."""
        by_hand = re.compile(r"(?:float|int|re\.compile)\((?:rf?\"[^\"]*\{)?row\[|\brow\[[^\]]+\]\.split\(\)")
        core = Path(tables.__file__).parent.parent
        for path in core.rglob("*.py"):
            for at, line in enumerate(path.read_text(encoding="utf-8").splitlines(), 1):
                self.assertIsNone(by_hand.search(line), f"{path.relative_to(core)}:{at}")

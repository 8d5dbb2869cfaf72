"""An independent second source for staples both tables cover: the Indian tables of 2017.

Raw staples vary by variety, soil and season; the medians over the set must agree closely, and single
foods stay within the range composition tables call biological (a factor of about two for minerals).
"""

from pathlib import Path
from statistics import median

from django.test import SimpleTestCase

from nutrition.food.nutrients import INDEX
from nutrition.food.table import foods

#: Allowed distance of the median ratio from one, and the share of foods within a factor of two.
NEAR = {
    "energy_kcal": (0.08, 0.97),
    "protein_g": (0.12, 0.95),
    "potassium_mg": (0.15, 0.85),
    "phosphorus_mg": (0.15, 0.90),
}


class IndianTables(SimpleTestCase):
    def test_staples(self):
        text = Path(__file__).with_name("ifct2017.tsv").read_text(encoding="utf-8")
        header, *rows = [line.split("\t") for line in text.splitlines() if not line.startswith("#")]
        rows = [dict(zip(header, row, strict=True)) for row in rows]
        self.assertGreaterEqual(len(rows), 30)
        for key, (distance, share) in NEAR.items():
            ratios = {row["food"]: foods().value(row["food"], key) / float(row[key]) for row in rows}
            self.assertAlmostEqual(median(ratios.values()), 1.0, delta=distance, msg=key)
            within = [food for food, ratio in ratios.items() if 0.5 <= ratio <= 2]
            self.assertGreaterEqual(
                len(within) / len(ratios), share, {f: r for f, r in ratios.items() if f not in within}
            )


class FattyAcids(SimpleTestCase):
    """What fat is made of, from memory, beside what was measured in India: a wholly independent source."""

    #: So much of a fat are its fatty acids (FAO/INFOODS 2012: 0.956 of an oil); IFCT prints some as share of all of them.
    FATTY_ACIDS, NEAR = 0.956, 0.03

    def test_shares_of_the_fat(self):
        text = Path(__file__).with_name("ifct2017_fats.tsv").read_text(encoding="utf-8")
        header, *rows = [line.split("\t") for line in text.splitlines() if not line.startswith("#")]
        self.assertGreaterEqual(len(rows), 25)
        beyond = []
        for row in (dict(zip(header, cells, strict=True)) for cells in rows):
            acids = sum(float(row[column]) for column in ("saturated_g", "mono_g", "poly_g"))
            food, table = foods().by_description(row["food"]), foods()
            fat = table.value(row["food"], "fat_g")
            for column, key in (
                ("mono_g", "monounsaturated_fat_g"),
                ("poly_g", "polyunsaturated_fat_g"),
                ("omega3_g", "omega3_g"),
            ):
                share = self.FATTY_ACIDS * float(row[column]) / acids
                low, high = (
                    float(side[food.row, INDEX[key]]) / fat
                    for side in (table.at_least_per_100g, table.at_most_per_100g)
                )
                if not low - self.NEAR <= share <= high + self.NEAR:
                    beyond.append((row["food"], key, share, low, high))
        self.assertEqual(beyond, [])

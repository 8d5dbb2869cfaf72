"""Allergens in ingredient lists of other languages: what a label in German says is not unsaid."""

from django.test import SimpleTestCase

from nutrition.food.spoken import hits_of_words
from nutrition.food.tags import ALLERGENS, CHECK, CONTAINS, LINE
from tests.nutrition import rows_beside


class LabelLanguages(SimpleTestCase):
    def test_each_list(self):
        rows = rows_beside(__file__, "label_languages.tsv")
        self.assertGreater(len(rows), 12)
        for row in rows:
            with self.subTest(row["list"]):
                hits = hits_of_words(row["list"], LINE)
                found = {verdict: {hit.tag for hit in hits if hit.verdict == verdict} for verdict in (CONTAINS, CHECK)}
                listed = set(ALLERGENS)
                self.assertEqual(found[CONTAINS] & listed, set(row["contains"].split()))
                self.assertLessEqual(set(row["check"].split()), found[CHECK])

"""What may be in a food: the tags allergies and diets are kept by, and one reason for finding one."""

from dataclasses import dataclass, replace

from nutrition.notes import Note

CONTAINS, CHECK, NOTHING = "contains", "check the label", "nothing listed found"
#: The 15 listed allergens by key, in the words of a card. `gluten`: cereals that hold it.
ALLERGENS = {
    "milk": "Milk",
    "egg": "Egg",
    "fish": "Fish",
    "crustacean_shellfish": "Crustacean shellfish",
    "mollusc": "Molluscs",
    "tree_nut": "Tree nuts",
    "peanut": "Peanut",
    "wheat": "Wheat",
    "gluten": "Gluten",
    "soy": "Soy",
    "sesame": "Sesame",
    "mustard": "Mustard",
    "celery": "Celery",
    "lupin": "Lupin",
    "sulfite": "Sulfites",
}
#: What else plans avoid.
OTHERS = {
    "meat": "Meat",
    "pork": "Pork",
    "gelatin": "Gelatin",
    "rennet": "Animal rennet",
    "honey": "Honey",
    "alcohol": "Alcohol",
    "trans_fat": "Trans fat",
}
TAGS = ALLERGENS | OTHERS
#: Regulation (EU) 1169/2011 Annex II (14: wheat stands under gluten); US: FALCPA 2004 and FASTER 2021. From memory.
LISTS = {
    "eu": tuple(key for key in ALLERGENS if key != "wheat"),
    "us": ("milk", "egg", "fish", "crustacean_shellfish", "tree_nut", "peanut", "wheat", "soy", "sesame"),
}
#: Where a hit stood.
LINE, FOOD = "line", "food"


@dataclass(frozen=True, slots=True)
class Hit:
    """One reason for a finding: the word read, where it stood (line or food), why, and the rule's source.

    `because`: what to look for on the label, or what softened the rule; its code says which.
    """

    tag: str
    verdict: str
    word: str
    where: str
    because: Note
    source: str

    @property
    def look_for(self) -> str:
        return str(self.because)

    def softened(self, because: Note | None = None) -> "Hit":
        """The same as a matter of the label."""
        return replace(self, verdict=CHECK, because=because or self.because)


def strongest(*hits: Hit) -> tuple[Hit, ...]:
    """One hit a tag: the first that contains it, else the first."""
    found: dict[str, Hit] = {}
    for hit in hits:
        if hit.tag not in found or (found[hit.tag].verdict, hit.verdict) == (CHECK, CONTAINS):
            found[hit.tag] = hit
    return tuple(found.values())

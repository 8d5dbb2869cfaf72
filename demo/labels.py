"""Packets on Quayside's shelf, as somebody typed them: three vegetable stocks for one pot."""

from nutrition.food.label import EU, US, Label
from nutrition.food.table import foods
from pantry.actions import enter_label

STOCK = "Soup, vegetable broth, ready to serve"
#: name, form, serving, grams, figures, ingredients, traces.
LABELS = (
    (
        "Elmfold garden stock, no salt added", US, "1 cup (240 g)", 240,
        {"energy_kcal": 15, "fat_g": 0, "sodium_mg": 45, "carbohydrate_g": 3, "fiber_g": 0, "sugars_g": 2, "protein_g": 1,
         "potassium_mg": 190},
        "Water, carrots, leeks, onions, celery, parsley, bay", "",
    ),
    (
        "Harrow vegetable broth", US, "1 cup (240 g)", 240,
        {"energy_kcal": 20, "fat_g": 0.5, "sodium_mg": 680, "carbohydrate_g": 4, "fiber_g": 0, "sugars_g": 3, "protein_g": 0},
        "Water, vegetable juices (carrot, onion, celery), sea salt, yeast extract, cane sugar", "May contain soy.",
    ),
    (
        "Saltmarsh stock, a third less salt", EU, "100 ml", 100,
        {"energy_kj": 21, "energy_kcal": 5, "fat_g": 0.1, "carbohydrate_g": 0.8, "sugars_g": 0.4, "fiber_g": 0.1, "protein_g": 0.3,
         "salt_g": 0.6},
        "Water, onion, carrot, salt, potassium chloride, celeriac, sunflower oil", "",
    ),
)  # fmt: skip


def enter(user):
    """Put the packets on the shelf."""
    usual = foods().by_description(STOCK).id
    for name, form, serving, grams, printed, ingredients, traces in LABELS:
        label = Label(name, form, grams, printed, ingredients, traces, usual, serving=serving)
        enter_label(label, serving, user)

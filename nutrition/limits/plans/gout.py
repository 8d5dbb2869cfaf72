"""Gout: what is rich in purines, alcohol and fructose, named. From memory of ACR 2020 and of Kaneko 2014."""

from nutrition.limits.plans.common import Plan, shelves

ACR = "ACR Guideline for the Management of Gout, 2020"
KANEKO = "purines by food: Kaneko et al. 2014, Biol Pharm Bull 37(5)"

PLAN = Plan(
    key="gout",
    label="Gout",
    summary="Purine-rich foods, alcohol and fructose named; no figure, as foods’ purines are not in the table.",
    shelf=shelves.OTHER,
    place=3,
    sources=(ACR, KANEKO),
    handout=(
        "Innards, small oily fish, mussels and game hold the most purines; meat, poultry and other fish come next: small portions.",
        "Beans, lentils, mushrooms, spinach and milk do not bring attacks on: they stay.",
        "Beer and spirits most of all, and drinks sweetened with fructose, raise uric acid.",
        "Drink plenty, unless the clinic has limited fluid. Lose weight slowly: fasting brings attacks on.",
    ),
    cautions=("purines-high", "purines-meat", "purines-fish", "gout-alcohol", "gout-fructose"),
)

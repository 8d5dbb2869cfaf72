"""Gout: alcohol kept out, what is rich in purines and fructose named. From memory of ACR 2020, EULAR 2016, Kaneko 2014."""

from collections.abc import Mapping

from nutrition.limits.plans.common import Avoid, Plan, shelves

ACR = "ACR Guideline for the Management of Gout, 2020"
EULAR = "EULAR recommendations for gout, 2016"
KANEKO = "purines by food: Kaneko et al. 2014, Biol Pharm Bull 37(5)"


def avoids(settings: Mapping[str, str]) -> tuple[Avoid, ...]:
    return (Avoid("alcohol", "raises uric acid, beer and spirits most of all", EULAR),)


PLAN = Plan(
    key="gout",
    label="Gout",
    summary="No alcohol; foods rich in purines or fructose named. No figure: purines are not in the table.",
    shelf=shelves.OTHER,
    place=3,
    sources=(ACR, EULAR, KANEKO),
    avoids_of=avoids,
    handout=(
        "Innards, small oily fish, mussels and game hold the most purines; meat, poultry and other fish come next: small portions.",
        "Beans, lentils, mushrooms, spinach and milk do not bring attacks on: they stay.",
        "Drinks sweetened with fructose raise uric acid too.",
        "Drink plenty, unless the clinic has limited fluid. Lose weight slowly: fasting brings attacks on.",
    ),
    cautions=("purines-high", "purines-meat", "purines-fish", "gout-fructose"),
)

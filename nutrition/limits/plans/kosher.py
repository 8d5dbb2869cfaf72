"""Kosher: no pork, no shellfish, fish with fins and scales, meat apart from milk. Common practice."""

from collections.abc import Mapping

from nutrition.limits.plans.common import Avoid, Plan, shelves

SOURCE = "common practice; Leviticus 11, Deuteronomy 14"


def avoids(settings: Mapping[str, str]) -> tuple[Avoid, ...]:
    return (
        Avoid("pork", "not kosher", SOURCE),
        Avoid("crustacean_shellfish", "not kosher: no fins, no scales", SOURCE),
        Avoid("mollusc", "not kosher: no fins, no scales", SOURCE),
    )


PLAN = Plan(
    key="kosher",
    label="Kosher",
    summary="No pork, no shellfish, meat and milk apart; what a label must say is named.",
    shelf=shelves.EATEN,
    place=7,
    sources=(SOURCE,),
    avoids_of=avoids,
    handout=(
        "Meat and milk never in one dish; the pots and the hours between go by the custom of the house.",
        "Meat, cheese, wine, gelatin and made goods: with a certificate. Eggs are looked at for blood.",
    ),
    cautions=("kosher-mixed", "kosher-fish", "kosher-meat", "kosher-cheese", "kosher-gelatin"),
)

"""Gluten-free for celiac disease: under 20 mg/kg in the product. From memory of the documents named."""

from collections.abc import Mapping

from nutrition.limits.plans.common import Avoid, Plan, shelves

CODEX = "Codex Stan 118-1979; 21 CFR 101.91; EU 828/2014: gluten-free is under 20 mg/kg"


def avoids(settings: Mapping[str, str]) -> tuple[Avoid, ...]:
    return (Avoid("gluten", "gluten makes the immune system attack the gut", CODEX, is_strict=True),)


PLAN = Plan(
    key="gluten-free",
    label="Gluten-free (celiac)",
    summary="No wheat, rye or barley in any of their names; oats only when labeled gluten-free.",
    shelf=shelves.GUT,
    place=3,
    sources=(CODEX,),
    avoids_of=avoids,
    handout=("Wheat-free is not gluten-free: look for rye, barley and malt too. Spelt is wheat. Buckwheat is not.",),
    cross_contact=(
        "Wash hands, board, knives and counter with soap before you start; cook this dish first.",
        "Keep a toaster, colander, wooden spoon and rolling pin of its own; crumbs hide in them.",
        "Fresh water for gluten-free pasta, fresh oil for frying; no shared butter or jam jar.",
        "Flour hangs in the air for hours: no wheat baking at the same time.",
        "Oats, flours and spice mixes only with “gluten-free” on the label.",
    ),
    cautions=("oats-celiac", "brewed-soy-gluten"),
)

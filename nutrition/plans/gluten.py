"""Gluten-free for celiac disease: under 20 mg/kg in the product. From memory of the documents named."""

from collections.abc import Mapping

from .common import Avoid, Facts

KEY = "gluten-free"
LABEL = "Gluten-free (celiac)"
SUMMARY = "No wheat, rye or barley in any of their names; oats only when labeled gluten-free."
CODEX = "Codex Stan 118-1979; 21 CFR 101.91; EU 828/2014: gluten-free is under 20 mg/kg"
SOURCES = (CODEX,)
SCHOOLS = {}
STANCES = {}
CROSS_CONTACT = (
    "Wash hands, board, knives and counter with soap before you start; cook this dish first.",
    "Keep a toaster, colander, wooden spoon and rolling pin of its own; crumbs hide in them.",
    "Fresh water for gluten-free pasta, fresh oil for frying; no shared butter or jam jar.",
    "Flour hangs in the air for hours: no wheat baking at the same time.",
    "Oats, flours and spice mixes only with “gluten-free” on the label.",
)
HANDOUT = ("Wheat-free is not gluten-free: look for rye, barley and malt too. Spelt is wheat. Buckwheat is not.",)


def targets(facts: Facts, schools: Mapping[str, str]) -> list:
    return []


def missing(facts: Facts, schools: Mapping[str, str]) -> list[str]:
    return []


def avoids(schools: Mapping[str, str]) -> tuple[Avoid, ...]:
    return (Avoid("gluten", "gluten makes the immune system attack the gut", CODEX, is_strict=True),)

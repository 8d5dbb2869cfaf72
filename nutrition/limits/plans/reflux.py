"""Reflux: what brings it on, named. From memory of ACG 2022; no figure is in it."""

from nutrition.limits.plans.common import Plan, shelves

ACG = "ACG Clinical Guideline for Gastroesophageal Reflux Disease, 2022"

PLAN = Plan(
    key="reflux",
    label="Reflux",
    summary="Foods that bring reflux on in many are named; whoever eats finds their own. No figure.",
    shelf=shelves.GUT,
    place=8,
    sources=(ACG, "which foods: common practice, weak evidence"),
    handout=(
        "Leave out what brings it on in you, and nothing else: the list differs from one to the next.",
        "Small meals, little fat at once, nothing in the last three hours before bed; raise the head of the bed.",
        "Losing weight, where there is too much of it, helps more than any food.",
    ),
    cautions=("reflux-triggers", "reflux-fat"),
)

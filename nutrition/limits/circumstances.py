"""What of a person, beside plans and limits, changes what is said to them."""

#: What of a person changes a caution. Recorded only when somebody says so.
CIRCUMSTANCES = {
    "insulin": "takes insulin, a sulfonylurea or a glinide",
    "sglt2": "takes an SGLT2 inhibitor",
    "raises_potassium": "takes a medicine that raises potassium (ACE inhibitor, ARB, spironolactone and kin)",
    "warfarin": "takes warfarin or another vitamin K antagonist",
    "grapefruit": "takes a medicine that grapefruit disturbs (some statins, calcium channel blockers, "
    "transplant medicines)",
    "blood_pressure": "has high blood pressure or low potassium",
    "low_immunity": "has low immunity, or is very young, old or pregnant",
    "pregnant": "is pregnant, or may be: vitamin A, mercury and alcohol too",
    "under_one": "is under one year old",
    "maoi": "takes an MAO inhibitor",
    "lithium": "takes lithium",
    "g6pd": "has G6PD deficiency",
    "severe_allergy": "has had a severe allergic reaction",
    "no_alcohol": "should have no alcohol",
    "breast_feeding": "is breast-feeding",
    "older": "is 65 or older",
    "weak_kidneys": "has kidneys that clear too little (stage 3 or later, dialysis, a transplant)",
}

"""Load the demo once: a practice, its people, their recipes and some tries."""

from datetime import date, timedelta
from pathlib import Path

from django.core.management.base import BaseCommand
from django.db import transaction
from django.utils.timezone import localdate

from accounts.models import Practice, User
from accounts.permissions import KITCHEN, OWNER, STAFF, STUDENT
from accounts.scope import within
from bench import actions as bench_actions
from bench.ways import stages_of, workbench_of
from demo import EMAIL, PASSWORD, kitchen, labels, tables
from nutrition.food.table import foods
from nutrition.reading.page import from_text
from nutrition.swaps.way_through import ways_for
from nutrition.swaps.wish import Wish
from people import actions as people_actions
from people.models import Person, PersonTally, PersonTarget
from people.regimen import regimen_of
from recipes import actions as recipe_actions
from recipes import parts as recipe_parts

RECIPES = Path(__file__).resolve().parent.parent.parent / "recipes"

PEOPLE = [
    {
        "name": "Benedek Solway",
        "household": "Solway",
        "born_on": date(1957, 5, 21),
        "sex": "male",
        "height_cm": 174,
        "weight_kg": 71,
        "kidney_stage": "4",
        "medicines": "losartan, gliclazide, sevelamer",
        "bloods": [("potassium_mmol_l", 5.6, 112), ("potassium_mmol_l", 5.3, 21), ("phosphate_mg_dl", 4.9, 21)],
        "energy_kcal": 1900,
        "about": "Kidney disease stage 4 and type 2 diabetes. His daughter cooks on weekdays: one pot, under an hour.",
        "dislikes": "liver, rosemary",
        "plans": {"kidney": {"potassium": "2500"}, "diabetes": {}},
        "confirmed": True,
    },
    {
        "name": "Petra Solway",
        "household": "Solway",
        "about": "Benedek’s daughter; cooks for both. No meat since she was sixteen.",
        "plans": {"vegetarian": {}},
    },
    {
        "name": "Marguerite Obi",
        "sex": "female",
        "weight_kg": 64,
        "medicines": "warfarin, furosemide",
        "bloods": [("inr", 2.4, 9)],
        "energy_kcal": 1700,
        "about": "Heart failure; sodium as her cardiologist wrote it. Cooks for two and freezes half.",
        "plans": {"low-sodium": {"sodium": "aha"}, "heart": {"sodium": "aha"}},
        "confirmed": True,
    },
    {
        "name": "Junia Castellane",
        "weight_kg": 82,
        "energy_kcal": 2000,
        "about": "Type 2 diabetes, counts carbohydrate at meals. Works shifts.",
        "plans": {"diabetes": {"portion": "15"}, "very-low-carb": {}},
    },
    {
        "name": "Rafe Lindqvist",
        "household": "Okonjo and Lindqvist",
        "about": "No diagnosis; keeps to his own numbers since a clinic letter in spring.",
        "plans": {},
        "own": [
            ("sodium_mg", None, 550, "meal", "clinic letter of 14 April"),
            ("saturated_fat_g", None, 7, "meal", "own choice"),
        ],
    },
    {
        "name": "Teodora Anselm-Whitcombe of Lower Marsh Street",
        "about": "New this month: body weight and the last potassium are still to come.",
        "kidney_stage": "3b",
        "bloods": [("phosphate_mg_dl", 3.6, 14)],
        "allergies": "kiwi (lips and throat)",
        "prescribed": [("kidney", "potassium_mg", 2400, "Dr. Ferro’s letter of 3 November")],
        "plans": {"kidney": {"protein": "kdigo"}, "low-sodium": {"sodium": "who"}, "free-of:tree_nut": {}},
    },
    {
        "name": "Ilse Okonjo",
        "household": "Okonjo and Lindqvist",
        "sex": "female",
        "height_cm": 133,
        "born_on": date(2017, 3, 14),
        "weight_kg": 28,
        "energy_kcal": 1800,
        "about": "Nine years old, celiac disease since spring. Eats with three people who do not share it.",
        "plans": {"gluten-free": {}, "free-of:sesame": {}, "child": {}},
    },
    {
        "name": "Tamsin Roe",
        "energy_kcal": 2100,
        "about": "Irritable bowel; in the strict weeks. Her partner cooks, and loves garlic.",
        "plans": {"low-fodmap": {}},
        "course": "2026-11-02",
    },
    {
        "name": "Caspian Dole",
        "weight_kg": 54,
        "about": "Phenylketonuria, eight exchanges a day from the metabolic clinic. Learning to cook for himself.",
        "plans": {"low-protein": {"exchanges": "8"}, "vegetarian": {}},
        "tally": ("Green beads", "(protein - 0.2 * fiber) / 2", "cucumber, carrots", 12),
    },
]

#: Dish, person, meal, the one change of the first try, and what it taught; the second is the way through from there.
STORIES = [
    ("lentil-soup", "Tamsin Roe", "lunch", ("amount", "1 large onion, chopped", "75 g"),
     "Half the onion: lentils and stock still carry it, half measures leave the gate shut."),
    ("corn-cakes", "Ilse Okonjo", "breakfast", ("food", "1/2 cup all-purpose flour", "Cornstarch"),
     "Starch for the flour: crumbled in the pan. Something has to do the flour's work."),
    ("leek-bake", "Marguerite Obi", "dinner", ("amount", "120 g mature cheddar, grated", "60 g"),
     "Half the cheese: still salty, and the crust was missed."),
    ("orange-loaf", "Ilse Okonjo", "snack", ("food", "200 g plain flour", "Rice flour, white, unenriched"),
     "Rice flour alone sank in the middle."),
    ("barley-pilaf", "Marguerite Obi", "dinner", ("amount", "1 tsp salt", "1/2 tsp"),
     "Half the salt was not enough: the stock and the tin remain."),
]  # fmt: skip


#: Who else works there.
COLLEAGUES = [
    ("piet@quayside.example", "Piet Haldane", STAFF),
    ("suvi@quayside.example", "Suvi Anttila", STUDENT),
    ("bram@quayside.example", "Bram Oduya", KITCHEN),
]


class Command(BaseCommand):
    help = "Load the demo practice; does nothing when it is there."

    @transaction.atomic
    def handle(self, *args, **options):
        if User.objects.filter(email=EMAIL).exists():
            return
        practice = Practice.objects.create(name="Quayside Nutrition")
        oona = User.objects.create_user(
            EMAIL, PASSWORD, name="Oona Varga", credential="RD", practice=practice, role=OWNER
        )
        for email, name, role in COLLEAGUES:
            User.objects.create_user(email, PASSWORD, name=name, practice=practice, role=role)
        with within(practice):
            people = {row["name"]: self.person(dict(row), oona) for row in PEOPLE}
            recipes = {path.stem: self.recipe(path, oona) for path in sorted(RECIPES.glob("*.txt"))}
            recipe_parts.use_part(recipes["polenta-slices"], recipes["pepper-sauce"], "half", oona)
            self.story(recipes, people, oona)
            kitchen.tell({path: recipes[path].benches.first() for path in recipes}, oona)
            labels.enter(oona)
            tables.lay(recipes, people, oona)
            tables.plan(recipes, people["Marguerite Obi"], oona)
        self.stdout.write("The demo is loaded.")

    def person(self, row, user):
        plans, own, confirmed = row.pop("plans"), row.pop("own", []), row.pop("confirmed", False)
        prescribed, bloods = row.pop("prescribed", []), row.pop("bloods", [])
        began, tally = row.pop("course", ""), row.pop("tally", None)
        person = Person(**row)
        person.save()
        people_actions.set_plans(person, plans, user)
        for key, value, days_ago in bloods:
            people_actions.measure(person, key, value, localdate() - timedelta(days=days_ago), user)
        for nutrient, low, high, scope, source in own:
            target = PersonTarget(
                person=person, nutrient=nutrient, minimum=low, maximum=high, scope=scope, source=source
            )
            people_actions.save_target(target, user)
        for plan, nutrient, most, source in prescribed:
            target = person.targets.get(plan=plan, nutrient=nutrient)
            target.maximum, target.source = most, source
            people_actions.save_target(target, user)
        if began:
            people_actions.start_course(person.plans.get(key="low-fodmap"), date.fromisoformat(began), 4)
        if tally:
            name, formula, free, daily = tally
            people_actions.save_tally(
                PersonTally(person=person, name=name, formula_text=formula, daily=daily), user, free
            )
        if confirmed:
            for target in person.targets.all():
                people_actions.confirm(target, user)
        return person

    def recipe(self, path, user):
        text = path.read_text()
        recipe = recipe_actions.bring_in(from_text(text), text, user)
        if recipe.serves:
            for row in recipe.lines.all():
                if row.as_read.sure != "check":
                    recipe_actions.accept(row)
            recipe_actions.let_in(recipe)
        return recipe

    def story(self, recipes, people, user):
        """The finished example and work that waits."""
        bench, first = bench_actions.take_to_bench(recipes["paprika-chicken"], people["Benedek Solway"], "dinner", user)
        keys = {line.text: line.key for line in bench.written.lines}

        def food(attempt, text, description):
            food_id = foods().by_description(description).id
            bench_actions.set_food(attempt, attempt.version, keys[text], food_id, user)

        def amount(attempt, text, typed):
            bench_actions.set_amount(attempt, attempt.version, keys[text], typed, user)

        food(first, "3 cups chicken stock", "Stock, chicken, unsalted")
        food(
            first,
            "1 x 400g tin chopped tomatoes",
            "Tomatoes, red, ripe, canned, packed in tomato juice, no salt added",
        )
        amount(first, "1 1/2 tsp salt", "1/2 tsp")
        bench_actions.finish(
            first,
            "Salt is solved by the stock and the tin. Potassium and protein still shut: too much chicken and potato.",
            "",
        )
        second = bench_actions.start_try(bench, first, user)
        amount(second, "8 boneless skinless chicken thighs", "255 g")
        food(second, "2 medium potatoes, diced", "Turnips, raw")
        amount(second, "2 medium potatoes, diced", "200 g")
        amount(second, "1 x 400g tin chopped tomatoes", "150 g")
        amount(second, "1 cup pearl barley", "300 g")
        amount(second, "2 tbsp olive oil", "5 tbsp")
        bench_actions.finish(
            second,
            "Turnip for potato and three thighs instead of eight: potassium, phosphorus and protein are through. "
            "The energy still missing comes from unsalted butter and apple juice on the side. Tastes like the dish.",
            "",
        )
        bench_actions.set_finished(second, True)
        curry, attempt = bench_actions.take_to_bench(
            recipes["chickpea-curry"], people["Marguerite Obi"], "dinner", user
        )
        key = next(line.key for line in curry.written.lines if "chickpeas" in line.text)
        bench_actions.set_state(attempt, attempt.version, key, "drained and rinsed", user)
        bench_actions.take_to_bench(recipes["fish-stew"], people["Rafe Lindqvist"], "dinner", user)
        # A step names hazelnuts and no line lists them: for somebody who keeps tree nuts out.
        teodora = people["Teodora Anselm-Whitcombe of Lower Marsh Street"]
        bench_actions.take_to_bench(recipes["celeriac-bowl"], teodora, "dinner", user)
        for stem, name, meal, change, notes in STORIES:
            self.two_tries(recipes[stem], people[name], meal, change, notes, user)

    def two_tries(self, recipe, person, meal, change, notes, user):
        """A first try by hand, told in its notes, and the first way through as the second."""
        bench, first = bench_actions.take_to_bench(recipe, person, meal, user)
        verb, text, what = change
        key = next(line.key for line in bench.written.lines if line.text == text)
        if verb == "food":
            bench_actions.set_food(first, first.version, key, foods().by_description(what).id, user)
        else:
            bench_actions.set_amount(first, first.version, key, what, user)
        eater = regimen_of(person).eater
        workbench = workbench_of(bench, bench_actions.standing_edit(first).dish, eater)
        outcome = ways_for(workbench, Wish(ways=1))
        if not outcome.solved:
            outcome = ways_for(workbench, Wish(ways=1, certain=False))
        for found in bench_actions.keep_ways(first, [stages_of(workbench, way) for way in outcome.ways]):
            bench_actions.take_way(found, None, user)
        bench_actions.finish(first, notes, "By hand")

"""Every address, walked from the URLconf: strangers get 404, nobody signed in gets the sign-in page.

An address that is missing from the table below fails the first test.
"""

import itertools
from datetime import date
from unittest import mock

from django.test import SimpleTestCase
from django.urls import URLPattern, URLResolver, get_resolver, reverse

from accounts.models import User
from accounts.permissions import KITCHEN, OWNER, PRACTITIONER, READER, STAFF, STUDENT, allowed
from accounts.scope import NoPractice, within
from errands import run as errands_run
from errands.models import Errand
from handouts import actions as handout_actions
from kitchen import actions as kitchen_actions
from meals import actions as meal_actions
from nutrition.food.label import US, Label
from nutrition.notes import Problem
from office import actions as office_actions
from pantry import actions as pantry_actions
from pantry.models import SwapRule, remember
from people import actions as people_actions
from people.models import Person, PersonTally
from recipes import parts as recipe_parts
from tests import IS_FULL
from tests.web.base import PracticeTest, finished_cook, made_release, make_person, make_recipe

OWN, OPEN_TO_ALL, NO_ROW = "own row", "open to all", "no row of a practice in the address"

#: name -> (kind, arguments by name of what Ana owns, method)
ADDRESSES = {
    "today": (NO_ROW, [], "get"),
    "keys": (NO_ROW, [], "get"),
    "live": (OPEN_TO_ALL, [], "get"),
    "ready": (OPEN_TO_ALL, [], "get"),
    "metrics": (OPEN_TO_ALL, [], "get"),
    "find": (NO_ROW, [], "post"),
    "account_login": (OPEN_TO_ALL, [], "get"),
    "account_logout": (NO_ROW, [], "get"),
    "account_signup": (OPEN_TO_ALL, [], "get"),
    "account_inactive": (OPEN_TO_ALL, [], "get"),
    "account_change_password": (NO_ROW, [], "get"),
    "account_reauthenticate": (NO_ROW, [], "get"),
    "account_reset_password": (OPEN_TO_ALL, [], "get"),
    "account_reset_password_done": (OPEN_TO_ALL, [], "get"),
    "account_reset_password_from_key": (OPEN_TO_ALL, ["uid", "key"], "get"),
    "account_reset_password_from_key_done": (OPEN_TO_ALL, [], "get"),
    "mfa_index": (OPEN_TO_ALL, [], "get"),
    "mfa_authenticate": (OPEN_TO_ALL, [], "get"),
    "mfa_reauthenticate": (NO_ROW, [], "get"),
    "mfa_activate_totp": (NO_ROW, [], "get"),
    "mfa_deactivate_totp": (NO_ROW, [], "get"),
    "mfa_view_recovery_codes": (NO_ROW, [], "get"),
    "mfa_generate_recovery_codes": (NO_ROW, [], "get"),
    "people:people": (NO_ROW, [], "get"),
    "people:add": (NO_ROW, [], "get"),
    "people:person": (OWN, ["person"], "get"),
    "people:find": (NO_ROW, [], "post"),
    "people:put_away": (OWN, ["person"], "post"),
    "people:duplicate": (OWN, ["person"], "post"),
    "people:edit": (OWN, ["person"], "get"),
    "people:plans": (OWN, ["person"], "get"),
    "people:foresee": (OWN, ["person"], "post"),
    "handouts:lay_out": (OWN, ["person"], "get"),
    "people:measure": (OWN, ["person"], "post"),
    "people:take_back_measured": (OWN, ["person"], "post"),
    "people:draft_again": (OWN, ["person"], "post"),
    "people:settle": (OWN, ["person"], "post"),
    "people:shares": (OWN, ["person"], "post"),
    "people:role_shares": (OWN, ["person"], "post"),
    "people:course": (OWN, ["fodmap_person"], "post"),
    "people:add_tally": (OWN, ["person"], "post"),
    "people:delete_tally": (OWN, ["tally"], "post"),
    "people:add_target": (OWN, ["person"], "post"),
    "people:confirm_all": (OWN, ["person"], "post"),
    "people:edit_target": (OWN, ["target"], "get"),
    "people:confirm_target": (OWN, ["target"], "post"),
    "people:delete_target": (OWN, ["target"], "post"),
    "people:put_back": (OWN, ["target"], "post"),
    "people:take_drafted": (OWN, ["target"], "post"),
    "recipes:recipes": (NO_ROW, [], "get"),
    "recipes:import": (NO_ROW, [], "get"),
    "recipes:options": (NO_ROW, [], "get"),
    "recipes:folders": (NO_ROW, [], "get"),
    "recipes:recipe": (OWN, ["recipe"], "get"),
    "recipes:reading": (OWN, ["recipe"], "get"),
    "recipes:rewrite": (OWN, ["recipe"], "post"),
    "recipes:wave_off": (OWN, ["recipe"], "post"),
    "recipes:eaten": (OWN, ["recipe"], "post"),
    "recipes:finish_reading": (OWN, ["recipe"], "post"),
    "recipes:tags": (OWN, ["recipe"], "post"),
    "recipes:put_away": (OWN, ["recipe"], "post"),
    "recipes:duplicate": (OWN, ["recipe"], "post"),
    "recipes:delete": (OWN, ["recipe"], "post"),
    "recipes:line": (OWN, ["line"], "get"),
    "bench:benches": (NO_ROW, [], "get"),
    "bench:take": (OWN, [], "post"),
    "bench:bench": (OWN, ["bench"], "get"),
    "bench:try": (OWN, ["bench", "attempt"], "get"),
    "bench:edit": (OWN, ["bench", "attempt"], "post"),
    "bench:branch": (OWN, ["bench", "attempt"], "post"),
    "bench:keep": (OWN, ["bench", "attempt"], "post"),
    "bench:compare": (OWN, ["bench", "attempt"], "get"),
    "bench:why": (OWN, ["bench", "attempt", "nutrient"], "get"),
    "bench:jars": (OWN, ["bench", "attempt"], "get"),
    "bench:table": (OWN, ["bench", "attempt"], "get"),
    "bench:preview": (OWN, ["bench", "attempt"], "get"),
    "bench:way": (OWN, ["bench", "attempt"], "get"),
    "bench:way_state": (OWN, ["bench", "attempt", "way_errand"], "get"),
    "bench:take_way": (OWN, ["bench", "attempt"], "post"),
    "bench:meal": (OWN, ["bench"], "post"),
    "bench:put_away": (OWN, ["bench"], "post"),
    "bench:renew": (OWN, ["bench"], "post"),
    "recipes:use_part": (OWN, ["recipe"], "post"),
    "recipes:part": (OWN, ["part_use"], "post"),
    "kitchen:cooks": (NO_ROW, [], "get"),
    "kitchen:begin": (OWN, ["attempt"], "post"),
    "kitchen:stove": (OWN, ["cook"], "get"),
    "kitchen:tap": (OWN, ["cook"], "post"),
    "kitchen:timer": (OWN, ["cook"], "post"),
    "kitchen:shares": (OWN, ["cook"], "post"),
    "kitchen:foods": (OWN, ["cook"], "get"),
    "kitchen:scale": (OWN, ["cook"], "get"),
    "kitchen:set_scale": (OWN, ["cook"], "post"),
    "kitchen:finish": (OWN, ["cook"], "get"),
    "kitchen:cooked": (OWN, ["finished"], "get"),
    "kitchen:taste": (OWN, ["finished"], "get"),
    "kitchen:decide": (OWN, ["finished"], "post"),
    "kitchen:sheet": (OWN, ["bench"], "get"),
    "kitchen:lessons": (NO_ROW, [], "get"),
    "meals:meals": (NO_ROW, [], "get"),
    "meals:begin": (NO_ROW, [], "post"),
    "meals:table": (OWN, ["occasion"], "get"),
    "meals:facts": (OWN, ["occasion"], "post"),
    "meals:change": (OWN, ["occasion"], "post"),
    "meals:find": (OWN, ["occasion"], "post"),
    "meals:pot": (OWN, ["occasion", "on_table"], "get"),
    "meals:way": (OWN, ["occasion", "on_table"], "post"),
    "meals:way_state": (OWN, ["occasion", "on_table", "table_errand"], "get"),
    "meals:whole": (OWN, ["occasion"], "post"),
    "meals:whole_state": (OWN, ["occasion", "whole_errand"], "get"),
    "meals:clear": (OWN, ["occasion"], "post"),
    "meals:today_of": (OWN, ["person"], "get"),
    "meals:day": (OWN, ["person", "on"], "get"),
    "meals:day_dishes": (OWN, ["person", "on", "meal"], "get"),
    "meals:whose": (OWN, [], "get"),
    "meals:week": (OWN, ["person"], "get"),
    "meals:week_from": (OWN, ["person", "on"], "get"),
    "meals:shopping": (OWN, ["person", "on"], "get"),
    "meals:sheet": (OWN, ["person", "on"], "get"),
    "meals:calendar": (OWN, ["person", "on"], "get"),
    "meals:copy": (OWN, ["person", "on"], "post"),
    "meals:plan": (OWN, ["person"], "post"),
    "meals:plan_state": (OWN, ["person", "plan_errand"], "get"),
    "meals:take_plan": (OWN, ["person", "plan_errand"], "post"),
    "meals:lay": (OWN, ["person"], "post"),
    "meals:clock": (OWN, ["occasion"], "get"),
    "diary:diary": (OWN, ["bench"], "get"),
    "handouts:handouts": (NO_ROW, [], "get"),
    "handouts:shopping": (OWN, ["attempt"], "get"),
    "handouts:release": (OWN, ["attempt"], "get"),
    "handouts:released": (OWN, ["release"], "get"),
    "handouts:released_pdf": (OWN, ["release"], "get"),
    "handouts:give_link": (OWN, ["release"], "post"),
    "handouts:recall": (OWN, ["release"], "post"),
    "handouts:withdraw": (OWN, ["link"], "post"),
    "meals:at_home": (OWN, ["person", "on"], "post"),
    "meals:give_week": (OWN, ["person", "on"], "post"),
    "meals:withdraw_week": (OWN, ["week_link"], "post"),
    "meals:public_week": (OPEN_TO_ALL, ["week_token"], "get"),
    "handouts:public": (OPEN_TO_ALL, ["token"], "get"),
    "handouts:public_pdf": (OPEN_TO_ALL, ["token"], "get"),
    "handouts:paper_state": (OWN, ["pdf_errand"], "get"),
    "handouts:card": (OWN, ["attempt"], "get"),
    "handouts:card_pdf": (OWN, ["attempt"], "get"),
    "pantry:pantry": (NO_ROW, [], "get"),
    "pantry:choose": (NO_ROW, [], "get"),
    "pantry:names": (NO_ROW, [], "get"),
    "pantry:felt": (NO_ROW, [], "get"),
    "pantry:food": (NO_ROW, ["food_id"], "get"),
    "pantry:add_rule": (NO_ROW, [], "post"),
    "pantry:delete_rule": (OWN, ["rule"], "post"),
    "pantry:forget": (OWN, ["alias"], "post"),
    "pantry:enter": (NO_ROW, [], "get"),
    "pantry:correct": (OWN, ["label"], "get"),
    "pantry:retire": (OWN, ["label"], "post"),
    "office:members": (NO_ROW, [], "get"),
    "office:own": (NO_ROW, [], "get"),
    "office:end_sessions": (NO_ROW, [], "post"),
    "office:invite": (NO_ROW, [], "post"),
    "office:withdraw": (OWN, ["invitation"], "post"),
    "office:join": (OPEN_TO_ALL, ["join_token"], "get"),
    "office:change_member": (OWN, ["member"], "post"),
    "office:set_active": (OWN, ["member"], "post"),
    "office:practice": (NO_ROW, [], "post"),
    "office:log": (NO_ROW, [], "get"),
    "office:figures": (NO_ROW, [], "get"),
    "office:verify": (NO_ROW, ["food_id"], "get"),
    "office:person_log": (OWN, ["person"], "get"),
    "office:hand_over": (OWN, ["person"], "post"),
    "office:export": (OWN, ["person"], "get"),
    "office:erase": (OWN, ["person"], "get"),
}

EVERYONE = {OWNER, PRACTITIONER, STAFF, STUDENT, KITCHEN, READER}
SEES_PEOPLE, DRAFTS = EVERYONE - {KITCHEN}, {OWNER, PRACTITIONER, STAFF, STUDENT}
WORKS, LEADS = {OWNER, PRACTITIONER, STAFF}, {OWNER, PRACTITIONER}

#: Who may open what: room by room, the addresses of each line. Said here anew, not taken from the registry.
MAY = [
    (
        EVERYONE,
        "today keys find recipes:recipes recipes:options recipes:folders recipes:recipe kitchen:cooks kitchen:stove kitchen:foods kitchen:scale",
    ),
    (
        EVERYONE,
        "kitchen:cooked kitchen:sheet kitchen:lessons pantry:pantry pantry:choose pantry:names pantry:felt pantry:food office:own office:figures",
    ),
    (EVERYONE, "meals:clock meals:pot"),
    (
        EVERYONE,
        "office:end_sessions handouts:public handouts:public_pdf meals:public_week office:join live ready metrics",
    ),
    (
        SEES_PEOPLE,
        "people:people people:find people:person bench:benches bench:bench bench:try bench:compare bench:why bench:table bench:jars",
    ),
    (
        SEES_PEOPLE,
        "bench:preview bench:way bench:way_state diary:diary handouts:handouts handouts:shopping handouts:released",
    ),
    (SEES_PEOPLE, "handouts:released_pdf handouts:paper_state handouts:card handouts:card_pdf"),
    (
        DRAFTS,
        "people:add people:put_away people:duplicate people:edit people:plans people:settle people:shares people:role_shares people:course people:add_tally",
    ),
    (DRAFTS, "handouts:lay_out people:foresee people:measure people:take_back_measured people:draft_again"),
    (DRAFTS, "people:delete_tally people:add_target people:edit_target people:delete_target"),
    (DRAFTS, "people:put_back people:take_drafted"),
    (
        DRAFTS,
        "recipes:tags recipes:put_away recipes:duplicate recipes:import recipes:reading recipes:rewrite recipes:wave_off recipes:eaten recipes:finish_reading recipes:delete recipes:line recipes:use_part recipes:part",
    ),
    (
        SEES_PEOPLE,
        "meals:meals meals:table meals:find meals:today_of meals:day meals:day_dishes meals:whose meals:shopping meals:sheet meals:calendar meals:week meals:week_from",
    ),
    (
        DRAFTS,
        "meals:begin meals:at_home meals:copy meals:plan meals:plan_state meals:take_plan meals:lay meals:facts meals:change meals:way meals:way_state meals:whole meals:whole_state meals:clear",
    ),
    (DRAFTS, "bench:take bench:edit bench:branch bench:keep bench:take_way bench:meal bench:renew bench:put_away"),
    (
        DRAFTS,
        "pantry:add_rule pantry:delete_rule pantry:forget pantry:enter pantry:correct pantry:retire office:verify",
    ),
    (DRAFTS | {KITCHEN}, "kitchen:begin kitchen:tap kitchen:timer kitchen:shares kitchen:set_scale kitchen:finish"),
    (DRAFTS | {KITCHEN}, "kitchen:taste kitchen:decide"),
    (
        WORKS,
        "handouts:release handouts:recall handouts:give_link handouts:withdraw meals:give_week meals:withdraw_week",
    ),
    (LEADS, "people:confirm_all people:confirm_target office:person_log office:hand_over office:export"),
    ({OWNER}, "office:members office:invite office:withdraw office:change_member office:set_active office:practice"),
    ({OWNER}, "office:log office:erase"),
]
#: Of these only the licensed.
LICENSED = {"people:confirm_all", "people:confirm_target"}
#: What would take away the next address' row.
TAKES_AWAY = {
    "recipes:delete",
    "people:delete_target",
    "people:delete_tally",
    "pantry:delete_rule",
    "pantry:forget",
    "pantry:retire",
    "office:set_active",
    "meals:clear",
}


LABEL = Label("Sauce", US, 125, {"energy_kcal": 70, "fat_g": 2.5, "carbohydrate_g": 11, "protein_g": 2})

#: What the preview of an offer asks for.
LINE_AND_OFFER = {"line": "w2", "offer": "salt-salty-less-0-5"}


def all_names(resolver, prefix=""):
    for entry in resolver.url_patterns:
        if isinstance(entry, URLResolver):
            yield from all_names(entry, f"{prefix}{entry.namespace}:" if entry.namespace else prefix)
        elif isinstance(entry, URLPattern):
            yield f"{prefix}{entry.name}"


def _nothing_found(errand):
    """What a search answers here: whether it opens is asked of every address, what it finds elsewhere."""
    raise Problem("ui.not_understood", place="page")


class Owned(PracticeTest):
    """One row of everything, all of it Ana's. Solvers and papers are stood in for, unless everything is asked."""

    def setUp(self):
        super().setUp()
        if not IS_FULL:
            searches = dict.fromkeys(("way", "table", "whole_table", "plan"), _nothing_found)
            self.enterContext(mock.patch.dict(errands_run._DOERS, searches))
            self.enterContext(mock.patch("handouts.tasks.pdf_of", return_value=b"%PDF-1.7"))
        self.bo.credential = "RDN"  # a stranger, not somebody who may less
        self.bo.save()
        remember("gran's curds", "curated:quark-low-fat", self.ana)
        from pantry.models import Alias

        tally = PersonTally(person=self.person, name="Beans", formula_text="protein_g")
        people_actions.save_tally(tally, self.ana)
        cook = kitchen_actions.begin(self.attempt, self.ana)
        finished = finished_cook(self.attempt, self.ana)
        sauce = make_recipe(self.ana, "Quick sauce\nServes 2\n400 g canned tomatoes\n1 tsp salt\nMethod\nSimmer it.")
        use = recipe_parts.use_part(make_recipe(self.ana), sauce, "half", self.ana)
        release = made_release(finished.result, self.ana)
        link, token = handout_actions.give_link(release, 30, "Imre", self.ana)
        week_link, week_token = meal_actions.give_week(
            self.person, date(2026, 12, 21), "<p>A week</p>", 30, "Imre", self.ana
        )
        invitation, join_token = office_actions.invite(self.ana.practice, "new@example.org", "staff", "", self.ana)
        member = User.objects.create_user("mo@example.org", "a long password", name="Mo", practice=self.ana.practice)
        rule = SwapRule(replaces="butter", job="fat", to="olive oil * 0.8", source="own", set_by=self.ana)
        rule.save()
        occasion = meal_actions.begin(date(2026, 12, 24), "dinner", "", "Winter table", self.ana)
        on_table = meal_actions.add_try(occasion, None, self.attempt)
        self.owned = {
            "occasion": occasion.pk,
            "on": "2026-12-24",
            "meal": "dinner",
            "on_table": on_table.pk,
            "table_errand": self.errand("table").pk,
            "whole_errand": self.errand("whole_table").pk,
            "plan_errand": self.errand("plan", person=self.person.pk, monday="2026-12-21").pk,
            "person": self.person.pk,
            "target": self.person.targets.first().pk,
            "recipe": self.recipe.pk,
            "line": self.recipe.lines.first().pk,
            "bench": self.bench.pk,
            "attempt": self.attempt.pk,
            "alias": Alias.objects.get().pk,
            "food_id": "curated:quark-low-fat",
            "nutrient": "sodium_mg",
            "fodmap_person": make_person(self.ana, "Fay", {"low-fodmap": {}}).pk,
            "tally": tally.pk,
            "rule": rule.pk,
            "label": pantry_actions.enter_label(LABEL, "125 g", self.ana).pk,
            "cook": cook.pk,
            "finished": finished.pk,
            "part_use": use.pk,
            "release": release.pk,
            "link": link.pk,
            "week_link": week_link.pk,
            "week_token": week_token,
            "token": token,
            "way_errand": self.errand("way").pk,
            "pdf_errand": self.errand("pdf").pk,
            "invitation": invitation.pk,
            "join_token": join_token,
            "member": member.pk,
            "uid": "1",
            "key": "set-password",
        }

    def errand(self, kind, **args):
        return Errand.objects.create(kind=kind, asked_by=self.ana, practice=self.ana.practice, args=args)

    def ask(self, name):
        _, arguments, method = ADDRESSES[name]
        data = {"recipe": self.recipe.pk, "person": self.person.pk} | LINE_AND_OFFER
        return getattr(self.client, method)(reverse(name, args=[self.owned[a] for a in arguments]), data)


class Roles(Owned):
    """Every address for every role there is, and for nobody: one table, and what really answers."""

    def who_may(self):
        return {name: roles for roles, names in MAY for name in names.split()}

    def someone(self, role, credential=""):
        return User.objects.create_user(
            f"{role}{credential}@example.org", "a long password", name=role.title(), role=role, credential=credential,
            practice=self.ana.practice,
        )  # fmt: skip

    def test_the_table_names_every_address(self):
        ours = {name for name in ADDRESSES if not name.startswith(("account_", "mfa_"))}
        self.assertEqual(set(self.who_may()), ours)

    def test_each_address_opens_to_those_the_table_names(self):
        people = {role: self.someone(role, "RD" if role in LEADS else "") for role in sorted(EVERYONE)}
        people["unlicensed practitioner"] = self.someone(PRACTITIONER)
        people["nobody"] = None
        for who, user in people.items():
            self.client.logout() if user is None else self.sign_in(user)
            for name, roles in self.who_may().items():
                if name in TAKES_AWAY or name in ("office:end_sessions", "office:join"):
                    continue
                if who == "unlicensed practitioner" and name not in LICENSED and not IS_FULL:
                    continue  # may what a practitioner may, but for what a license is asked for
                answer = self.ask(name)
                with self.subTest(name, who=who):
                    if ADDRESSES[name][0] == OPEN_TO_ALL:
                        self.assertNotIn(answer.status_code, (302, 403))
                    elif user is None:
                        self.assertIn(reverse("account_login"), answer["Location"])
                    elif user.role in roles and (user.is_licensed or name not in LICENSED):
                        self.assertNotEqual(answer.status_code, 403)
                        self.assertNotIn(reverse("account_login"), answer.get("Location", ""))
                    else:
                        said = "Only a licensed practitioner" if name in LICENSED else "Your part in the practice"
                        self.assertContains(answer, said, status_code=403)

    def test_who_only_reads_and_who_cooks_changed_nothing(self):
        """Whatever a reader posts, and whatever the kitchen posts outside the kitchen, leaves every row as it was."""
        from django.apps import apps

        rooms = ("people", "recipes", "bench", "handouts", "pantry", "office", "accounts", "meals")
        models = [model for room in rooms for model in apps.get_app_config(room).get_models()]
        rows = lambda: {m: sorted(map(repr, m._base_manager.values_list())) for m in models}  # noqa: E731
        users = [self.someone(READER), self.someone(KITCHEN)]
        self.sign_in(users[0])
        before = rows()
        for user in users:
            self.sign_in(user)
            for name, (_, arguments, _) in ADDRESSES.items():
                if not name.startswith(("account_", "mfa_", "kitchen:", "office:end", "office:own", "office:join")):
                    self.client.post(reverse(name, args=[self.owned[each] for each in arguments]), LINE_AND_OFFER)
        after = rows()
        before.pop(User), after.pop(User)  # signing in is written there
        self.assertEqual(before, after)


class Registry(SimpleTestCase):
    def test_a_name_that_is_not_in_it_raises_at_import(self):
        with self.assertRaisesRegex(LookupError, "no permission is called 'targets.bless'"):
            allowed("targets.bless")


class Walk(Owned):
    def test_every_address_is_in_the_table(self):
        self.assertEqual(set(all_names(get_resolver())), set(ADDRESSES))

    def test_strangers_find_nothing(self):
        self.sign_in(self.bo)
        for name, (kind, _, _) in ADDRESSES.items():
            if kind == OWN:
                self.assertEqual(self.ask(name).status_code, 404, name)

    def test_strangers_changed_nothing(self):
        before = (self.person.targets.count(), self.attempt.edits.count(), self.recipe.lines.count())
        self.test_strangers_find_nothing()
        self.assertEqual((self.person.targets.count(), self.attempt.edits.count(), self.recipe.lines.count()), before)

    def test_nobody_signed_in_is_sent_to_the_door(self):
        self.client.logout()
        for name, (kind, _, _) in ADDRESSES.items():
            if kind != OPEN_TO_ALL:
                response = self.ask(name)
                self.assertEqual(response.status_code, 302, name)
                self.assertIn(reverse("account_login"), response["Location"], name)

    def test_owners_get_in(self):
        for name, (_, _, method) in ADDRESSES.items():
            # Nobody is inactive here, and nobody has a second factor to look at.
            if method == "get" and name not in ("account_inactive", "metrics") and not name.startswith("mfa_"):
                self.assertIn(self.ask(name).status_code, (200, 302), name)

    def test_lists_show_nobody_elses_rows(self):
        self.sign_in(self.bo)
        for name in (
            "today",
            "people:people",
            "recipes:recipes",
            "bench:benches",
            "pantry:pantry",
            "kitchen:cooks",
            "kitchen:lessons",
            "handouts:handouts",
        ):
            text = self.client.get(reverse(name)).content.decode()
            for word in ("Imre", "Barley soup", "gran"):
                self.assertNotIn(word, text, name)
        self.assertNotIn(
            "Imre",
            self.client.post(reverse("find"), {"q": "Imre"})
            .content.decode()
            .replace("“Imre”", "")
            .replace('value="Imre"', ""),
        )


class Garbage(Owned):
    """Whatever is sent to any address of one's own, it answers in words and does not fall over."""

    NAMES = (
        "kind", "key", "grams", "minutes", "step", "token", "food_id", "from", "act", "timer", "line", "times", "with", "q",
        "serves", "amount", "text", "version", "part", "choice", "reason", "taste", "ease", "taster", "days", "for_whom", "way",
        "count", "name", "cooked", "serves_cooked", "cooked_g", "keep_days", "freeze_months", "portion", "release", "size",
        "print", "watch", "order", "offer", "state", "job", "meal", "recipe", "person", "nutrient", "minimum", "maximum",
    )  # fmt: skip
    VALUES = ("", "-1", "99999999999999999999", "1e400", "½<b>\x00", "א" * 300, "[]")

    def test_no_address_falls_over(self):
        self.client.raise_request_exception = True
        addresses = {
            name: reverse(name, args=[self.owned[a] for a in arguments])
            for name, (_, arguments, _) in ADDRESSES.items()
            if not (name.startswith("account") or name == "recipes:delete")
        }
        values = itertools.cycle(self.VALUES)
        for name, url in addresses.items():
            # Two of the values in turn, each by both methods; all of them where everything is asked.
            for value in self.VALUES if IS_FULL else itertools.islice(values, 2):
                data = dict.fromkeys(self.NAMES, value)
                for method in ("get", "post"):
                    with self.subTest(name, method=method, value=value[:8]):
                        response = getattr(self.client, method)(url, data)
                        self.assertLess(response.status_code, 500)


class Scope(PracticeTest):
    def test_a_query_without_a_practice_is_refused(self):
        from accounts import scope

        token = scope._practice_id.set(None)
        self.addCleanup(scope._practice_id.reset, token)
        with self.assertRaises(NoPractice):
            Person.objects.count()

    def test_a_row_of_another_practice_is_not_saved(self):
        with within(self.bo.practice), self.assertRaises(NoPractice):
            self.person.save()

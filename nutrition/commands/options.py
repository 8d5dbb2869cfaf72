"""The options of the command line, as several commands share them."""

import argparse
from typing import NoReturn

from nutrition.commands.answers import Refused
from nutrition.limits.gates import MEAL_SHARES
from nutrition.limits.measured import measures
from nutrition.limits.person import KIDNEY_STAGES
from nutrition.limits.plans import CIRCUMSTANCES, PLANS
from nutrition.limits.plans.common import LIFE_STAGES, SEXES
from nutrition.limits.roles import ROLES, WHOLE


class Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise Refused(f"{self.prog}: {message}")


def add_dish(command: argparse.ArgumentParser) -> None:
    """One recipe, and whoever eats it."""
    command.add_argument("path")
    command.add_argument("--json", action="store_true")
    command.add_argument("--serves", type=float)
    command.add_argument("--meal", choices=list(MEAL_SHARES), default="dinner")
    command.add_argument("--role", choices=list(ROLES), default=WHOLE, help="what part of the meal the dish is")
    add_eater(command)


def add_eater(command: argparse.ArgumentParser) -> None:
    """The options that say who eats."""
    command.add_argument("--diet", action="append", default=[], metavar="KEY", help=", ".join(PLANS))
    command.add_argument("--target", action="append", default=[], metavar="KEY<=N")
    command.add_argument("--weight-kg", type=float)
    command.add_argument("--energy-kcal", type=float)
    command.add_argument("--age-years", type=float)
    command.add_argument("--sex", choices=list(SEXES), default="")
    command.add_argument("--height-cm", type=float)
    command.add_argument("--life-stage", choices=list(LIFE_STAGES), default="")
    command.add_argument("--kidney-stage", choices=list(KIDNEY_STAGES), default="")
    command.add_argument("--fluid-ml", type=float)
    command.add_argument("--medicine", action="append", default=[], metavar="NAME")
    command.add_argument(
        "--measured", action="append", default=[], metavar="KEY=VALUE@DATE", help=", ".join(measures())
    )
    command.add_argument(
        "--today", metavar="DATE", help="by which a blood result counts as old; else nothing measured counts"
    )
    command.add_argument("--school", action="append", default=[], metavar="KEY=VALUE")
    command.add_argument("--dislikes", default="", metavar="WORDS", help="what they will not eat")
    command.add_argument("--allergies", default="", metavar="WORDS", help="noted in words of one's own")
    command.add_argument("--circumstance", action="append", default=[], metavar="KEY", help=", ".join(CIRCUMSTANCES))


def add_meal(command: argparse.ArgumentParser) -> None:
    """The dishes of a meal; who eats is one person of the options, or those of a file."""
    command.add_argument("paths", nargs="*", metavar="PATH")
    command.add_argument("--food", action="append", default=[], metavar="WORDS", help="as in '1 slice of bread, 35 g'")
    command.add_argument("--json", action="store_true")
    command.add_argument("--serves", action="append", default=[], metavar="N=NUMBER")
    command.add_argument("--meal", choices=list(MEAL_SHARES), default="dinner")
    command.add_argument("--role", action="append", default=[], metavar="N=ROLE", help=", ".join(ROLES))
    command.add_argument("--way", type=int, metavar="N", help="the least change of dish N that opens everybody's meal")
    command.add_argument(
        "--whole", action="store_true", help="portions, then changes of dishes, that open everybody's meal"
    )
    command.add_argument("--cooks", type=int, choices=(1, 2, 3, 4), default=1)
    command.add_argument("--eaters", metavar="FILE.json", help="[{name, diet: [..], weight-kg: ..}]: options as keys")
    add_seat(command)


def add_plan(command: argparse.ArgumentParser) -> None:
    """What days are planned from, and for whom."""
    command.add_argument("paths", nargs="*", metavar="PATH")
    command.add_argument("--json", action="store_true")
    command.add_argument("--serves", action="append", default=[], metavar="N=NUMBER")
    command.add_argument("--days", type=int, default=1)
    command.add_argument("--meals", default="breakfast,lunch,dinner", metavar="MEAL,MEAL")
    command.add_argument("--suits", action="append", default=[], metavar="N=MEAL,MEAL", help="where a dish may stand")
    command.add_argument("--shared", action="append", default=[], metavar="MEAL", help="one dish for everybody")
    command.add_argument("--eaters", metavar="FILE.json", help="[{name, diet: [..], weight-kg: ..}]: options as keys")
    add_seat(command)


def add_seat(command: argparse.ArgumentParser) -> None:
    """The options of one eater at a table."""
    command.add_argument("--name", default="")
    command.add_argument(
        "--portion", action="append", default=[], metavar="N=WORDS", help="as in 1=half, 2='180 g', 3=none"
    )
    command.add_argument(
        "--without",
        action="append",
        default=[],
        metavar="N=LINE,LINE",
        help="their part of a dish, taken out before these lines",
    )
    add_eater(command)

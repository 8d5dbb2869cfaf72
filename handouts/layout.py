"""How the cards of a person are laid out: which parts, in which order, how large, and whose rules they quote."""

from dataclasses import dataclass

from .paper import PRINTS


@dataclass(frozen=True, slots=True)
class Section:
    """A part of a card. `may_go`: whether it can be left out; what warns of harm cannot."""

    key: str
    label: str
    may_go: bool = False

    @property
    def template(self):
        return f"handouts/_card_{self.key}.html"


#: In the order a card has them unless a person's says otherwise. The ingredients and what a portion holds stand first.
SECTIONS = {
    each.key: each
    for each in (
        Section("steps", "Steps"),
        Section("changes", "What was changed, and why", may_go=True),
        Section("ceilings", "In the shop: the most a label may say", may_go=True),
        Section("shopping", "Shopping list", may_go=True),
        Section("allergens", "Allergens"),
        Section("care", "Take care"),
        Section("keeping", "Cook, cool, keep"),
        Section("know", "Good to know", may_go=True),
    )
}
REGIONS = {"": "as the plans read labels", "us": "United States", "eu": "Europe and the United Kingdom"}


@dataclass(frozen=True, slots=True)
class Layout:
    """Read from a person's `card`; what is not there is as usual."""

    sections: tuple[Section, ...]
    off: frozenset[str]
    print: str
    region: str

    @property
    def printed(self):
        return [section for section in self.sections if section.key not in self.off]


def layout_of(person):
    """The layout of a person's cards. A key of another version of this program is passed over."""
    said = person.card
    ordered = [key for key in said.get("order", ()) if key in SECTIONS]
    sections = tuple(SECTIONS[key] for key in dict.fromkeys((*ordered, *SECTIONS)))
    off = frozenset(key for key in said.get("off", ()) if key in SECTIONS and SECTIONS[key].may_go)
    look, region = said.get("print", ""), said.get("region", "")
    return Layout(sections, off, look if look in PRINTS else "", region if region in REGIONS else "")

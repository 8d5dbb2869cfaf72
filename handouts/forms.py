"""What the handouts' forms send, read into values."""

from dataclasses import dataclass, field

from django import forms

from nutrition.notes import Problem
from ui.posted import whole

from .layout import REGIONS
from .paper import PRINTS

MOST_LINK_DAYS, MOST_KEEP_DAYS, MOST_FREEZE_MONTHS = 366, 30, 24


def read_whole(typed, what, most):
    """A whole number from 0; None when nothing was typed. Raises Problem."""
    typed = (typed or "").strip()
    if not typed:
        return None
    if whole(typed, most + 1) > most:
        raise Problem("handouts.not_whole", typed=typed[:20], what=what, most=most)
    return whole(typed)


@dataclass(frozen=True, slots=True)
class MadeSure:
    """What a person says before a card goes out. `asked`: which of the two times the form asked for.

    `accepted`: nutrient -> why its gate may stay shut, empty for no more. `labels`: line key -> (product, tags its label
    names) of every label that was read.
    """

    portion: str | None
    keep_days: int | None
    freeze_months: int | None
    asked: frozenset[str]
    has_label_margin: bool
    prints_reasons: bool = False
    is_as_planned: bool = False
    accepted: dict[str, str] = field(default_factory=dict)
    labels: dict[str, tuple[str, tuple[str, ...]]] = field(default_factory=dict)


class ReadinessForm(forms.Form):
    """The checklist as it was filled in. `is_release`: the card is to go out with it."""

    @property
    def is_release(self):
        return "release" in self.data

    def made_sure(self):
        """Its values. Raises Problem."""
        data = self.data
        read = [name.removeprefix("read-") for name in data if name.startswith("read-") and data.get(name)]
        return MadeSure(
            portion=" ".join(data["portion"].split())[:160] if "portion" in data else None,
            keep_days=read_whole(data.get("keep_days"), "days", MOST_KEEP_DAYS),
            freeze_months=read_whole(data.get("freeze_months"), "months", MOST_FREEZE_MONTHS),
            asked=frozenset(name for name in ("keep_days", "freeze_months") if name in data),
            has_label_margin=data.get("label_margin") == "on",
            prints_reasons=data.get("prints_reasons") == "on",
            is_as_planned=data.get("as_planned") == "on",
            accepted={
                name.removeprefix("accept-"): " ".join(data[name].split())[:300]
                for name in data
                if name.startswith("accept-")
            },
            labels={
                key: (" ".join(data.get(f"product-{key}", "").split())[:120], tuple(data.getlist(f"holds-{key}")))
                for key in read
            },
        )


class LayoutForm(forms.Form):
    """How a person's cards are laid out: which parts, in which order, the print, whose rules."""

    look = forms.ChoiceField(
        label="print", required=False, choices=[(key, words) for key, (words, _) in PRINTS.items()]
    )
    region = forms.ChoiceField(label="rules quoted", required=False, choices=list(REGIONS.items()))

    def __init__(self, *args, layout, **kwargs):
        super().__init__(*args, **kwargs)
        self.layout = layout
        self.initial |= {"look": layout.print, "region": layout.region}
        for each in self.fields.values():
            each.widget.attrs["class"] = "form-select"
        for place, section in enumerate(layout.sections, 1):
            self.fields[f"at-{section.key}"] = forms.IntegerField(
                label=f"place of “{section.label}”", min_value=1, max_value=99, initial=place, required=False
            )
            self.fields[f"at-{section.key}"].widget.attrs["class"] = "form-control form-control-sm"
            if section.may_go:
                self.fields[f"on-{section.key}"] = forms.BooleanField(
                    label=section.label, required=False, initial=section.key not in layout.off
                )
                self.fields[f"on-{section.key}"].widget.attrs["class"] = "form-check-input"

    def rows(self):
        """(section, its place, its box or nothing) as the template lays them out."""
        return [
            (section, self[f"at-{section.key}"], self[f"on-{section.key}"] if section.may_go else None)
            for section in self.layout.sections
        ]

    def card(self):
        """As a person keeps it."""
        said = self.cleaned_data
        places = {s.key: (said[f"at-{s.key}"] or 99, at) for at, s in enumerate(self.layout.sections)}
        off = [s.key for s in self.layout.sections if s.may_go and not said[f"on-{s.key}"]]
        return {"order": sorted(places, key=places.get), "off": off, "print": said["look"], "region": said["region"]}

    @property
    def version(self):
        return whole(self.data.get("version"), None)


class RecallForm(forms.Form):
    """Why nobody should cook from a card any more."""

    @property
    def why(self):
        return " ".join(self.data.get("why", "").split())[:200]


class LinkForm(forms.Form):
    """For whom a private link is, for how many days, and what has to be known besides.

    `shows_plans`: the card behind it names the person's plans.
    """

    word = forms.CharField(required=False, max_length=80)
    shows_plans = forms.BooleanField(required=False)

    @property
    def besides(self):
        """(word, shows_plans)."""
        self.is_valid()
        return self.cleaned_data.get("word", ""), self.cleaned_data.get("shows_plans", False)

    def days(self):
        """Raises Problem."""
        days = read_whole(self.data.get("days"), "days", MOST_LINK_DAYS)
        if not days:
            raise Problem("handouts.link_days", most=MOST_LINK_DAYS)
        return days

    @property
    def for_whom(self):
        return " ".join(self.data.get("for_whom", "").split())[:80]


class WordForm(forms.Form):
    """The word a private link asks for."""

    @property
    def word(self):
        return self.data.get("word", "")[:80]

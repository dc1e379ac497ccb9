"""The form of a row: times and the days on which they hold, written as a sentence whose parts are the controls.

Each row's form builds the plan file's own words from what was typed, and lets the core's readers judge them.
"""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Any, NamedTuple

from django import forms
from django.forms.boundfield import BoundWidget

from skavit.core.ground.errors import PlanError
from skavit.core.plan.days import DAILY, NAMED, WEEKDAYS, Days, Narrowed
from skavit.core.plan.limits import Limits
from skavit.core.plan.times import TIME_FORM
from skavit.core.sun import SunEvent
from skavit.core.text.typed import CLOCK_TYPED_FORM
from skavit.core.text.wording import SHORT_DAYS, Words, capital, days_text
from skavit.units.pages.unit.fields import days_fields, other_exceptions

TIME_KINDS = [("clock", "clock"), *((word, word) for word in (event.name.lower() for event in SunEvent))]


TIME_PARTS = ("kind", "clock", "offset", "not_before", "not_after")
DAY_KINDS = [
    ("daily", "every day"),
    ("weekdays", "Mon to Fri"),
    ("weekends", "Sat, Sun"),
    ("chosen", "these weekdays"),
    ("odd", "odd dates"),
    ("even", "even dates"),
    ("every", "every n-th day"),
    ("dates", "these dates"),
]


@dataclass(frozen=True, slots=True, kw_only=True)
class Offered:
    """The choices of a control: what the unit can hold and what is chosen, and the rest behind one word."""

    held: list[BoundWidget]
    rest: list[BoundWidget]

    @classmethod
    def of(cls, field: forms.BoundField, held: Collection[str]) -> "Offered":
        """The choices of a bound field by whether the unit can hold them."""
        chosen = field.value()
        fits = {str(w.data["value"]): w.data["value"] in held or w.data["value"] == chosen for w in field.subwidgets}
        return cls(
            held=[w for w in field.subwidgets if fits[str(w.data["value"])]],
            rest=[w for w in field.subwidgets if not fits[str(w.data["value"])]],
        )


def held_times(limits: Limits) -> frozenset[str]:
    """The sorts of time that one of a unit's slots can hold, and so long as a window may last."""
    banks = limits.slots or ()
    events = SunEvent if limits.sun_events is None else limits.sun_events
    by_sun = not banks or any(bank.holds_time(by_sun=True) for bank in banks)
    return frozenset({"clock", "for", *(event.name.lower() for event in events if by_sun)})


def held_days(limits: Limits) -> frozenset[str]:
    """The sorts of days that one of a unit's slots can hold."""
    if limits.day_groups is None:
        return frozenset(name for name, _ in DAY_KINDS)
    masks = limits.masks()
    named = {name for name, mask in NAMED.items() if mask in masks}
    return frozenset(named | {"as-is"} | ({"chosen"} if masks - set(NAMED.values()) else set()))


class TimeControl(NamedTuple):
    """The bound fields of one time, and what the closed control says."""

    prefix: str
    label: str
    kind: Offered
    clock: forms.BoundField
    offset: forms.BoundField
    not_before: forms.BoundField
    not_after: forms.BoundField
    errors: list[str]
    typed: bool  # is open in a form that was overtaken: what was typed there is another than what was there


class DaysControl(NamedTuple):
    """The bound fields of one day rule, and what the closed control says."""

    label: str
    kind: Offered
    chosen: forms.BoundField
    every: forms.BoundField
    start: forms.BoundField
    dates: forms.BoundField
    except_dates: forms.BoundField
    season_first: forms.BoundField
    season_last: forms.BoundField
    keep_except: forms.BoundField | None
    excepted: str
    errors: list[str]
    typed: bool


class Sentence(forms.Form):
    """Times, and the days on which they hold."""

    prefixes: tuple[str, ...] = ()

    revision = forms.IntegerField(widget=forms.HiddenInput)
    days_kind = forms.ChoiceField(choices=DAY_KINDS, widget=forms.RadioSelect, required=False)
    days_chosen = forms.MultipleChoiceField(
        choices=list(zip(WEEKDAYS, SHORT_DAYS, strict=True)), widget=forms.CheckboxSelectMultiple, required=False
    )
    days_every = forms.IntegerField(required=False, min_value=1)
    days_from = forms.CharField(required=False)
    days_dates = forms.CharField(required=False)
    except_dates = forms.CharField(required=False)
    season_first = forms.CharField(required=False)
    season_last = forms.CharField(required=False)
    keep_except = forms.BooleanField(required=False)

    def __init__(
        self,
        *args: Any,
        place: str,
        index: int | None,
        words: Words,
        limits: Limits,
        kept: Days | None = None,
        **kwargs: Any,
    ) -> None:
        super().__init__(*args, **{**kwargs, "auto_id": f"{place}-%s"})
        self.place, self.index, self.kept, self.words, self.limits = place, index, kept, words, limits
        for prefix in self.prefixes:
            self.fields[f"{prefix}_kind"] = forms.ChoiceField(
                choices=TIME_KINDS, widget=forms.RadioSelect, required=False
            )
            self.fields[f"{prefix}_clock"] = forms.CharField(required=False, max_length=12)
            self.fields[f"{prefix}_offset"] = forms.IntegerField(required=False)
            self.fields[f"{prefix}_not_before"] = forms.CharField(required=False, max_length=12)
            self.fields[f"{prefix}_not_after"] = forms.CharField(required=False, max_length=12)
        if kept is not None and days_fields(kept).get("days_kind") == "as-is":
            kind = self.fields["days_kind"]
            kind.choices = [*DAY_KINDS, ("as-is", days_text(kept))]  # type: ignore[attr-defined]
        self.labels: dict[str, str] = {}
        self.overtaken = False  # somebody else has changed the plan since it was opened

    def _typed(self, *names: str) -> bool:
        return self.overtaken and any(name in self.changed_data for name in names)

    @property
    def is_new(self) -> bool:
        """Whether it adds a row rather than change one."""
        return self.index is None

    def times(self) -> list[TimeControl]:
        """The time controls, for the templates."""
        return [
            TimeControl(
                prefix=prefix,
                label=self.labels.get(prefix, "…"),
                kind=Offered.of(self[f"{prefix}_kind"], held_times(self.limits)),
                clock=self[f"{prefix}_clock"],
                offset=self[f"{prefix}_offset"],
                not_before=self[f"{prefix}_not_before"],
                not_after=self[f"{prefix}_not_after"],
                errors=[str(error) for name in TIME_PARTS for error in self.errors.get(f"{prefix}_{name}", [])],
                typed=self._typed(*(f"{prefix}_{name}" for name in TIME_PARTS)),
            )
            for prefix in self.prefixes
        ]

    def days(self) -> DaysControl:
        """The days control, for the templates."""
        without = other_exceptions(self.kept)
        names = ("days_kind", "days_chosen", "days_every", "days_from", "days_dates", "except_dates", "season_first",
                 "season_last")  # fmt: skip
        return DaysControl(
            label=self.labels.get("days", "every day"),
            kind=Offered.of(self["days_kind"], held_days(self.limits)),
            chosen=self["days_chosen"],
            every=self["days_every"],
            start=self["days_from"],
            dates=self["days_dates"],
            except_dates=self["except_dates"],
            season_first=self["season_first"],
            season_last=self["season_last"],
            keep_except=self["keep_except"] if without else None,
            excepted=days_text(Narrowed(days=DAILY, without=without)).removeprefix("every day ") if without else "",
            errors=[str(error) for name in names for error in self.errors.get(name, [])],
            typed=self._typed(*names),
        )

    def refuse(self, error: PlanError, places: dict[str, str]) -> None:
        """Show an error of the core at the field that its path names."""
        place = places.get(error.path.split(".")[0].split("[")[0])
        # The sun is chosen beside a clock field, and not typed into it.
        accepted = CLOCK_TYPED_FORM if error.accepted == TIME_FORM and place in self.clock_fields else error.accepted
        self.add_error(place, f"{capital(error.wrong)}. Accepted: {accepted}.")

    @property
    def clock_fields(self) -> list[str]:
        """The fields in which a clock time is typed."""
        return [f"{prefix}_clock" for prefix in self.prefixes]

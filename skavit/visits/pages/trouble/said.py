"""What a caller says in a few words, as looks: each is what somebody must have seen for it."""

import datetime as dt
from dataclasses import dataclass

import numpy as np
from django import forms
from django.http import QueryDict

from skavit.core.causes import Bed, Look, things_of
from skavit.core.ground.arrays import DAY_S, HOUR_S, MINUTE_S
from skavit.core.ground.spans import EMPTY, Spans
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_number, day_of
from skavit.core.simulation.replay import replay
from skavit.core.text.wording import weekday_date
from skavit.core.water.stack import stack
from skavit.visits.pages.trouble.forms import days_back

NOON_S = 12 * HOUR_S
SWITCHED = (
    ("late", "It comes on an hour late, since"),
    ("early", "It comes on an hour early, since"),
    ("by-day", "It is on all day, on"),
    ("never", "It does not come on, on"),
)
WATERED = (
    ("late", "It waters an hour late, since"),
    ("early", "It waters an hour early, since"),
    ("by-day", "It waters about noon, on"),
    ("never", "It does not water, on"),
    ("dry", "A bed is dry, on"),
    ("far", "Only the far end of a bed is dry, on"),
    ("wet", "A bed is wet, on"),
)


class SaidForm(forms.Form):
    """A few words, the day that they are about, and what of the unit."""

    def __init__(self, data: QueryDict | None, *, plan: Plan, today: dt.date) -> None:
        super().__init__(data)
        self.plan = plan
        waters = plan.water is not None
        choices = [(day.isoformat(), weekday_date(day_number(day))) for day in days_back(today)]
        self.things = [
            (str(t.number), t.name) for t in things_of(plan) if t.sort == ("station" if waters else "channel")
        ]
        said = [("", "…"), *(WATERED if waters else SWITCHED)]
        self.fields["say"] = forms.ChoiceField(label="The caller says", choices=said)
        self.fields["say_day"] = forms.ChoiceField(label="Day", choices=choices)
        self.fields["say_what"] = forms.ChoiceField(label="Of", choices=self.things, required=False)

    @property
    def offered(self) -> bool:
        """Whether anything can be said of the unit so: nothing of one that only holds temperatures."""
        return bool(self.things)

    def looks(self) -> tuple[Look, ...]:
        """The looks, in order of time; none where the unit does nothing on that day that could be late."""
        said, day = self.cleaned_data["say"], day_number(dt.date.fromisoformat(self.cleaned_data["say_day"]))
        return _Said(self.plan, int(self.cleaned_data["say_what"] or 1)).looks(said, day)


@dataclass(frozen=True, slots=True)
class _Said:
    """Looks at one output or bed of a plan's unit."""

    plan: Plan
    number: int  # of the output or the station, from 1

    def looks(self, said: str, day: int) -> tuple[Look, ...]:
        """What was seen, in order of time."""
        match said:
            case "dry" | "wet" | "far":
                bed = Bed(
                    station=self.number, state="wet" if said == "wet" else "dry", part="far" if said == "far" else "all"
                )
                return (Look(at=day * DAY_S + 8 * HOUR_S, beds=(bed,)),)
            case "by-day":
                noon = day * DAY_S + NOON_S
                return (self._look(noon + HOUR_S // 2 if self.plan.water else noon, on=True, about_s=HOUR_S),)
            case "never":
                found = self._periods(day)
                return tuple(self._look((on + off) // 2, on=False) for on, off in found[:1])
            case "late":
                before = [self._look(on + 30 * MINUTE_S, on=True) for on, _ in self._periods(day - 1)[:1]]
                since = [
                    self._look(at, on=seen)
                    for on, off in self._periods(day)[:1]
                    for at, seen in ((on + 30 * MINUTE_S, False), (off + 30 * MINUTE_S, True))
                ]
                return (*before, *since)
            case "early":
                since = [
                    self._look(at, on=seen)
                    for on, off in self._periods(day)[:1]
                    for at, seen in ((on - 30 * MINUTE_S, True), (off - 30 * MINUTE_S, False))
                ]
                return tuple(since)
        return ()

    def _look(self, at: int, *, on: bool, about_s: int = 0) -> Look:
        if self.plan.water is not None:
            return Look(at=at, since=at - about_s if about_s else None, watering=on)
        outputs = tuple(on if n == self.number else None for n in range(1, len(self.plan.channels) + 1))
        return Look(at=at, outputs=outputs)

    def _periods(self, day: int) -> list[tuple[int, int]]:
        """Local digits of the periods that begin on a date by the program, to the minute."""
        run = replay(self.plan, day_of(day), day_of(day + 1), [EMPTY] * len(self.plan.channels))
        watered = stack(run)
        spans: Spans = run.channels[self.number - 1].actual if watered is None else watered.flowing
        digits = [run.site_clock.digits(each) // MINUTE_S * MINUTE_S for each in (spans.on, spans.off)]
        rows = np.nonzero(digits[0] // DAY_S == day)[0]
        return [(int(digits[0][row]), int(digits[1][row])) for row in rows]

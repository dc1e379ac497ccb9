"""What a caller says in a few words, as looks: each is what somebody must have seen for it."""

import datetime as dt
from dataclasses import dataclass

import numpy as np
from django import forms
from django.http import QueryDict

from skavit.core.causes import Bed, Look, first_of, spans_of, things_of
from skavit.core.ground.arrays import DAY_S, HOUR_S, MINUTE_S
from skavit.core.ground.spans import EMPTY
from skavit.core.plan.document import Plan
from skavit.core.plan.times import day_number, day_of
from skavit.core.simulation.replay import replay
from skavit.core.text.wording import weekday_date
from skavit.visits.pages.trouble.forms import days_back

MOST_DAYS = 14  # of which a caller speaks; a week before, too, what is so each week was seen
NOON_S = 12 * HOUR_S
SWITCHED = (
    ("late", "It comes on an hour late, since"),
    ("early", "It comes on an hour early, since"),
    ("by-day", "It is on all day, on"),
    ("never", "It does not come on, on"),
    ("weekly", "Each week it does not come on, on the day of"),
    ("weekly-on", "Each week it is on all day, on the day of"),
)
WARMED = (
    ("late", "It gets warm an hour late, since"),
    ("early", "It gets warm an hour early, since"),
    ("never", "It stays cold, on"),
    ("weekly", "Each week it stays cold, on the day of"),
    ("night", "It is warm all night, after"),
)
WATERED = (
    ("late", "It waters an hour late, since"),
    ("early", "It waters an hour early, since"),
    ("by-day", "It waters about noon, on"),
    ("never", "It does not water, on"),
    ("weekly", "Each week it does not water, on the day of"),
    ("dry", "A bed is dry, on"),
    ("far", "Only the far end of a bed is dry, on"),
    ("wet", "A bed is wet, on"),
)


_SAID = {"channel": SWITCHED, "station": WATERED, "room": WARMED}


class SaidForm(forms.Form):
    """A few words, the day that they are about, and what of the unit."""

    def __init__(self, data: QueryDict | None, *, plan: Plan, today: dt.date) -> None:
        super().__init__(data)
        self.plan = plan
        self.sort = "station" if plan.water is not None else "room" if plan.heat is not None else "channel"
        choices = [(day.isoformat(), weekday_date(day_number(day))) for day in days_back(today)[:MOST_DAYS]]
        self.things = [(str(t.number), t.name) for t in things_of(plan) if t.sort == self.sort]
        self.fields["say"] = forms.ChoiceField(label="The caller says", choices=[("", "…"), *_SAID[self.sort]])
        self.fields["say_day"] = forms.ChoiceField(label="Day", choices=choices)
        self.fields["say_what"] = forms.ChoiceField(label="Of", choices=self.things, required=False)

    @property
    def offered(self) -> bool:
        """Whether anything can be said of the unit so."""
        return bool(self.things)

    def looks(self) -> tuple[Look, ...]:
        """The looks, in order of time; none where the unit does nothing on that day that could be late."""
        said, day = self.cleaned_data["say"], day_number(dt.date.fromisoformat(self.cleaned_data["say_day"]))
        return _Said(self.plan, self.sort, int(self.cleaned_data["say_what"] or 1)).looks(said, day)


@dataclass(frozen=True, slots=True)
class _Said:
    """Looks at one output, room or bed of a plan's unit."""

    plan: Plan
    sort: str
    number: int  # of its sort, from 1

    def looks(self, said: str, day: int) -> tuple[Look, ...]:
        """What was seen, in order of time."""
        seen = {
            "late": self._late, "early": self._early, "by-day": self._by_day, "night": self._night,
            "weekly": self._weekly, "weekly-on": self._weekly_on, "never": self._never,
        }  # fmt: skip
        return seen[said](day) if said in seen else self._bed(said, day)

    def _bed(self, said: str, day: int) -> tuple[Look, ...]:
        state, part = ("wet", "all") if said == "wet" else ("dry", "far" if said == "far" else "all")
        return (Look(at=day * DAY_S + 8 * HOUR_S, beds=(Bed(station=self.number, state=state, part=part),)),)

    def _by_day(self, day: int) -> tuple[Look, ...]:
        noon = day * DAY_S + NOON_S
        return (self._look(noon + HOUR_S // 2 if self.plan.water else noon, on=True, about_s=HOUR_S),)

    def _night(self, day: int) -> tuple[Look, ...]:
        return (self._look((day + 1) * DAY_S + 3 * HOUR_S, on=True),)

    def _never(self, day: int) -> tuple[Look, ...]:
        return self._within(day, on=False)

    def _weekly(self, day: int) -> tuple[Look, ...]:
        return (*self._within(day - 7, on=False), *self._within(day - 1, on=True), *self._within(day, on=False))

    def _weekly_on(self, day: int) -> tuple[Look, ...]:
        noons = [(day - 7, True), (day - 1, False), (day, True)]
        return tuple(self._look(date * DAY_S + NOON_S, on=seen) for date, seen in noons)

    def _late(self, day: int) -> tuple[Look, ...]:
        """Right the day before; dark at its time since then, and on beyond its end."""
        before = [self._look(on + 30 * MINUTE_S, on=True) for on, _ in self._periods(day - 1)[:1]]
        since = [
            self._look(at, on=seen)
            for on, off in self._periods(day)[:1]
            for at, seen in ((on + 30 * MINUTE_S, False), (off + 30 * MINUTE_S, True))
        ]
        return (*before, *since)

    def _early(self, day: int) -> tuple[Look, ...]:
        """On before its time, and dark before its end."""
        return tuple(
            self._look(at, on=seen)
            for on, off in self._periods(day)[:1]
            for at, seen in ((on - 30 * MINUTE_S, True), (off - 30 * MINUTE_S, False))
        )

    def _within(self, day: int, *, on: bool) -> tuple[Look, ...]:
        """In the middle of the first period that begins on a date by the program."""
        return tuple(self._look((begin + end) // 2, on=on) for begin, end in self._periods(day)[:1])

    def _look(self, at: int, *, on: bool, about_s: int = 0) -> Look:
        if self.sort == "station":
            return Look(at=at, since=at - about_s if about_s else None, watering=on)
        seen = tuple(on if t.number == self.number else None for t in things_of(self.plan) if t.sort == self.sort)
        return Look(at=at, outputs=seen) if self.sort == "channel" else Look(at=at, warm=seen)

    def _periods(self, day: int) -> list[tuple[int, int]]:
        """Local digits of the periods that begin on a date by the program, to the minute; of all that waters together."""
        run = replay(self.plan, day_of(day - 1), day_of(day + 1), [EMPTY] * len(self.plan.channels))
        sort, number = ("water", 1) if self.sort == "station" else (self.sort, self.number)
        spans = spans_of(run)[first_of(self.plan, sort) + number - 1]
        digits = [run.site_clock.digits(each) // MINUTE_S * MINUTE_S for each in (spans.on, spans.off)]
        rows = np.nonzero(digits[0] // DAY_S == day)[0]
        return [(int(digits[0][row]), int(digits[1][row])) for row in rows]

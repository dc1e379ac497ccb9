"""What somebody says on the telephone: looks at a unit, a row each, all of it in the address."""

import datetime as dt
from dataclasses import dataclass
from typing import Any

from django import forms

from skavit.core.causes import BLANK, MAX_LOOKS, Blank, Look
from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.plan.times import ClockTime, day_number
from skavit.core.text.wording import weekday_date
from skavit.web.typed_fields import DateField, TimeField, tell_today

LEAST_ROWS, MORE_ROWS = 3, 3
DAYS_BACK = 13
STATES = (("", "not seen"), ("on", "on"), ("off", "off"))


@dataclass(frozen=True, slots=True, kw_only=True)
class LookFields:
    """The fields of one look."""

    number: int
    day: forms.BoundField
    time: forms.BoundField
    outputs: list[forms.BoundField]
    shows: forms.BoundField
    blank: forms.BoundField
    date: forms.BoundField

    @property
    def errors(self) -> list[str]:
        """What is wrong with any of them."""
        fields = (self.day, self.time, *self.outputs, self.shows, self.date)
        return [str(error) for field in fields for error in field.errors]


class LooksForm(forms.Form):
    """Rows of looks; a row without a time is no look."""

    rows = forms.IntegerField(widget=forms.HiddenInput, required=False)

    def __init__(self, data: Any, *, plan: Plan, today: dt.date) -> None:
        super().__init__(data)
        self.plan, self.today = plan, today
        self.count = _count(data.get("rows") if data else None)
        number = day_number(today)
        days = [
            (dt.date.fromordinal(today.toordinal() - back).isoformat(), _day_text(number - back, back))
            for back in range(DAYS_BACK + 1)
        ]
        for row in range(self.count):
            self.fields[f"day{row}"] = forms.ChoiceField(choices=days, label="Day", required=False)
            self.fields[f"time{row}"] = TimeField(label="At", required=False)
            for channel, each in enumerate(plan.channels, start=1):
                self.fields[f"out{row}-{channel}"] = forms.ChoiceField(
                    choices=STATES, label=each.name, required=False, widget=forms.RadioSelect
                )
            self.fields[f"shows{row}"] = TimeField(label="Display reads", required=False)
            self.fields[f"blank{row}"] = forms.BooleanField(label="blank or flashing", required=False)
            self.fields[f"date{row}"] = DateField(label="and the date", required=False, help_text="")
        tell_today(self, today)

    def looks_fields(self) -> list[LookFields]:
        """The rows as a page shows them."""
        return [
            LookFields(
                number=row + 1,
                day=self[f"day{row}"],
                time=self[f"time{row}"],
                outputs=[self[f"out{row}-{channel}"] for channel in range(1, len(self.plan.channels) + 1)],
                shows=self[f"shows{row}"],
                blank=self[f"blank{row}"],
                date=self[f"date{row}"],
            )
            for row in range(self.count)
        ]

    @property
    def more(self) -> int:
        """How many rows there are with more of them; 0 where there are enough."""
        return self.count + MORE_ROWS if self.count + MORE_ROWS <= MAX_LOOKS else 0

    def looks(self) -> tuple[Look, ...]:
        """What was seen, in order of time; a row of which nothing was seen is none."""
        found = [look for row in range(self.count) if (look := self._look(row)) is not None]
        return tuple(sorted(found, key=lambda look: look.at))

    def _look(self, row: int) -> Look | None:
        data = self.cleaned_data
        seconds = data[f"time{row}"]
        outputs = tuple(
            {"on": True, "off": False}.get(data[f"out{row}-{c}"]) for c in range(1, len(self.plan.channels) + 1)
        )
        shows, blank, day = data[f"shows{row}"], data[f"blank{row}"], data[f"date{row}"]
        if seconds is None or not (blank or shows is not None or day or any(seen is not None for seen in outputs)):
            return None
        at = day_number(dt.date.fromisoformat(data[f"day{row}"] or self.today.isoformat())) * DAY_S + seconds
        read: ClockTime | Blank | None = BLANK if blank else None if shows is None else ClockTime(shows)
        return Look(at=at, shows=read, date=day_number(day) if day and not blank else None, outputs=outputs)


def _count(text: str | None) -> int:
    try:
        return min(max(int(text or LEAST_ROWS), LEAST_ROWS), MAX_LOOKS)
    except ValueError:
        return LEAST_ROWS


def _day_text(day: int, back: int) -> str:
    name = {0: "today, ", 1: "yesterday, "}.get(back, "")
    return f"{name}{weekday_date(day)}"

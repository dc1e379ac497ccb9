"""What somebody says on the telephone: looks at a unit, a row each, all of it in the address."""

import datetime as dt
from dataclasses import dataclass
from typing import Any

from django import forms
from django.http import QueryDict

from skavit.core.causes import BLANK, MAX_LOOKS, Bed, Blank, Look, things_of
from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.plan.times import ClockTime, day_number, day_of
from skavit.core.text.wording import weekday_date
from skavit.web.typed_fields import DateField, TimeField, tell_today

LEAST_ROWS, MORE_ROWS = 3, 3
DAYS_BACK = 20
GROUND = (("dry", "dry"), ("dry-far", "dry at the far end"), ("dry-near", "dry near its valve"), ("wet", "wet"))
WATER_FIELDS = ("station", "runs", "bed", "ground")


@dataclass(frozen=True, slots=True, kw_only=True)
class LookFields:
    """The fields of one look."""

    number: int
    day: forms.BoundField
    time: forms.BoundField
    since: forms.BoundField
    outputs: list[forms.BoundField]
    water: list[forms.BoundField]  # which station, and whether it ran; which bed, and how it was
    shows: forms.BoundField
    blank: forms.BoundField
    date: forms.BoundField

    @property
    def errors(self) -> list[str]:
        """What is wrong with any of them."""
        fields = (self.day, self.time, self.since, *self.outputs, *self.water, self.shows, self.date)
        return [str(error) for field in fields for error in field.errors]


class LooksForm(forms.Form):
    """Rows of looks; a row without a time is no look."""

    rows = forms.IntegerField(widget=forms.HiddenInput, required=False)

    def __init__(self, data: Any, *, plan: Plan, today: dt.date) -> None:
        super().__init__(data)
        self.plan, self.today = plan, today
        things = things_of(plan)
        self.outputs = {n: thing for n, thing in enumerate(things, 1) if thing.sort in ("channel", "room")}
        self.stations = [(str(thing.number), thing.name) for thing in things if thing.sort == "station"]
        self.count = _count(data.get("rows") if data else None)
        days = [(day.isoformat(), _day_text(day_number(day), back)) for back, day in enumerate(days_back(today))]
        for row in range(self.count):
            self.fields[f"day{row}"] = forms.ChoiceField(choices=days, label="Day", required=False)
            self.fields[f"time{row}"] = TimeField(label="At", required=False)
            self.fields[f"since{row}"] = TimeField(label="or since", required=False)
            for place in self.outputs:
                self.fields[f"out{row}-{place}"] = self._states(place)
            if plan.water is not None:
                self._add_water(row)
            self.fields[f"shows{row}"] = TimeField(label="Display reads", required=False)
            self.fields[f"blank{row}"] = forms.BooleanField(label="blank or flashing", required=False)
            self.fields[f"date{row}"] = DateField(label="and the date", required=False, help_text="")
        tell_today(self, today)

    def _states(self, place: int) -> forms.ChoiceField:
        """Whether one output was seen on or off, a room warm or cold."""
        thing = self.outputs[place]
        choices = [("", "not seen"), *zip(("on", "off"), thing.states, strict=True)]
        return forms.ChoiceField(choices=choices, label=thing.name, required=False, widget=forms.RadioSelect)

    def _add_water(self, row: int) -> None:
        stations = [("", "not seen"), ("any", "some station"), *self.stations]
        running = [("on", "running"), ("off", "not running")]
        self.fields[f"station{row}"] = forms.ChoiceField(choices=stations, label="Station", required=False)
        self.fields[f"runs{row}"] = forms.ChoiceField(choices=running, label="was", required=False)
        beds = [("", "not seen"), *self.stations]
        self.fields[f"bed{row}"] = forms.ChoiceField(choices=beds, label="Bed of", required=False)
        self.fields[f"ground{row}"] = forms.ChoiceField(choices=GROUND, label="was", required=False)

    def looks_fields(self) -> list[LookFields]:
        """The rows as a page shows them."""
        return [
            LookFields(
                number=row + 1,
                day=self[f"day{row}"],
                time=self[f"time{row}"],
                since=self[f"since{row}"],
                outputs=[self[f"out{row}-{place}"] for place in self.outputs],
                water=[self[f"{name}{row}"] for name in WATER_FIELDS if f"{name}{row}" in self.fields],
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
        seconds, since = data[f"time{row}"], data[f"since{row}"]
        seen = {place: {"on": True, "off": False}.get(data[f"out{row}-{place}"]) for place in self.outputs}
        of_sort = {
            sort: tuple(seen[place] for place, thing in self.outputs.items() if thing.sort == sort)
            for sort in ("channel", "room")
        }
        water = self._water(row)
        shows, blank, day = data[f"shows{row}"], data[f"blank{row}"], data[f"date{row}"]
        said = blank or shows is not None or day or water or any(one is not None for one in seen.values())
        if seconds is None or not said:
            return None
        at = day_number(dt.date.fromisoformat(data[f"day{row}"] or self.today.isoformat())) * DAY_S + seconds
        if since is not None:
            since = at - (seconds - since) % DAY_S  # before midnight, where it is later than the time of the look
        read: ClockTime | Blank | None = BLANK if blank else None if shows is None else ClockTime(shows)
        date = day_number(day) if day and not blank else None
        return Look(
            at=at, since=since, shows=read, date=date, outputs=of_sort["channel"], warm=of_sort["room"], **water
        )

    def _water(self, row: int) -> dict[str, Any]:
        """What was seen of stations and beds, as a look has it."""
        found: dict[str, Any] = {}
        station, runs = self.cleaned_data.get(f"station{row}"), self.cleaned_data.get(f"runs{row}") != "off"
        if station == "any":
            found["watering"] = runs
        elif station:
            found["stations"] = tuple(runs if number == station else None for number, _ in self.stations)
        bed, ground = self.cleaned_data.get(f"bed{row}"), self.cleaned_data.get(f"ground{row}") or "dry"
        if bed:
            state, _, part = ground.partition("-")
            found["beds"] = (Bed(station=int(bed), state=state, part=part or "all"),)
        return found

    def written_down(self, looks: tuple[Look, ...]) -> QueryDict:
        """What stands in the rows, with more looks in those that are free: the address of the page that shows both."""
        rows = QueryDict(mutable=True)
        rows.update({name: value for name, value in self.data.items() if value and not name.startswith("say")})
        free = [row for row in range(MAX_LOOKS) if not rows.get(f"time{row}")][: len(looks)]
        for row, look in zip(free, looks, strict=False):
            rows.update(self._row(row, look))
        rows["rows"] = str(min(max(self.count, max(free, default=0) + 1), MAX_LOOKS))
        return rows

    def _row(self, row: int, look: Look) -> dict[str, str]:
        found = {f"day{row}": day_of(look.at // DAY_S).isoformat(), f"time{row}": str(ClockTime(look.at % DAY_S))}
        if look.since is not None:
            found[f"since{row}"] = str(ClockTime(look.since % DAY_S))
        for place, thing in self.outputs.items():
            seen = {"channel": look.outputs, "room": look.warm}.get(thing.sort)
            if seen and (on := seen[thing.number - 1]) is not None:
                found[f"out{row}-{place}"] = "on" if on else "off"
        if look.watering is not None:
            found |= {f"station{row}": "any", f"runs{row}": "on" if look.watering else "off"}
        for bed in look.beds:
            ground = bed.state if bed.part == "all" else f"{bed.state}-{bed.part}"
            found |= {f"bed{row}": str(bed.station), f"ground{row}": ground}
        return found


def days_back(today: dt.date) -> list[dt.date]:
    """The days of which somebody still knows what they saw, today first."""
    return [today - dt.timedelta(days=back) for back in range(DAYS_BACK + 1)]


def _count(text: str | None) -> int:
    try:
        return min(max(int(text or LEAST_ROWS), LEAST_ROWS), MAX_LOOKS)
    except ValueError:
        return LEAST_ROWS


def _day_text(day: int, back: int) -> str:
    name = {0: "today, ", 1: "yesterday, "}.get(back, "")
    return f"{name}{weekday_date(day)}"

"""A unit as found: what is typed, what it says of the clock and the sun, and the plan that it runs."""

import datetime as dt
from dataclasses import dataclass, replace
from typing import Any

from django import forms

from skavit.bounds import LINES_BYTES, MOST_LINES
from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError, SkavitError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.clock_settings import ByHand
from skavit.core.plan.document import Plan, read_plan
from skavit.core.plan.edits import set_sun
from skavit.core.plan.entry import Entry, read_entry
from skavit.core.plan.sun_settings import Adjust
from skavit.core.plan.times import MAX_OFFSET_MIN, day_number, day_of, read_clock_time
from skavit.core.simulation.reverse import as_found
from skavit.core.site.clock_check import ClockShown, ClockSlip, check_clock
from skavit.core.site.sun_table import SunReading, TableReading, read_table
from skavit.core.text.typed import entry_line, weekday_of
from skavit.core.text.wording import FULL_DAYS, MONTHS, Words, capital
from skavit.now import local_digits
from skavit.typed_fields import DateField, TimeField
from skavit.units.models import AsFound

MODES = ("automatic", "on by hand", "off by hand", "other")
# A clock is read within a minute, and looked at for one.
READ_S = 90


class ShownForm(forms.Form):
    """What a unit's clock and sun table show; everything may be left empty."""

    time = TimeField(required=False, label="Time it shows", help_text="Such as 21:40 or 9:40 pm.")
    date = DateField(required=False, label="Date")
    weekday = forms.ChoiceField(
        choices=[("", "not shown"), *((name, name) for name in FULL_DAYS)], required=False, label="Weekday"
    )
    sunrise = TimeField(required=False, label="Sunrise it shows")
    sunset = TimeField(required=False, label="Sunset it shows")

    def __init__(self, *args: Any, today: dt.date, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for field in self.fields.values():
            if isinstance(field, DateField):
                field.today = today


MONTH_CHOICES = [("", "–"), *((str(number), name) for number, name in enumerate(MONTHS, start=1))]
WEEK_CHOICES = [("", "–"), ("1", "first Sunday"), ("2", "second"), ("3", "third"), ("4", "fourth"), ("5", "last")]


class ClockForm(ShownForm):
    """What a unit's clock page asks: beside the rest the summer-time rule that it displays, or its two next dates."""

    from_month = forms.ChoiceField(choices=MONTH_CHOICES, required=False, label="Summer time from")
    from_week = forms.ChoiceField(choices=WEEK_CHOICES, required=False, label="on its")
    to_month = forms.ChoiceField(choices=MONTH_CHOICES, required=False, label="until")
    to_week = forms.ChoiceField(choices=WEEK_CHOICES, required=False, label="on its")
    starts = DateField(required=False, label="Or it shows a start on", help_text="")
    ends = DateField(required=False, label="and an end on", help_text="")

    RULE_FIELDS = ("from_month", "from_week", "to_month", "to_week", "starts", "ends")

    def change_days(self) -> tuple[int, int, int, int] | None:
        """Month and week of either change, where all four were chosen."""
        chosen = [self.cleaned_data.get(name) for name in ("from_month", "from_week", "to_month", "to_week")]
        return tuple(map(int, chosen)) if all(chosen) else None  # type: ignore[return-value]


class FoundForm(ShownForm):
    """A unit as found."""

    mode = forms.ChoiceField(choices=[("", "not seen"), *((m, m) for m in MODES)], required=False, label="Mode")
    output = forms.ChoiceField(
        choices=[("", "not seen"), ("on", "on"), ("off", "off")], required=False, label="Its output"
    )
    lines = forms.CharField(
        widget=forms.Textarea(attrs={"rows": 8, "spellcheck": "false", "autocapitalize": "off", "class": "lines"}),
        required=False,
        label="The entries it holds, a line each",
        help_text="Such as: on sunset+10, off 22:40 mo-fr, c2 on 6:15 am sa su. A slot number before it may stand there.",
    )
    note = forms.CharField(max_length=300, required=False, label="Anything else")

    def __init__(self, *args: Any, plan: Plan, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.plan = plan
        self.entries: tuple[Entry, ...] = ()

    def clean_lines(self) -> str:
        """The lines as typed; each is an entry."""
        text = self.cleaned_data["lines"].strip()
        found, wrong = [], []
        for number, line in enumerate(_lines(text), start=1):
            if not line.strip():
                continue
            try:
                found.append(entry_line(line, f"line {number}", len(self.plan.channels), self.plan.unit.sun))
            except PlanError as error:
                wrong.append(forms.ValidationError(_sentence(error)))
        if wrong:
            raise forms.ValidationError(wrong)
        self.entries = tuple(found)
        return text

    def shown(self) -> dict[str, str]:
        """What was looked at, as plain text by field, for keeping."""
        data = self.cleaned_data
        times = {
            name: f"{data[name] // 3600:02d}:{data[name] // 60 % 60:02d}"
            for name in ("time", "sunrise", "sunset")
            if data[name] is not None
        }
        words = {name: data[name] for name in ("weekday", "mode", "output", "note") if data[name]}
        return times | words | ({"date": data["date"].isoformat()} if data["date"] else {})


class KeepForm(forms.Form):
    """What the clock page found and the plan is to keep: a correction, or how far the clock is out."""

    revision = forms.IntegerField()
    error_s = forms.IntegerField(required=False)
    sunrise_min = forms.IntegerField(required=False, min_value=-MAX_OFFSET_MIN, max_value=MAX_OFFSET_MIN)
    sunset_min = forms.IntegerField(required=False, min_value=-MAX_OFFSET_MIN, max_value=MAX_OFFSET_MIN)

    def clean(self) -> dict[str, Any]:
        """One of the two is there."""
        data = super().clean() or {}
        if data.get("error_s") is None and (data.get("sunrise_min") is None or data.get("sunset_min") is None):
            raise forms.ValidationError("Nothing to keep.")
        return data

    @property
    def note(self) -> str:
        """What the revision is called."""
        return "correction of the sun" if self.cleaned_data["error_s"] is None else "clock error"

    def edit(self, plan: Plan) -> Plan:
        """The plan that keeps it; read again by the core, which refuses what cannot stand together."""
        data, unit = self.cleaned_data, plan.unit
        if data["error_s"] is not None:
            changed = replace(plan, unit=replace(unit, clock=replace(unit.clock, error_s=data["error_s"])))
            return read_plan(Node(changed.to_json()))
        adjust = Adjust(sunrise_min=data["sunrise_min"], sunset_min=data["sunset_min"])
        return set_sun(plan, replace(unit.sun, adjust=adjust))


def _lines(text: str) -> list[str]:
    found = text.splitlines()
    if len(found) > MOST_LINES or len(text) > LINES_BYTES:
        raise forms.ValidationError(
            f"{len(found):,} lines with {len(text):,} letters are too many. "
            f"Accepted: at most {MOST_LINES} lines and {LINES_BYTES:,} letters."
        )
    return found


def _sentence(error: PlanError) -> str:
    return f"{capital(error.path)}: {error.wrong}. Accepted: {error.accepted}."


@dataclass(frozen=True, slots=True, kw_only=True)
class Looked:
    """What a display showed, read back, with what is wrong about it."""

    slips: tuple[ClockSlip, ...]
    table: TableReading | None
    table_error: str
    error_s: int | None  # how far ahead the clock is, where time and date tell it


def look(
    plan: Plan,
    digits: int,
    words: Words,
    *,
    time: int | None,
    day: dt.date | None,
    weekday: str,
    sun: tuple[int | None, int | None],
) -> Looked:
    """What is wrong with a display that must show ``digits``, and what its sun times say."""
    right = day_of(digits // DAY_S)
    shown = ClockShown(seconds=time, day=day, weekday=weekday_of(weekday) if weekday else None)
    slips = check_clock(shown, digits, words)
    table, table_error = None, ""
    if sun[0] is not None and sun[1] is not None:
        reading = SunReading(day=day or right, sunrise_s=sun[0] // 60 * 60, sunset_s=sun[1] // 60 * 60)
        try:
            table = read_table(plan.site, (reading,))
        except SkavitError as error:
            table_error = str(error)
    error_s = None
    if time is not None:
        on = day_number(day or right) * DAY_S + time
        away = on - digits // 60 * 60
        if day is None:
            away = (away + DAY_S // 2) % DAY_S - DAY_S // 2
        error_s = away if abs(away) > READ_S else 0
    return Looked(slips=slips, table=table, table_error=table_error, error_s=error_s)


def found_plan(plan: Plan, found: AsFound) -> Plan:
    """The plan that a unit as found runs: its entries, and its clock as far out as it was."""
    channels = len(plan.channels)
    entries = tuple(
        read_entry(Node(raw, f"entries[{index}]"), channels, plan.unit.sun) for index, raw in enumerate(found.entries)
    )
    made = as_found(plan, entries)
    looked = look_again(plan, found, Words())
    if not looked.error_s or isinstance(plan.unit.clock.dst, ByHand):
        return made
    clock = replace(made.unit.clock, error_s=looked.error_s)
    return replace(made, unit=replace(made.unit, clock=clock))


def look_again(plan: Plan, found: AsFound, words: Words) -> Looked:
    """The same look at a unit as it was written down."""
    shown = found.shown

    def seconds(name: str) -> int | None:
        return read_clock_time(Node(shown[name], name)).seconds if name in shown else None

    return look(
        plan,
        local_digits(plan, found.looked_at),
        words,
        time=seconds("time"),
        day=dt.date.fromisoformat(shown["date"]) if "date" in shown else None,
        weekday=shown.get("weekday", ""),
        sun=(seconds("sunrise"), seconds("sunset")),
    )

"""What was done to a zone by hand: its lines, and the form of another."""

from typing import Any, assert_never

from django import forms

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan
from skavit.core.plan.heat import (
    Frost,
    HeatAuto,
    HeatOff,
    HeatOverride,
    HeatSetting,
    Hold,
    HolidayDays,
    HolidayUntil,
    Warmth,
)
from skavit.core.plan.heat_edits import add_done, heat_of
from skavit.core.text.typed import clock_word
from skavit.core.text.wording import Words, capital, count, dated_text, duration_text
from skavit.heating.pages.unit.degrees import degrees_typed
from skavit.units.pages.unit.parts import ByHandRow, LineForm
from skavit.web.typed_fields import DateField

WHAT = [
    ("c", "another temperature, until the next set point"),
    ("hold_min", "another temperature, for minutes"),
    ("frost", "frost protection, until further notice"),
    ("off", "off, without frost protection"),
    ("holiday_until", "holiday, until a date and time"),
    ("today", "holiday, for days, today counted"),
    ("tomorrow", "holiday, for days, today not counted"),
    ("auto", "back to automatic"),
]


class HeatByHandForm(LineForm):
    """One thing done by hand: when, in which zone, what, how warm and for how long."""

    what = forms.ChoiceField(choices=WHAT, label="What")
    zone = forms.TypedChoiceField(coerce=int, label="Zone")
    degrees = forms.CharField(label="Temperature", required=False, max_length=12)
    length = forms.FloatField(label="How long", required=False, min_value=0, help_text="Minutes or days, as beside it.")
    until = DateField(label="Back on", required=False)
    until_time = forms.CharField(label="Back at", required=False, max_length=12)

    def __init__(self, *args: Any, plan: Plan, words: Words, **kwargs: Any) -> None:
        super().__init__(*args, **{"auto_id": "by-hand-%s", **kwargs})
        self.words = words
        zones = [(n, zone.name) for n, zone in enumerate(heat_of(plan).zones, start=1)]
        self.fields["zone"].choices = zones  # type: ignore[attr-defined]
        self.done: HeatOverride | None = None

    def clean(self) -> dict[str, Any]:
        """Read it by the core's rules."""
        data = super().clean() or {}
        if self.errors:
            return data
        what = data["what"]
        if what in ("c", "hold_min") and not data.get("degrees"):
            self.add_error("degrees", f"How warm? Accepted: a temperature, such as {self.words.warmth(21)}.")
        if what in ("hold_min", "today", "tomorrow") and not data.get("length"):
            self.add_error("length", "How long? Accepted: a number.")
        if what == "holiday_until" and not (data.get("until") and data.get("until_time")):
            self.add_error("until", "Until when? Accepted: a date and a time.")
        if self.errors:
            return data
        try:
            self.done = HeatOverride.read(
                Node({"at": self.local_datetime, "zone": data["zone"], "set": self._set(data)})
            )
        except PlanError as error:
            key = error.path.rpartition(".")[2]
            places = {"c": "degrees", "hold_min": "length", "holiday_days": "length", "holiday_until": "until_time"}
            self.add_error(places.get(key), f"{capital(error.wrong)}. Accepted: {error.accepted}.")
            return data
        setting = self.done.setting
        if isinstance(setting, HolidayUntil) and setting.until <= self.done.at:
            self.add_error("until", "It ends before it begins. Accepted: a later date or time.")
        return data

    def _set(self, data: dict[str, Any]) -> dict[str, Any]:
        """The plan file's words for what was done."""
        match data["what"]:
            case "c":
                return {"c": degrees_typed(data["degrees"], self.words)}
            case "hold_min":
                return {"hold_min": data["length"], "c": degrees_typed(data["degrees"], self.words)}
            case "holiday_until":
                return {"holiday_until": f"{data['until'].isoformat()}T{clock_word(data['until_time'])}"}
            case "today" | "tomorrow" as counted:
                days = data["length"]
                return {"holiday_days": int(days) if days == int(days) else days, "from": counted}
            case what:
                return {what: True}

    def edit(self, plan: Plan) -> Plan:
        """The plan with it."""
        if self.done is None:
            raise ValueError(self.errors)
        return add_done(plan, self.done)


def setting_words(setting: HeatSetting, words: Words) -> str:
    """What was done, in words."""
    match setting:
        case Warmth(c=c):
            text = f"{words.warmth(c)} until the next set point"
        case Hold(minutes=minutes, c=c):
            text = f"{words.warmth(c)} for {duration_text(minutes * 60)}"
        case Frost():
            text = "Frost protection until further notice"
        case HeatOff():
            text = "Off, without frost protection"
        case HolidayUntil(until=until):
            text = f"Holiday until {dated_text(until // DAY_S)}, {words.clock(until % DAY_S)}"
        case HolidayDays(days=days, counted_from=counted):
            text = f"Holiday for {count(days, 'day')}, today {'counted' if counted == 'today' else 'not counted'}"
        case HeatAuto():
            text = "Back to automatic"
        case _:
            assert_never(setting)
    return text


def heat_by_hand_rows(plan: Plan, words: Words) -> list[ByHandRow]:
    """The lines, the latest first."""
    heat = heat_of(plan)
    several = len(heat.zones) > 1
    return [
        ByHandRow(
            index=index,
            day=dated_text(done.at // DAY_S),
            time=words.clock(done.at % DAY_S),
            text=setting_words(done.setting, words),
            channel=heat.zones[done.zone - 1].name if several else "",
        )
        for index, done in sorted(enumerate(heat.overrides), key=lambda row: -row[1].at)
    ]

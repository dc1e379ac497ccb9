"""What was done to the outputs of a unit by hand: its lines, and the form of another.

The form builds the plan file's own words and lets the core's reader judge them.
"""

from typing import Any

from django import forms

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import Kind
from skavit.core.load import LOCKS
from skavit.core.plan.document import Plan
from skavit.core.plan.edits import add_override
from skavit.core.plan.overrides import ExitButton, FirstIn, Override
from skavit.core.text.wording import Words, capital, dated_text
from skavit.switching.pages.unit.setting_words import setting_text
from skavit.units.pages.unit.parts import ByHandRow, LineForm

WHAT = [
    ("on", "left on by hand"),
    ("off", "left off by hand"),
    ("auto-on", "automatic, switched on by hand"),
    ("auto-off", "automatic, switched off by hand"),
    ("auto", "back to automatic"),
    ("boost_min", "boost, for minutes"),
    ("countdown-off", "countdown, minutes, then off"),
    ("countdown-on", "countdown, minutes, then on"),
    ("holiday_days", "away, for days"),
    ("exit_s", "exit button, opens for seconds"),
    ("first_in", "the first person came in"),
    ("power_cut_h", "power cut, for hours"),
    ("clock_set", "clock set after a power cut"),
]
WHOLE_UNIT = ("power_cut_h", "clock_set")
OF_A_DOOR = ("exit_s", "first_in")
DOORS = (*LOCKS, "gate")
ASKS_LENGTH = ("boost_min", "countdown-off", "countdown-on", "holiday_days", "exit_s", "power_cut_h")


def _has_door(plan: Plan) -> bool:
    """Whether something of the plan says that it opens a door or a gate: nobody presses an exit button at a boiler."""
    opens = any(channel.first_in or (channel.load and channel.load.sort in DOORS) for channel in plan.channels)
    return (
        opens
        or plan.unit.channel_mode == "pulse"
        or any(isinstance(o.setting, (ExitButton, FirstIn)) for o in plan.overrides)
    )


class ByHandForm(LineForm):
    """One thing done by hand: when, to which channel, what, and for how long."""

    what = forms.ChoiceField(choices=WHAT, label="What")
    length = forms.FloatField(
        label="How long", required=False, min_value=0, help_text="Seconds, minutes, hours or days, as beside it."
    )
    on_channel = forms.TypedChoiceField(coerce=int, required=False, label="Channel")

    def __init__(self, *args: Any, plan: Plan, **kwargs: Any) -> None:
        super().__init__(*args, **{"auto_id": "by-hand-%s", **kwargs})
        self.fields["what"].choices = [one for one in WHAT if one[0] not in OF_A_DOOR or _has_door(plan)]  # type: ignore[attr-defined]
        channels = self.fields["on_channel"]
        channels.choices = [(n, c.name) for n, c in enumerate(plan.channels, start=1)]  # type: ignore[attr-defined]
        if len(plan.channels) == 1:
            channels.widget = forms.HiddenInput()
            channels.initial = 1
        self.override: Override | None = None

    def clean(self) -> dict[str, Any]:
        """Read it by the core's rules."""
        data = super().clean() or {}
        if self.errors:
            return data
        what, length = data["what"], data.get("length")
        if what in ASKS_LENGTH and not length:
            self.add_error("length", "How long did it last? Accepted: a number.")
            return data
        found = {"at": self.local_datetime, "set": _set(what, length)}
        if what not in WHOLE_UNIT:
            found["channel"] = data.get("on_channel") or 1
        try:
            self.override = Override.read(Node(found))
        except PlanError as error:
            self.add_error("length", f"{capital(error.wrong)}. Accepted: {error.accepted}.")
        return data

    def edit(self, plan: Plan) -> Plan:
        """The plan with it."""
        if self.override is None:
            raise ValueError(self.errors)
        return add_override(plan, self.override)


def _set(what: str, length: float | None) -> Any:
    """The plan file's word for what was done."""
    if what in ("clock_set", "first_in"):
        return {what: True}
    if what.startswith("countdown"):
        return {"countdown_min": length, "then": what.removeprefix("countdown-")}
    if what in ("holiday_days", "exit_s"):
        return {what: int(length) if length and length == int(length) else length}
    return {what: length} if what in ASKS_LENGTH else what


def by_hand_rows(plan: Plan, kind: Kind | None, words: Words) -> list[ByHandRow]:
    """The lines, the latest first."""
    several = len(plan.channels) > 1
    return [
        ByHandRow(
            index=index,
            day=dated_text(override.at // DAY_S),
            time=words.clock(override.at % DAY_S),
            text=capital(setting_text(override.setting, kind)),
            channel=plan.channels[override.channel - 1].name if several and override.channel else "",
        )
        for index, override in sorted(enumerate(plan.overrides), key=lambda row: -row[1].at)
    ]

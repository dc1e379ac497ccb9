"""The settings of a unit. Each form builds the plan file's own words and lets the core's readers judge them."""

from typing import Any

from django import forms
from django.db.models import QuerySet

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import Kind
from skavit.core.kinds.fields import degrees_word
from skavit.core.plan import edits
from skavit.core.plan.clock_settings import NAMED_RULES, ByHand, ClockSettings, NamedRule
from skavit.core.plan.document import DEFAULT_PULSE_S, Plan
from skavit.core.plan.limits import Bank, Limits
from skavit.core.plan.sun_settings import SunSettings
from skavit.core.site.clock import zone_clock
from skavit.core.site.clock_check import clock_changes
from skavit.core.sun import SunEvent
from skavit.core.text.coordinates import parse_degrees
from skavit.core.text.wording import RULE_TEXT, capital
from skavit.sites.models import Site
from skavit.units.pages.naming import NamedForm

LAW_YEARS = (2020, 2030)
SUN_WORDS = [event.name.lower() for event in SunEvent]


class UnitEditForm(NamedForm):
    """What a unit is called, where it hangs, and at which site."""

    site = forms.ModelChoiceField(queryset=Site.objects.none(), label="Site", empty_label=None)

    def __init__(self, *args: Any, sites: QuerySet[Site], **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["site"].queryset = sites  # type: ignore[attr-defined]


GROUP_CHOICES = [
    ("daily", "every day"),
    ("weekdays", "Mon to Fri"),
    ("weekends", "Sat, Sun"),
    ("single-days", "each weekday alone"),
    ("any", "any set of weekdays"),
]


SHAPES = [
    ("", "one entry"),
    ("same", "an ON and an OFF on the same days"),
    ("own", "an ON and an OFF, each with its days"),
]


# Nobody presses the key: the clock stays where it is.
STAYS_ON = "stays-on"
RULE_CHOICES = [
    *((name, capital(RULE_TEXT[name])) for name in NAMED_RULES),
    (STAYS_ON, "Nobody puts it back: daylight saving all year"),
]
BY_HAND_CHOICES = [
    ("zone", "Moved by hand, on the dates of the law"),
    ("none", "Nobody puts it on: standard time all year"),
    (STAYS_ON, "Nobody puts it back: daylight saving all year"),
]


def _stays_on(plan: Plan) -> dict[str, Any]:
    """Daylight saving all year, by as much as the law has at the site."""
    law = clock_changes(zone_clock(plan.site.timezone, *LAW_YEARS), 0, 2**40)
    return {"changes": [], "initial_min": max((abs(change.by_s) // 60 for change in law[-2:]), default=60)}


def _shown_rule(plan: Plan) -> str:
    """The choice that stands for the plan's rule; as-is for one that has none."""
    rule = plan.unit.clock.dst
    if isinstance(rule, NamedRule):
        return rule.name
    return STAYS_ON if rule.to_json() == ByHand.read(Node(_stays_on(plan))).to_json() else "as-is"


class BehaviourForm(forms.Form):
    """How the unit's clock runs, how it returns to automatic, and what its memory holds."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    dst = forms.ChoiceField(label="Daylight saving", choices=RULE_CHOICES)
    error_s = forms.IntegerField(
        label="Clock is ahead by, seconds", required=False, help_text="Behind: a minus. 3600 is an hour ahead."
    )
    on_return_to_auto = forms.ChoiceField(
        label="Put back to automatic, it",
        choices=[("computes", "goes to what its program has now"), ("waits", "keeps its output until the next entry")],
    )
    entries = forms.IntegerField(label="Slots in all", required=False, min_value=0, help_text="Empty: no limit.")
    day_groups = forms.MultipleChoiceField(
        label="Day groups of one slot",
        choices=GROUP_CHOICES,
        required=False,
        widget=forms.CheckboxSelectMultiple,
        help_text="None ticked: any days, odd and even dates and seasons too.",
    )
    clock_step_s = forms.IntegerField(
        label="Steps of clock times, seconds", required=False, min_value=1, help_text="60 for whole minutes."
    )
    sun_offset_max_min = forms.IntegerField(label="Largest sun offset, minutes", required=False, min_value=0)
    sun_events = forms.MultipleChoiceField(
        label="Sun times it knows",
        choices=[(word, word) for word in SUN_WORDS],
        required=False,
        widget=forms.CheckboxSelectMultiple,
        help_text="None ticked: all four.",
    )
    limited_times = forms.BooleanField(label="A slot can hold not before and not after", required=False)
    shape = forms.ChoiceField(label="A slot holds", choices=SHAPES, required=False)
    actions = forms.MultipleChoiceField(
        label="Beside ON and OFF a slot can",
        choices=[("pulse", "pulse once"), ("repeat", "pulse over and over")],
        required=False,
        widget=forms.CheckboxSelectMultiple,
    )
    channel_mode = forms.ChoiceField(
        label="Channels switch",
        choices=[
            ("independent", "each by its own entries"),
            ("together", "all by every entry"),
            ("pulse", "in pulses: each ON is one"),
        ],
        required=False,
    )
    pulse_s = forms.IntegerField(label="Such a pulse lasts, seconds", required=False, min_value=1)
    operating = forms.ChoiceField(
        label="Operating mode, where some exclude one another",
        choices=[
            ("program", "none: every entry acts"),
            ("manual", "manual: no entry acts"),
            ("light", "by light only"),
            ("light-on-timed-off", "on by light, off by the clock"),
            ("timed", "on and off by the clock"),
        ],
        required=False,
    )
    reserve_h = forms.FloatField(
        label="Its clock survives a power cut of, hours", required=False, min_value=0, help_text="Empty: any."
    )

    def __init__(self, *args: Any, plan: Plan, kind: Kind | None = None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.plan = plan
        self.clock: ClockSettings = plan.unit.clock
        self.limits: Limits = plan.unit.limits
        choices = BY_HAND_CHOICES if kind is not None and kind.moved_by_hand else RULE_CHOICES
        rule = _shown_rule(plan)
        if rule == "as-is":
            own = "Set by hand, as in the plan file" if isinstance(plan.unit.clock.dst, ByHand) else "Its own rule"
            choices = [*choices, ("as-is", own)]
        elif rule not in dict(choices):
            choices = [*choices, (rule, dict(RULE_CHOICES)[rule])]
        self.fields["dst"].choices = choices  # type: ignore[attr-defined]
        if _shape(plan.unit.limits) == "as-is":
            self.fields["shape"].choices = [*SHAPES, ("as-is", "several banks, as in the plan file")]  # type: ignore[attr-defined]

    @classmethod
    def showing(cls, plan: Plan, revision: int, kind: Kind | None = None) -> "BehaviourForm":
        """An unbound form that shows a plan's unit."""
        limits = plan.unit.limits.to_json()
        groups = [group for group in limits.pop("day_groups", []) if isinstance(group, str)]
        initial = limits | {
            "revision": revision,
            "dst": _shown_rule(plan),
            "error_s": int(plan.unit.clock.error_s) or None,
            "on_return_to_auto": plan.unit.on_return_to_auto,
            "day_groups": groups,
            "shape": _shape(plan.unit.limits),
            "actions": [word for word in plan.unit.limits.actions or () if word in ("pulse", "repeat")],
            "channel_mode": plan.unit.channel_mode,
            "pulse_s": plan.unit.pulse_s,
            "operating": plan.unit.operating,
            "reserve_h": plan.unit.reserve_h,
        }
        return cls(initial=initial, plan=plan, kind=kind)

    def clean(self) -> dict[str, Any]:
        """Read clock and limits by the core's rules; what the form does not show stays as it is."""
        data = super().clean() or {}
        if self.errors:
            return data
        clock = self.plan.unit.clock.to_json()
        if data["dst"] != "as-is":
            clock["dst"] = _stays_on(self.plan) if data["dst"] == STAYS_ON else data["dst"]
        clock.pop("error_s", None)
        if data.get("error_s"):
            clock["error_s"] = data["error_s"]
        kept = self.plan.unit.limits.to_json()
        shown = ("entries", "clock_step_s", "sun_offset_max_min", "sun_events", "limited_times")
        limits = {k: v for k, v in kept.items() if k not in shown and k != "day_groups"}
        limits |= {k: data[k] for k in shown if data.get(k) is not None and data[k] not in ([], "")}
        if not limits.get("limited_times"):
            limits.pop("limited_times", None)
        own_groups = [g for g in kept.get("day_groups", []) if not isinstance(g, str)]
        if data.get("day_groups") or own_groups:
            limits["day_groups"] = [*data["day_groups"], *own_groups]
        self._add_memory(limits, data)
        try:
            self.clock = ClockSettings.read(Node(clock, "dst"))
            self.limits = Limits.read(Node(limits))
        except PlanError as error:
            _refuse(self, error)
        return data

    def _add_memory(self, limits: dict[str, Any], data: dict[str, Any]) -> None:
        """Put the shape of a slot and its actions into the limits."""
        limits.pop("actions", None)
        if data.get("actions"):
            limits["actions"] = ["on", "off", *data["actions"]]
        elif self.plan.unit.limits.actions is not None and not set(self.plan.unit.limits.actions) & {"pulse", "repeat"}:
            limits["actions"] = list(self.plan.unit.limits.actions)
        if data.get("shape") == "as-is":
            return
        limits.pop("slots", None)
        if data.get("shape"):
            bank = {"shape": "pair", "off_days": data["shape"]}
            limits["slots"] = [bank | ({"count": data["entries"] // 2} if data.get("entries") is not None else {})]

    note = "clock and memory changed"

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        data = self.cleaned_data
        return edits.set_unit(
            plan,
            clock=self.clock,
            on_return_to_auto=data["on_return_to_auto"],
            limits=self.limits,
            channel_mode=data.get("channel_mode") or "independent",
            operating=data.get("operating") or "program",
            pulse_s=data.get("pulse_s") or DEFAULT_PULSE_S,
            reserve_h=data.get("reserve_h"),
        )


def _shape(limits: Limits) -> str:
    """What a slot holds, as the form says it; as-is where it says less."""
    if limits.slots is None:
        return ""
    first = limits.slots[0]
    count = limits.entries // 2 if limits.entries is not None else None
    plain = Bank(shape="pair", count=count, off_days=first.off_days)
    return first.off_days if limits.slots == (plain,) else "as-is"


SOURCE_CHOICES = [
    ("site", "from the site's own place"),
    ("coordinates", "from other coordinates, typed in or those of the city picked"),
    ("table", "from a zone table, by latitude"),
    ("photocell", "by light: a photocell"),
    ("none", "it holds no sun times"),
]


# By how a kind takes its place; what it cannot take is not offered.
SOURCES = {
    "coordinates": ("site", "coordinates", "none"),
    "region": ("coordinates", "none"),
    "table": ("table", "none"),
    "none": ("none",),
}


# What is asked only of a photocell, and only of a unit that takes its sun times from a place.
BY_LIGHT = ("altitude_deg", "delay_min")
NOT_BY_LIGHT = ("latitude", "longitude", "utc_offset_min", "sunrise_min", "sunset_min", "when_no_sun")


def _listed(kind: Kind | None) -> dict[str, tuple[float, float | None]]:
    """The places that a unit of a kind picks from a list, by name: degrees north and east; None for a latitude alone."""
    if kind is None or kind.sun.place not in ("region", "table"):
        return {}
    if kind.sun.place == "table":
        return {degrees_word(degrees, "latitude"): (degrees, None) for degrees in kind.sun.latitudes}
    return {region.name: (region.latitude, region.longitude) for region in kind.sun.regions}


def _degrees_of(place: tuple[float, float | None]) -> dict[str, float]:
    """A place of a list as keys of the plan file."""
    latitude, longitude = place
    return {"latitude": latitude} | ({} if longitude is None else {"longitude": longitude})


def _sources(kind: Kind | None) -> tuple[str, ...]:
    """Where a unit of a kind can take its sun times from."""
    if kind is None:
        return tuple(name for name, _ in SOURCE_CHOICES)
    return ("photocell", "none") if kind.sun.meaning == "light" else SOURCES[kind.sun.place]


class SunForm(forms.Form):
    """Where the unit takes its sun times from, and the correction keyed in."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    source = forms.ChoiceField(label="Its sun times come", choices=SOURCE_CHOICES)
    latitude = forms.CharField(
        label="Latitude", required=False, max_length=40, help_text="With other coordinates, or of the zone table."
    )
    longitude = forms.CharField(label="Longitude", required=False, max_length=40, help_text="With other coordinates.")
    utc_offset_min = forms.IntegerField(
        label="Zone set in the unit, minutes",
        required=False,
        help_text="Standard time: 720 is 12 hours ahead. Empty: the site's.",
    )
    altitude_deg = forms.FloatField(
        label="Photocell switches with the sun at, degrees", required=False, help_text="Below the horizon: a minus."
    )
    delay_min = forms.IntegerField(label="Photocell's delay, minutes", required=False)
    sunrise_min = forms.IntegerField(label="Correction of sunrise, minutes", required=False, help_text="Later: plus.")
    sunset_min = forms.IntegerField(label="Correction of sunset, minutes", required=False, help_text="Later: plus.")
    when_no_sun = forms.ChoiceField(
        label="On a date without the event, it",
        choices=[("limit", "acts at the lowest sun or at noon"), ("skip", "leaves it out")],
    )

    def __init__(self, *args: Any, plan: Plan, kind: Kind | None = None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.sun = plan.unit.sun
        held = (*_sources(kind), plan.unit.sun.source)
        self.fields["source"].choices = [choice for choice in SOURCE_CHOICES if choice[0] in held]  # type: ignore[attr-defined]
        self.listed = _listed(kind)
        if self.listed:
            # What is picked from a list needs no degrees of whoever reads the page.
            word = "Region" if kind and kind.sun.place == "region" else "Latitude of its table"
            label = f"{word}, as the unit has it"
            self.fields["place"] = forms.ChoiceField(label=label, choices=[(n, n) for n in self.listed], required=False)
            for name in ("latitude", "longitude", "utc_offset_min"):
                del self.fields[name]
            self.order_fields(["revision", "source", "place"])
            told = {"coordinates": "from a region of its list", "table": "from its zone table"}
            shown = self.fields["source"].choices  # type: ignore[attr-defined]
            self.fields["source"].choices = [(name, told.get(name, text)) for name, text in shown]  # type: ignore[attr-defined]
        for name in () if kind is None else BY_LIGHT if "photocell" not in held else NOT_BY_LIGHT:
            self.fields.pop(name, None)

    @classmethod
    def showing(cls, plan: Plan, revision: int, kind: Kind | None = None) -> "SunForm":
        """An unbound form that shows a plan's sun settings."""
        shown = plan.unit.sun.to_json()
        adjust = shown.pop("adjust", {})
        told = (shown.get("latitude"), shown.get("longitude"))
        place = next((name for name, degrees in _listed(kind).items() if degrees == told), "")
        initial = {"when_no_sun": "limit", **shown, **adjust, "place": place, "revision": revision}
        return cls(initial=initial, plan=plan, kind=kind)

    def clean(self) -> dict[str, Any]:
        """Read the settings by the core's rules."""
        data = super().clean() or {}
        if self.errors:
            return data
        found: dict[str, Any] = {"source": data["source"]}
        try:
            found |= {k: parse_degrees(data[k], k) for k in ("latitude", "longitude") if data.get(k)}
            if data["source"] in ("coordinates", "table") and data.get("place"):
                found |= _degrees_of(self.listed[data["place"]])
            numbers = ("utc_offset_min", "altitude_deg", "delay_min")
            found |= {key: data[key] for key in numbers if data.get(key) is not None}
            adjust = {key: data[key] for key in ("sunrise_min", "sunset_min") if data.get(key)}
            found |= {"adjust": adjust} if adjust else {}
            found |= {"when_no_sun": "skip"} if data.get("when_no_sun") == "skip" else {}
            self.sun = SunSettings.read(Node(found))
        except PlanError as error:
            _refuse(self, error)
        return data

    note = "sun settings changed"

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        return edits.set_sun(plan, self.sun)


def _refuse(form: forms.Form, error: PlanError) -> None:
    """Show an error of the core at the field that the end of its path names."""
    key = error.path.split(".")[-1].split("[")[0]
    form.add_error(key if key in form.fields else None, f"{capital(error.wrong)}. Accepted: {error.accepted}.")

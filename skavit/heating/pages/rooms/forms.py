"""The rooms behind the zones, and what it is outside: what they lose and store, and when the heat must start."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from django import forms

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.heat.targets import Warmed
from skavit.core.heat.warming import STAND_IN, Rise, lead_s, outside_of, rises, year_heat
from skavit.core.heat.week import Week
from skavit.core.plan.document import Plan
from skavit.core.plan.heat import Outside, Room
from skavit.core.plan.heat_edits import heat_of, put_zone, with_heat
from skavit.core.text.quantities import TEMPERATURE
from skavit.core.text.wording import FULL_DAYS, MONTHS, Words, capital, duration_text
from skavit.heating.pages.unit.degrees import degrees_typed

ROOM = {
    "loss_w_k": "Loses, watts a degree",
    "capacity_wh_k": "Stores, watt hours a degree",
    "heater_w": "Heater, watts",
}
MOST_MORNINGS = 4
ROUND_S = 600  # a start is told to ten minutes, as most units can be set; rounded to be in time


class RoomsForm(forms.Form):
    """Frost protection, the outside, and each zone's name and room."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    frost = forms.CharField(label="Frost protection at", max_length=12)
    coldest = forms.CharField(label="The coldest night of the year", max_length=12)
    usual = forms.CharField(label="A usual night in winter", max_length=12)

    def __init__(self, data: Any = None, *, plan: Plan, words: Words, revision: int) -> None:
        self.plan, self.words = plan, words
        heat, outside = heat_of(plan), outside_of(plan)
        typed = [("frost", heat.frost_c), ("coldest", outside.coldest_c), ("usual", outside.usual_c)]
        initial: dict[str, Any] = {"revision": revision}
        initial |= {name: TEMPERATURE.typed(c, us=words.us_units) for name, c in typed}
        for number, zone in enumerate(heat.zones, start=1):
            initial[f"name_{number}"] = zone.name
            initial |= {f"{name}_{number}": getattr(zone.room, name) for name in ROOM if zone.room}
        super().__init__(data, initial=initial)
        for number in range(1, len(heat.zones) + 1):
            self.fields[f"name_{number}"] = forms.CharField(label="Name", max_length=80)
            for name, label in ROOM.items():
                self.fields[f"{name}_{number}"] = forms.FloatField(label=label, required=False, min_value=0)
        self.made: Plan | None = None

    @property
    def outside(self) -> list[forms.BoundField]:
        """What it is outside, and frost protection."""
        return [self["frost"], self["coldest"], self["usual"]]

    @property
    def zones(self) -> list[tuple[int, list[forms.BoundField]]]:
        """Each zone's number, and its fields."""
        count = len(heat_of(self.plan).zones)
        return [(n, [self[f"{name}_{n}"] for name in ("name", *ROOM)]) for n in range(1, count + 1)]

    @property
    def unit_text(self) -> str:
        """In what temperatures are typed."""
        return "°F" if self.words.us_units else "°C"

    def clean(self) -> dict[str, Any]:
        """Read it by the core's rules."""
        data = super().clean() or {}
        if self.errors:
            return data
        degrees: dict[str, float] = {}
        for name in ("frost", "coldest", "usual"):
            try:
                degrees[name] = degrees_typed(data[name], self.words)
            except PlanError as error:
                self.add_error(name, f"{capital(error.wrong)}. Accepted: {error.accepted}.")
        rooms = list(self._rooms(data))
        if self.errors:
            return data
        outside = outside_of(self.plan)
        if (degrees["coldest"], degrees["usual"]) != (outside.coldest_c, outside.usual_c):
            told: Outside | None = Outside(
                coldest_c=degrees["coldest"], usual_c=degrees["usual"], frost_months=outside.frost_months
            )
        else:
            told = heat_of(self.plan).outside
        plan = with_heat(self.plan, frost_c=degrees["frost"], outside=told)
        for place, (name, room) in enumerate(rooms):
            plan = put_zone(plan, place, name, room)
        self.made = plan
        return data

    def _rooms(self, data: dict[str, Any]) -> Iterator[tuple[str, Room | None]]:
        for number, zone in enumerate(heat_of(self.plan).zones, start=1):
            values = {name: data.get(f"{name}_{number}") for name in ROOM}
            given = {name: value for name, value in values.items() if value}
            if given and len(given) < len(ROOM):
                missing = next(name for name in ROOM if name not in given)
                self.add_error(f"{missing}_{number}", "The room is told by all three. Accepted: all, or none.")
                continue
            try:
                yield data[f"name_{number}"], Room.read(Node(given)) if given else None
            except PlanError as error:
                place = f"{error.path}_{number}" if error.path in ROOM else None
                self.add_error(place, f"{zone.name}: {error.wrong}. Accepted: {error.accepted}.")

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        if self.made is None:
            raise ValueError(self.errors)
        return self.made.at_site(plan.site)


@dataclass(frozen=True, slots=True, kw_only=True)
class Morning:
    """A step up: when it must be warm, and when the heat must start for it."""

    when: str
    warm: str
    coldest: str
    usual: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RoomShown:
    """What the page says of a zone's room."""

    stand_in: bool
    coldest_c: str
    usual_c: str
    mornings: list[Morning]
    kwh: str
    saved: str  # empty where nothing is
    constant: str
    degree_hours: str


def room_shown(plan: Plan, warmed: Warmed, zone: int, words: Words) -> RoomShown:
    """A zone's (from 0) mornings and its year."""
    heat, outside = heat_of(plan), outside_of(plan)
    here = heat.zones[zone]
    room = here.room or STAND_IN
    year = year_heat(warmed, zone)
    steps = rises(Week.of(here.wanted or here.keyed, heat.frost_c))
    mornings: dict[tuple[int, float, str, str], list[int]] = {}
    for rise in steps:
        told = [_start(rise, lead_s(room, rise, c), words) for c in (outside.coldest_c, outside.usual_c)]
        mornings.setdefault((rise.seconds, rise.to_c, told[0], told[1]), []).append(rise.day)
    return RoomShown(
        stand_in=here.room is None,
        coldest_c=words.warmth(outside.coldest_c),
        usual_c=words.warmth(outside.usual_c),
        mornings=[
            Morning(when=f"{_days(days)}, {words.clock(seconds)}", warm=words.warmth(c), coldest=cold, usual=usual)
            for (seconds, c, cold, usual), days in list(mornings.items())[:MOST_MORNINGS]
        ],
        kwh=f"{year.kwh:,.0f} kWh",
        saved=f"{year.saved_kwh:,.0f} kWh" if year.saved_kwh >= 1 else "",
        constant=words.warmth(year.constant_c),
        degree_hours=words.kelvin_hours(year.degree_hours),
    )


def _start(rise: Rise, lead: int | None, words: Words) -> str:
    """When the heat must start."""
    if lead is None:
        return "never warm"
    lead = -(-lead // ROUND_S) * ROUND_S
    before = " the day before" if lead > rise.seconds else ""
    return f"{words.minute((rise.seconds - lead) % DAY_S)}{before} ({duration_text(lead)})"


def _days(days: list[int]) -> str:
    names = [FULL_DAYS[day][:3] for day in days]
    unbroken = days == list(range(days[0], days[0] + len(days)))
    return f"{names[0]} to {names[-1]}" if unbroken and len(days) > 2 else ", ".join(names)


def frost_months_text(plan: Plan) -> str:
    """The months that may freeze, in words."""
    return ", ".join(MONTHS[month - 1] for month in outside_of(plan).frost_months) or "none"

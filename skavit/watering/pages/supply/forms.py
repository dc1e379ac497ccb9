"""Supply and rules: when water may flow, how much at once, what it costs, and the average year of the site."""

from datetime import date
from typing import Any

from django import forms

from skavit.core.ground.arrays import DAY_S
from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.days import DAILY, Days, Holiday, Parity, Yearly, read_month_day
from skavit.core.plan.document import Plan
from skavit.core.plan.holidays import yearly_between
from skavit.core.plan.times import ClockTime, day_number, day_of
from skavit.core.plan.water import MONTHS, Climate, MasterValve
from skavit.core.plan.water_edits import water_of, with_water
from skavit.core.plan.window import Window
from skavit.core.text.quantities import FLOW, GALLON_L, INCH_MM, PRESSURE, VOLUME
from skavit.core.text.typed import month_day_word
from skavit.core.text.wording import MONTHS as MONTH_NAMES
from skavit.core.text.wording import Words, capital, month_day_words
from skavit.core.water.usual_climate import usual_climate
from skavit.web.typed_fields import QuantityField, TimeField, in_words

DATES = [("any", "any date"), ("odd", "odd dates only"), ("even", "even dates only"), ("house", "by the house number")]
COUNTS = [("date", "each date by itself, midnight to midnight"), ("night", "a night goes by the date of its evening")]
LEAP_YEAR = 2028  # by which days of every year are counted
KILOGALLON_M3 = GALLON_L  # a thousand gallons in cubic metres
KEPT, ALWAYS, BETWEEN = "kept", "always", "between"


class SupplyForm(forms.Form):
    """What the customer, the council and the main allow."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    hours = forms.ChoiceField(
        label="Water may flow", choices=[(ALWAYS, "at any time"), (BETWEEN, "not between two times of the day")],
        widget=forms.RadioSelect, required=False,
    )  # fmt: skip
    dry_from = TimeField(label="Not from", required=False, help_text="Such as 9 am.")
    dry_to = TimeField(label="until", required=False, help_text="Such as 8 pm.")
    dates = forms.ChoiceField(label="Dates", choices=DATES, required=False)
    house = forms.IntegerField(label="House number", required=False, min_value=1, max_value=99_999)
    counts = forms.ChoiceField(label="After midnight", choices=COUNTS, required=False)
    supply = QuantityField(
        FLOW, label="Supply gives", required=False, help_text="In l/min at the pressure the heads need."
    )
    bucket = QuantityField(
        VOLUME, label="Or a bucket of", required=False, help_text="Litres; tap fully open, nothing else running."
    )
    seconds = forms.FloatField(label="was full after, seconds", required=False, min_value=1, max_value=3600)
    pressure = QuantityField(
        PRESSURE,
        label="Pressure left meanwhile",
        required=False,
        help_text="In kPa, or such as 40 psi, 3 bar: read while it flows.",
    )
    price = forms.FloatField(
        label="A cubic metre costs",
        required=False,
        min_value=0,
        max_value=10_000,
        help_text="Water and sewage, in your money.",
    )
    lead_s = forms.IntegerField(label="Master valve opens before, s", required=False, min_value=0, max_value=600)
    lag_s = forms.IntegerField(label="and shuts after, s", required=False, min_value=0, max_value=600)
    delay_s = forms.IntegerField(label="Pause between stations, s", required=False, min_value=0, max_value=3600)

    winter_first = forms.CharField(
        label="Laid up for winter from", required=False, max_length=20, help_text="Such as 15 May."
    )
    winter_last = forms.CharField(label="until", required=False, max_length=20, help_text="Such as 10 Sep.")

    WINTER = ("winter_first", "winter_last")
    RULES = ("dry_from", "dry_to", "dates", "house", "counts")
    MAIN = ("supply", "bucket", "seconds", "pressure", "price", "lead_s", "lag_s", "delay_s")

    def __init__(self, *args: Any, plan: Plan, words: Words, revision: int, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.plan, water = plan, water_of(plan)
        for kind, name in (("et0", "plants use"), ("rain", "rain")):
            for month, label in enumerate(MONTH_NAMES, start=1):
                said = f"{label}, {name}, {'inches' if words.us_units else 'mm'} a day"
                self.fields[f"{kind}_{month}"] = forms.FloatField(
                    label=said,
                    required=False,
                    min_value=0,
                    max_value=50,
                    widget=forms.NumberInput(attrs={"aria-label": said, "step": "any"}),
                )
        self.us, climate = words.us_units, water.climate or usual_climate(plan.site.latitude)
        self.before = climate
        depth, price = (INCH_MM, KILOGALLON_M3) if self.us else (1.0, 1.0)
        if self.us:
            self.fields["price"].label = "A thousand gallons cost"
        in_words(self, words)
        self.initial = {
            "revision": revision, **_rules_shown(water.allowed, words), "pressure": "" if water.supply_kpa is None else PRESSURE.typed(water.supply_kpa, us=self.us),
            "supply": "" if water.supply_l_min is None else FLOW.typed(water.supply_l_min, us=self.us),
            "price": None if water.price_m3 is None else round(water.price_m3 * price, 4), "lead_s": water.master_valve.lead_s or None, "lag_s": water.master_valve.lag_s or None,
            "delay_s": water.station_delay_s or None,
            **_winter_shown(water.lay_up),
            **{f"et0_{month}": round(mm / depth, 3) for month, mm in enumerate(climate.et0_mm_day, start=1)},
            **{f"rain_{month}": round(mm / depth, 3) for month, mm in enumerate(climate.rain_mm_day, start=1)},
        }  # fmt: skip
        if self.initial["hours"] == KEPT:
            hours = self.fields["hours"]
            hours.choices = [*hours.choices, (KEPT, "as it stands")]  # type: ignore[attr-defined]

    @property
    def rules(self) -> list[forms.BoundField]:
        """The hours and the dates."""
        return [self[name] for name in self.RULES]

    @property
    def main(self) -> list[forms.BoundField]:
        """What the main gives, and what it costs."""
        return [self[name] for name in self.MAIN]

    @property
    def winter(self) -> list[forms.BoundField]:
        """When it is drained and off."""
        return [self[name] for name in self.WINTER]

    @property
    def months(self) -> list[tuple[str, forms.BoundField, forms.BoundField]]:
        """The average year."""
        return [(name, self[f"et0_{month}"], self[f"rain_{month}"]) for month, name in enumerate(MONTH_NAMES, start=1)]

    @property
    def usual(self) -> bool:
        """Whether the average year is the stand-in of the latitude."""
        climate = water_of(self.plan).climate
        return climate is None or climate == usual_climate(self.plan.site.latitude)

    def clean(self) -> dict[str, Any]:
        """What belongs together."""
        data = super().clean() or {}
        if self.errors:
            return data
        if data.get("hours") == BETWEEN:
            for name in ("dry_from", "dry_to"):
                if data.get(name) is None:
                    self.add_error(name, "Fill this in.")
            if data.get("dry_from") is not None and data.get("dry_from") == data.get("dry_to"):
                self.add_error("dry_to", "Accepted: another time than the first.")
        if data.get("dates") == "house" and not data.get("house"):
            self.add_error("house", "Fill this in: odd numbers water on odd dates.")
        self._read_winter(data)
        if bool(data.get("bucket")) != bool(data.get("seconds")):
            self.add_error("seconds" if data.get("bucket") else "bucket", "Fill this in: the bucket and its seconds.")
        return data

    def _read_winter(self, data: dict[str, Any]) -> None:
        """The winter as the core has it, in ``lay_up``."""
        typed = [data.get(name) or "" for name in self.WINTER]
        data["lay_up"] = None
        if not any(typed):
            return
        for name, text in zip(self.WINTER, typed, strict=True):
            if not text:
                self.add_error(name, "Fill this in.")
        if self.errors:
            return
        try:
            first, last = (
                read_month_day(Node(month_day_word(text), name)) for name, text in zip(self.WINTER, typed, strict=True)
            )
        except PlanError as error:
            self.add_error(error.path, f"{capital(error.wrong)}. Accepted: {error.accepted}.")
            return
        data["lay_up"] = yearly_between(first, last)

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        data = self.cleaned_data
        water = water_of(plan)
        flow = data["bucket"] * 60 / data["seconds"] if data.get("bucket") else data.get("supply")
        allowed = water.allowed if data.get("hours") == KEPT else self._allowed(data)
        return with_water(
            plan,
            allowed=allowed,
            supply_l_min=None if flow is None else round(flow, 2),
            supply_kpa=data.get("pressure"),
            price_m3=self._price(data.get("price"), water.price_m3),
            master_valve=MasterValve(lead_s=data.get("lead_s") or 0, lag_s=data.get("lag_s") or 0),
            station_delay_s=data.get("delay_s") or 0,
            lay_up=data.get("lay_up"),
            climate=Climate(et0_mm_day=self._twelve("et0"), rain_mm_day=self._twelve("rain")),
        )

    def _price(self, typed: float | None, before: float | None) -> float | None:
        """The price of a cubic metre; as it was where nobody touched it."""
        if typed is None or "price" not in self.changed_data:
            return before if typed is not None else None
        return round(typed / (KILOGALLON_M3 if self.us else 1.0), 6)

    def _twelve(self, kind: str) -> tuple[float, ...]:
        """Twelve months in millimetres a day; those that nobody touched as they were."""
        before = getattr(self.before, f"{kind}_mm_day")
        scale = INCH_MM if self.us else 1.0
        return tuple(
            round((self.cleaned_data.get(f"{kind}_{month}") or 0.0) * scale, 3)
            if f"{kind}_{month}" in self.changed_data
            else before[month - 1]
            for month in range(1, MONTHS + 1)
        )

    def _allowed(self, data: dict[str, Any]) -> tuple[Window, ...] | None:
        dates = data.get("dates") or "any"
        if dates == "house":
            dates = "odd" if data["house"] % 2 else "even"
        days: Days = DAILY if dates == "any" else Parity(odd=dates == "odd")
        if data.get("hours") != BETWEEN:
            return None if days == DAILY else (_window(0, DAY_S, days),)
        return _free(data["dry_from"], data["dry_to"], days, by_night=data.get("counts") == "night")


def _window(first: int, last: int, days: Days) -> Window:
    return Window(start=ClockTime(first), to=ClockTime(last), days=days, ends_next_day=last <= first)


def _free(dry_from: int, dry_to: int, days: Days, *, by_night: bool) -> tuple[Window, ...]:
    """The windows that a dry stretch of the day leaves."""
    if dry_from > dry_to:  # dry over midnight
        return (_window(dry_to, dry_from, days),)
    if by_night or days == DAILY:
        return (_window(dry_to, dry_from, days),)
    parts = [(0, dry_from), (dry_to, DAY_S)]
    return tuple(_window(a, b, days) for a, b in parts if a < b)


def _rules_shown(allowed: tuple[Window, ...] | None, words: Words) -> dict[str, Any]:
    """The fields that show when water may flow; kept unchanged where no form says it."""
    if allowed is None:
        return {"hours": ALWAYS, "dates": "any", "counts": "date"}
    first = allowed[0] if allowed else None
    dates = _dates_of(first.days) if first else None
    if first is None or dates is None or any(w.days != first.days for w in allowed):
        return {"hours": KEPT, "dates": "any", "counts": "date"}
    whole = _window(0, DAY_S, first.days)
    if allowed == (whole,):
        return {"hours": ALWAYS, "dates": dates, "counts": "date"}
    ends = {*(w.start for w in allowed), *(w.to for w in allowed)} - {ClockTime(0), ClockTime(DAY_S)}
    times = sorted(at.seconds for at in ends if isinstance(at, ClockTime))
    if len(times) == 2 and len(ends) == 2:
        for dry in ((times[0], times[1]), (times[1], times[0])):
            for by_night in (False, True):
                if _free(*dry, first.days, by_night=by_night) == allowed:
                    return {
                        "hours": BETWEEN, "dates": dates, "counts": "night" if by_night else "date",
                        "dry_from": words.clock(dry[0]), "dry_to": words.clock(dry[1]),
                    }  # fmt: skip
    return {"hours": KEPT, "dates": "any", "counts": "date"}


def _winter_shown(winter: Holiday | None) -> dict[str, str]:
    """The fields that show a winter of each year."""
    if winter is None or not isinstance(winter.start, Yearly):
        return {}
    first = winter.start.month_day
    begin = day_number(date(LEAP_YEAR, first // 100, first % 100))
    last = day_of(begin + winter.days - 1)
    return {"winter_first": month_day_words(first), "winter_last": month_day_words(last.month * 100 + last.day)}


def _dates_of(days: Days) -> str | None:
    if days == DAILY:
        return "any"
    return ("odd" if days.odd else "even") if isinstance(days, Parity) else None

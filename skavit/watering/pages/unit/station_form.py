"""The form of a station: what was measured goes before the tables. It builds the plan file's own words, and lets the core judge them."""

from typing import Any

from django import forms

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.plan.document import Plan
from skavit.core.plan.water import MAX_GAP_DAYS, Soil, Station
from skavit.core.plan.water_edits import put_station, water_of
from skavit.core.text.quantities import AREA, DEPTH, FLOW, LENGTH, RATE, Measure
from skavit.core.text.wording import Words, capital
from skavit.core.water.rates import rate_by_area
from skavit.core.water.tables import (
    AVAILABLE_MM_M,
    DENSITY,
    EXPOSURE,
    HEADS,
    NEAR,
    PLANTS,
    SLOPES,
    landscape_coefficient,
    max_gap_days,
    soil_of,
    told_by,
)
from skavit.web.typed_fields import QuantityField, in_words

OWN = ""  # as typed below


def _offered(names: Any, own: str = "typed below") -> list[tuple[str, str]]:
    return [*((name, name) for name in names), (OWN, own)]


class StationForm(forms.Form):
    """A station in place: what waters, what grows, on what ground."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    name = forms.CharField(max_length=80, label="Station")
    head = forms.ChoiceField(label="Watered by", choices=_offered(HEADS, "measured, or typed below"), required=False)
    area = QuantityField(AREA, label="Area", required=False, help_text="In m², or such as 1300 sq ft.")
    flow = QuantityField(
        FLOW, label="Flow", required=False, help_text="In l/min, or such as 10 gpm. Empty: from the area."
    )
    plant = forms.ChoiceField(label="What grows", choices=_offered(PLANTS, "not said, or typed below"), required=False)
    density = forms.ChoiceField(label="Density", choices=[(n, n) for n in DENSITY], required=False)
    exposure = forms.ChoiceField(label="Exposure", choices=[(n, n) for n in EXPOSURE], required=False)
    ground = forms.ChoiceField(label="Ground", choices=_offered(AVAILABLE_MM_M), required=False)
    slope = forms.ChoiceField(label="Slope", choices=[(n, n) for n in SLOPES], required=False)
    per_week = forms.TypedChoiceField(
        label="Asked for", coerce=int, empty_value=None, required=False,
        choices=[("", "as the soil asks"), *((n, f"{n} times a week" if n > 1 else "once a week") for n in range(1, 8))],
    )  # fmt: skip
    max_gap = forms.IntegerField(
        label="Days between", required=False, min_value=1, max_value=MAX_GAP_DAYS,
        help_text="From one watering to the next at most. Empty: by what grows: pots 2, lawn 4, beds 7, trees 14.",
    )  # fmt: skip
    rate = QuantityField(RATE, label="Rate", required=False, help_text="In mm/h, or such as 0.6 in/h: of cans.")
    du = forms.IntegerField(label="Uniformity, %", required=False, min_value=20, max_value=100)
    crop = forms.FloatField(label="Coefficient", required=False, min_value=0.01, max_value=5)
    root = QuantityField(LENGTH, label="Root depth", required=False, help_text="In m.")
    depletion = forms.IntegerField(label="May be used, %", required=False, min_value=1, max_value=100)
    available = forms.FloatField(label="Soil holds, mm a metre", required=False, min_value=1, max_value=1000)
    intake = QuantityField(RATE, label="Soil takes in", required=False)
    surface = QuantityField(DEPTH, label="May stand on it", required=False)

    FIRST = ("name", "area", "plant", "head", "ground", "slope", "per_week", "max_gap", "flow")
    MIXED = ("density", "exposure")
    MEASURED = ("rate", "du", "crop", "root", "depletion", "available", "intake", "surface")

    def __init__(
        self, *args: Any, place: str, index: int | None, plan: Plan, words: Words, shown: Station | None = None,
        **kwargs: Any,
    ) -> None:  # fmt: skip
        super().__init__(*args, **{**kwargs, "auto_id": f"{place}-%s"})
        self.place, self.index, self.plan, self.words, self.shown = place, index, plan, words, shown
        self.overtaken = False
        self.station: Station | None = None
        self.initial = {**self.initial, **(_station_fields(shown, words) if shown else _usual_fields(plan, words))}
        in_words(self, words)

    @property
    def is_new(self) -> bool:
        """Whether it adds a station."""
        return self.index is None

    @property
    def first(self) -> list[forms.BoundField]:
        """What everybody can say."""
        return [self[name] for name in self.FIRST]

    @property
    def mixed(self) -> list[forms.BoundField]:
        """What belongs to mixed planting."""
        return [self[name] for name in self.MIXED]

    @property
    def mixed_open(self) -> bool:
        """Whether the planting is another than the usual one."""
        return any(self[name].value() not in (None, "", "usual") for name in self.MIXED)

    @property
    def measured(self) -> list[forms.BoundField]:
        """What was measured, in place of the tables."""
        return [self[name] for name in self.MEASURED]

    @property
    def measured_open(self) -> bool:
        """Whether something is there, or was refused there."""
        return any(self[name].value() not in (None, "") or self[name].errors for name in self.MEASURED)

    @property
    def note(self) -> str:
        """What the edit is called in the unit's history."""
        return "station added" if self.index is None else "station changed"

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        if self.station is None:
            raise ValueError(self.errors)
        return put_station(plan, self.index, self.station)

    def clean(self) -> dict[str, Any]:
        """Read the station by the core's rules."""
        data = super().clean() or {}
        if self.errors:
            return data
        found = self._water(data) | self._need(data)
        if self.errors:
            return data
        try:
            self.station = Station.read(Node(found))
        except PlanError as error:
            self.add_error(None, f"{capital(error.path.split('.')[-1])}: {error.wrong}. Accepted: {error.accepted}.")
        return data

    def _water(self, data: dict[str, Any]) -> dict[str, Any]:
        """Flow, area, rate and uniformity: what is typed goes before the head's usual figures."""
        head = HEADS.get(data.get("head") or "")
        flow, area = data.get("flow"), data.get("area")
        rate, du = data.get("rate"), data.get("du")
        uniformity = du / 100 if du else head.du if head else 1.0
        if rate is None and head and not (flow and area):
            rate = head.rate_mm_h
        if flow is None and area and rate:
            flow = _flow(rate, area)
        if flow is None:
            self.add_error(
                "area", "Its area or its flow is needed. Accepted: one of them, the area with what waters it."
            )
            return {}
        found = {"name": data["name"], "flow_l_min": flow, "du": uniformity}
        if area:
            found["area_m2"] = area
        if rate and not (area and abs(rate - rate_by_area(flow, area)) < NEAR):
            found["rate_mm_h"] = rate
        if data.get("per_week"):
            found["per_week"] = data["per_week"]
        plant = PLANTS.get(data.get("plant") or "")
        gap = data.get("max_gap") or (max_gap_days(plant, data.get("head") or "") if plant else None)
        if gap:
            found["max_gap_days"] = gap
        return found

    def _need(self, data: dict[str, Any]) -> dict[str, Any]:
        """Coefficient and soil: by the tables, with what is typed in place of their figures."""
        plant, ground = PLANTS.get(data.get("plant") or ""), data.get("ground") or ""
        found: dict[str, Any] = {}
        if plant:
            found["crop"] = (
                landscape_coefficient(plant.crop, data.get("density") or "usual", data.get("exposure") or "usual")
                if plant.school == "landscape"
                else plant.crop
            )
        if data.get("crop"):
            found["crop"] = data["crop"]
            if self.shown and self.shown.crop and "crop" not in self.changed_data:
                found["crop"] = list(self.shown.crop)  # twelve, of which the form shows the first
        soil = soil_of(plant, ground, data.get("slope") or SLOPES[0]).to_json() if plant and ground else {}
        typed = {"available": "available_mm_m", "root": "root_m", "intake": "intake_mm_h", "surface": "surface_mm"}
        soil |= {key: data[name] for name, key in typed.items() if data.get(name) is not None}
        if data.get("depletion"):
            soil["depletion"] = data["depletion"] / 100
        missing = [name for name, key in (*typed.items(), ("depletion", "depletion")) if key not in soil]
        if soil and missing:
            for name in missing:
                self.add_error(name, "Fill this in, or choose plant and ground above.")
        if soil:
            found["soil"] = soil
        if plant and not soil:
            self.add_error("ground", "Which ground is it? Accepted: one of the list, or its figures below.")
        return found


def _flow(rate_mm_h: float, area_m2: float) -> float:
    """The flow that a rate over an area makes, in l/min."""
    return round(rate_mm_h * area_m2 / 60, 2)


def _usual_fields(plan: Plan, words: Words) -> dict[str, Any]:
    """A new station begins as the last one is; the first as a lawn under rotors."""
    stations = water_of(plan).stations
    if stations:
        last = _station_fields(stations[-1], words)
        return last | {"name": "", "area": None, "flow": None}
    return {"plant": next(iter(PLANTS)), "head": "rotors", "ground": "loam", "slope": SLOPES[0], "density": "usual",
            "exposure": "usual"}  # fmt: skip


def _station_fields(station: Station, words: Words) -> dict[str, Any]:
    """The fields of a form that shows a station: rows of the tables where its figures are theirs."""
    told = told_by(station)
    head = HEADS.get(told.head)
    found: dict[str, Any] = {
        "name": station.name, "head": told.head, "area": _typed(AREA, station.area_m2, words), "plant": told.plant,
        "density": told.density, "exposure": told.exposure, "ground": told.ground if told.plant else "",
        "slope": told.slope or SLOPES[0], "per_week": station.per_week,
        "max_gap": station.max_gap_days,
    }  # fmt: skip
    by_area = _flow(head.rate_mm_h, station.area_m2) if head and station.area_m2 else None
    computed = by_area is not None and abs(station.flow_l_min - by_area) < 1e-9
    found["flow"] = None if computed else _typed(FLOW, station.flow_l_min, words)
    if not told.head:
        found |= {
            "rate": _typed(RATE, station.rate_mm_h, words),
            "du": round(station.du * 100) if station.du < 1 else None,
        }
    if not told.plant and station.crop:
        found["crop"] = station.crop[0]
    if station.soil is not None and not (told.plant and told.ground):
        found |= _soil_fields(station.soil, words)
    return found


def _soil_fields(soil: Soil, words: Words) -> dict[str, Any]:
    return {
        "available": soil.available_mm_m, "root": _typed(LENGTH, soil.root_m, words), "depletion": round(soil.depletion * 100),
        "intake": _typed(RATE, soil.intake_mm_h, words), "surface": _typed(DEPTH, soil.surface_mm, words),
    }  # fmt: skip


def _typed(measure: Measure, value: float | None, words: Words) -> str:
    return "" if value is None else measure.typed(value, us=words.us_units)

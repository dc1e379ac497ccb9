"""The memory of a kind, its place and its modes, as a form. What is typed becomes a document that the core judges."""

from collections.abc import Iterator, Sequence
from datetime import date
from typing import Any

from django import forms

from skavit.core.ground.errors import PlanError
from skavit.core.ground.strict_json import Node
from skavit.core.kinds import Kind
from skavit.core.kinds.likely import with_likely_keys
from skavit.core.kinds.parts import PLACES, SHAPES
from skavit.core.kinds.spoken import PRESSES_FORM, presses_text
from skavit.core.plan.document import Site
from skavit.core.plan.entry import MAX_PULSE_S
from skavit.core.plan.limits import ACTIONS, EVENT_NAMES
from skavit.core.plan.limits import SHAPES as BANK_SHAPES
from skavit.core.plan.times import read_clock_time
from skavit.core.site.sun_table import SunReading, read_table
from skavit.core.text.typed import clock_word, date_typed
from skavit.kinds.pages.edit.document import DocumentForm, Group, SiteNamed, key_choices, presses_json
from skavit.kinds.words import PLACE_TEXT

BANKS, MODES = 4, 6
SHAPE_TEXT = {"single": "one entry", "pair": "an ON and its OFF", "run": "a start and a run"}
BANK_TEXT = {"single": "ON or OFF", "pair": "an ON and its OFF", "on": "ON only", "off": "OFF only"}
ACTION_TEXT = {"on": "ON", "off": "OFF", "pulse": "a pulse in seconds", "repeat": "an ON that repeats"}
MEANINGS = [
    ("sunrise", "the sun on the horizon"),
    ("dawn", "civil twilight"),
    ("margin", "the horizon with a margin"),
    ("light", "light and dark, by a photocell"),
]
CLEARED = [
    ("key", "a key"),
    ("no-days", "taking every day away"),
    ("past-last-hour", "stepping past the last hour"),
    ("equal-times", "ON and OFF at the same time"),
]
MEANS = [("auto", "runs the program"), ("on", "on by hand"), ("off", "off by hand"), ("random", "random")]
LINES = forms.Textarea(attrs={"rows": 5})


class MemoryForm(DocumentForm):
    """Slots, place, modes and reset of a kind."""

    slot_shape = forms.ChoiceField(label="A slot holds", choices=[(s, SHAPE_TEXT[s]) for s in SHAPES])
    slot_next = forms.ChoiceField(label="Key to the next slot", required=False)
    slot_cleared_by = forms.ChoiceField(label="A slot is emptied by", choices=CLEARED)
    slot_clear = forms.CharField(label="The key that empties it", required=False, help_text="Such as clear 2 s.")
    actions = forms.MultipleChoiceField(
        label="A slot can be",
        required=False,
        choices=[(name, ACTION_TEXT[name]) for name in ACTIONS],
        widget=forms.CheckboxSelectMultiple,
        help_text="None chosen: ON and OFF.",
    )
    sun_events = forms.MultipleChoiceField(
        label="Sun times that a slot can carry",
        required=False,
        choices=[(name, name) for name in EVENT_NAMES],
        widget=forms.CheckboxSelectMultiple,
        help_text="None chosen: those of its sun words.",
    )
    no_sun = forms.BooleanField(label="It knows clock times only", required=False)
    pulse_max_s = forms.IntegerField(
        label="Longest pulse of a slot, seconds", required=False, min_value=1, max_value=MAX_PULSE_S
    )
    holidays = forms.IntegerField(label="Holidays it holds", required=False, min_value=0, max_value=10_000)
    holiday_days_max = forms.IntegerField(label="Days of one at most", required=False, min_value=0, max_value=366)
    one_channel = forms.BooleanField(label="A slot acts on one output only", required=False)
    limited_times = forms.BooleanField(label="A sun time can have an earliest and a latest", required=False)

    meaning = forms.ChoiceField(label="Its sun words mean", choices=MEANINGS)
    place = forms.ChoiceField(label="It takes its place as", choices=[(name, PLACE_TEXT[name]) for name in PLACES])
    step_deg = forms.FloatField(label="Steps of its degrees", required=False, min_value=0.01, max_value=10)
    regions = forms.CharField(
        label="Its regions, a line each",
        required=False,
        widget=LINES,
        help_text="Name and where: B, -39.5, 176.5; or one of your sites: B, Harbour walk; or a date and the sun times it shows: "
        "B, 11 May 2027, 7:02, 17:12, Harbour walk",
    )
    latitudes = forms.CharField(
        label="Latitudes of its table", required=False, help_text="Such as -44, -40, -36: south is minus."
    )
    per_channel = forms.BooleanField(label="Each output has a correction of its own", required=False)

    mode_key = forms.ChoiceField(label="Mode key", required=False)
    reset_press = forms.CharField(label="Reset", required=False, help_text=f"{PRESSES_FORM.capitalize()}.")
    reset_shows = forms.CharField(label="After it the display reads", required=False, max_length=60)
    reset_held = forms.IntegerField(
        label="Slots that hold something after it", required=False, min_value=0, max_value=400
    )
    lock = forms.CharField(label="Locks the keypad", required=False)
    pin = forms.CharField(label="Sets a PIN", required=False)
    summer = forms.CharField(label="Puts daylight saving on and off by hand", required=False)
    channel_modes = forms.CharField(
        label="How its outputs switch, as it asks at first power, a line each",
        required=False,
        widget=LINES,
        help_text="Its words for: each by itself, all together, in pulses.",
    )
    operating = forms.CharField(
        label="Modes of operation that exclude one another, a line each", required=False, widget=LINES
    )

    def __init__(self, *args: Any, kind: Kind, version: int, **kwargs: Any) -> None:
        super().__init__(*args, kind=kind, version=version, **kwargs)
        keys = key_choices(kind)
        for name in ("slot_next", "mode_key"):
            self.fields[name].choices = keys  # type: ignore[attr-defined]
        for n in range(1, BANKS + 1):
            self.fields[f"bank_{n}_shape"] = forms.ChoiceField(
                label=f"Part {n}: slots of",
                required=False,
                choices=[("", "–"), *((s, BANK_TEXT[s]) for s in BANK_SHAPES)],
            )
            self.fields[f"bank_{n}_count"] = forms.IntegerField(
                label="how many", required=False, min_value=0, max_value=10_000
            )
            self.fields[f"bank_{n}_times"] = forms.ChoiceField(
                label="at", required=False, choices=[("", "any time"), ("clock", "clock times"), ("sun", "sun times")]
            )
            self.fields[f"bank_{n}_same"] = forms.BooleanField(label="OFF on the days of its ON", required=False)
        for n in range(1, MODES + 1):
            self.fields[f"mode_{n}_word"] = forms.CharField(label=f"Mode {n} reads", required=False, max_length=20)
            self.fields[f"mode_{n}_means"] = forms.ChoiceField(label="and", required=False, choices=MEANS)

    @staticmethod
    def shown(kind: Kind) -> dict[str, Any]:
        """What the form shows of a kind."""
        limits, sun, reset = kind.limits, kind.sun, kind.reset
        found: dict[str, Any] = {
            "slot_shape": kind.slot.shape,
            "slot_next": kind.slot.next,
            "slot_cleared_by": kind.slot.cleared_by,
            "slot_clear": presses_text(kind.slot.clear),
            "actions": list(limits.actions or ()),
            "sun_events": [event.name.lower() for event in limits.sun_events or ()],
            "no_sun": limits.sun_events == (),
            "pulse_max_s": limits.pulse_max_s,
            "holidays": limits.holidays,
            "holiday_days_max": limits.holiday_days_max,
            "one_channel": limits.one_channel,
            "limited_times": limits.limited_times,
            "meaning": sun.meaning,
            "place": sun.place,
            "step_deg": sun.step_deg,
            "regions": "\n".join(f"{r.name}, {r.latitude:g}, {r.longitude:g}" for r in sun.regions),
            "latitudes": ", ".join(f"{latitude:g}" for latitude in sun.latitudes),
            "per_channel": sun.per_channel,
            "mode_key": kind.modes.key if kind.modes else "",
            "reset_press": presses_text(reset.press) if reset else "",
            "reset_shows": reset.shows if reset else "",
            "reset_held": reset.held_slots if reset else None,
            "lock": presses_text(kind.lock),
            "pin": presses_text(kind.pin),
            "summer": presses_text(kind.summer),
            "channel_modes": "\n".join(kind.channel_modes),
            "operating": "\n".join(kind.operating),
        }
        for n, bank in enumerate(limits.slots or (), start=1):
            found |= {
                f"bank_{n}_shape": bank.shape,
                f"bank_{n}_count": bank.count,
                f"bank_{n}_times": bank.times[0] if bank.times and len(bank.times) == 1 else "",
                f"bank_{n}_same": bank.off_days == "same",
            }
        for n, mode in enumerate(kind.modes.cycle if kind.modes else (), start=1):
            found |= {f"mode_{n}_word": mode.word, f"mode_{n}_means": mode.means}
        return found

    def groups(self) -> Iterator[Group]:
        """The fields by what they are about."""
        yield self.group("Slots", "slot_shape", "slot_next", "slot_cleared_by", "slot_clear", "actions", "sun_events",
                         "no_sun", "pulse_max_s", "one_channel", "limited_times", "holidays", "holiday_days_max")  # fmt: skip
        parts = [f"bank_{n}_{part}" for n in range(1, BANKS + 1) for part in ("shape", "count", "times", "same")]
        yield self.group(
            "Memory in parts", help_text="Such as seven slots of ON only and seven of OFF only.", table=parts, columns=4
        )
        yield self.group("Place and sun", "meaning", "place", "step_deg", "latitudes", "regions", "per_channel")
        modes = [f"mode_{n}_{part}" for n in range(1, MODES + 1) for part in ("word", "means")]
        yield self.group("Modes, in the order of its key", "mode_key", table=modes)
        yield self.group("Keys for the rest", "reset_press", "reset_shows", "reset_held", "lock", "pin", "summer",
                         "channel_modes", "operating", help_text=f"{PRESSES_FORM.capitalize()}.")  # fmt: skip

    def make(self, data: dict[str, Any]) -> Kind:
        """The kind with what was typed; with the keys for a place that it takes another way."""
        return with_likely_keys(self.kind, super().make(data))

    def document(self, data: dict[str, Any]) -> dict[str, Any]:
        """The kind's document with what was typed."""
        found = self.kind.to_json()
        slot, limits, sun = (found.setdefault(name, {}) for name in ("slot", "limits", "sun"))
        slot |= {"shape": data["slot_shape"], "cleared_by": data["slot_cleared_by"]}
        _put(slot, "next", data["slot_next"])
        _put(slot, "clear", presses_json(data["slot_clear"], self.kind.slot.clear, "the key that empties it"))
        _put(limits, "slots", [bank for n in range(1, BANKS + 1) if (bank := self._bank(data, n))])
        _put(limits, "actions", data["actions"])
        _put(limits, "sun_events", data["sun_events"])
        if data["no_sun"]:
            limits["sun_events"] = []
        for name in ("pulse_max_s", "holidays", "holiday_days_max"):
            _put(limits, name, data[name])
        for name in ("one_channel", "limited_times"):
            _put(limits, name, data[name])
        sun |= {"meaning": data["meaning"], "place": data["place"], "per_channel": data["per_channel"]}
        _put(sun, "step_deg", data["step_deg"])
        _put(
            sun,
            "regions",
            [_region(line, self.site_named, self.today) for line in data["regions"].splitlines() if line.strip()],
        )
        _put(sun, "latitudes", [_degrees(text) for text in data["latitudes"].split(",") if text.strip()])
        cycle = [
            {"word": data[f"mode_{n}_word"], "means": data[f"mode_{n}_means"]}
            for n in range(1, MODES + 1)
            if data[f"mode_{n}_word"]
        ]
        modes = found.get("modes") or {}
        _put(found, "modes", {**modes, "key": data["mode_key"], "cycle": cycle} if data["mode_key"] and cycle else None)
        self._put_reset(found, data)
        for name in ("lock", "pin", "summer"):
            _put(found, name, presses_json(data[name], getattr(self.kind, name), name))
        for name in ("channel_modes", "operating"):
            _put(found, name, [word.strip() for word in data[name].splitlines() if word.strip()])
        return found

    def _bank(self, data: dict[str, Any], n: int) -> dict[str, Any] | None:
        if not data[f"bank_{n}_shape"]:
            return None
        held = self.kind.limits.to_json().get("slots") or []
        kept = dict(held[n - 1]) if n <= len(held) else {}
        for name in ("off_days", "repeats") if data[f"bank_{n}_shape"] != "pair" else ():
            kept.pop(name, None)
        kept["shape"] = data[f"bank_{n}_shape"]
        _put(kept, "count", data[f"bank_{n}_count"])
        _put(kept, "times", [data[f"bank_{n}_times"]] if data[f"bank_{n}_times"] else None)
        if kept["shape"] == "pair":
            _put(kept, "off_days", "same" if data[f"bank_{n}_same"] else None)
        return kept

    def _put_reset(self, found: dict[str, Any], data: dict[str, Any]) -> None:
        reset = found.get("reset") or {}
        before = self.kind.reset.press if self.kind.reset else ()
        press = presses_json(data["reset_press"], before, "reset")
        if not press:
            found.pop("reset", None)
            return
        found["reset"] = {**reset, "press": press, "shows": data["reset_shows"], "held_slots": data["reset_held"] or 0}


def _put(document: dict[str, Any], name: str, value: Any) -> None:
    """A value where there is one; else the key is left out."""
    document.pop(name, None)
    if value not in (None, "", [], False):
        document[name] = value


def _region(line: str, site_named: SiteNamed, today: date) -> dict[str, Any]:
    """A region of a line: its name and its degrees, one of the crew's sites, or the sun times that it shows."""
    name, *told = (part.strip() for part in line.split(","))
    if len(told) == 2:
        return {"name": name, "latitude": _degrees(told[0]), "longitude": _degrees(told[1])}
    site = site_named(told[-1]) if len(told) in (1, 4) else None
    if len(told) == 1 and site is not None:
        return {"name": name, "latitude": round(site.latitude, 1), "longitude": round(site.longitude, 1)}
    if len(told) == 4 and site is not None:
        latitude, longitude = _shown_place(line, told[:3], site, today)
        return {"name": name, "latitude": latitude, "longitude": longitude}
    raise PlanError(
        "regions",
        f"{name} has no coordinates yet",
        "its latitude and longitude (B, -39.5, 176.5); or one of your sites (B, Harbour walk); or a date, the sunrise and the "
        "sunset that the unit shows in it, and your site (B, 11 May 2027, 7:02, 17:12, Harbour walk)",
    )


def _shown_place(line: str, told: Sequence[str], site: Site, today: date) -> tuple[float, float]:
    """The place at which the sun rises and sets as a unit shows it, in the zone of a site, to a tenth of a degree."""
    day = date_typed(told[0], "regions", today)
    rise, fall = (read_clock_time(Node(clock_word(text), "regions")).seconds for text in told[1:])
    place = read_table(site, (SunReading(day=day, sunrise_s=rise, sunset_s=fall),)).place
    if place is None or place.is_vague:
        raise PlanError(
            "regions", f"{line!r} names no place", "a date some weeks from the equinox, and the two times it shows"
        )
    return round(place.latitude, 1), round((place.longitude + 180) % 360 - 180, 1)


def _degrees(text: str) -> float:
    try:
        return float(text)
    except ValueError as error:
        raise PlanError(
            "degrees", f"{text.strip()!r} is no number", "such as -39.5; south and west are minus"
        ) from error

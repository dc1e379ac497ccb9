"""The form of a load: what it is, the contact, lamps on their cable row by row, a store of hot water."""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from django import forms

from skavit.core.ground.errors import PlanError, UserError
from skavit.core.ground.strict_json import Node
from skavit.core.load import LOGIC, unusual
from skavit.core.plan.document import LEAST_MIN, MOST_LEAST_MIN, Plan
from skavit.core.plan.edits import with_load
from skavit.core.plan.load import CHARACTERS, DRAWS, MAINS_V, SORTS, LampRun, Load
from skavit.core.text.cables import cable_typed, cable_words
from skavit.core.text.typed import clock_word
from skavit.core.text.wording import Words, capital

MOST_LAMPS, FREE_ROWS, LEAST_ROWS = 120, 3, 4
CHARACTER_TEXT = {
    "resistive": "heaters and lamps of wire",
    "inductive": "coils, motors, transformers",
    "led": "LED drivers",
}
WIRED_TEXT = {"": "not looked at yet", "open": "normally open", "closed": "normally closed"}
LAMP_FIELDS = ("va", "from", "m", "cable")
_EXTRA = re.compile(r"([0-9]+)\s*(?:-|–|to)\s*([0-9]+)\s*:?\s*([0-9]+(?:[.,][0-9]+)?)\s*m?")
_DRAW = re.compile(r"(.+?)\s+([0-9]+(?:[.,][0-9]+)?)\s*l?")
USUAL_CABLE, USUAL_SUPPLY_V = "2.5 mm²", 12.0


@dataclass(frozen=True, slots=True, kw_only=True)
class LampFields:
    """The fields of one lamp."""

    number: int
    fields: list[forms.BoundField]

    @property
    def errors(self) -> list[str]:
        """What is wrong with any."""
        return [str(error) for field in self.fields for error in field.errors]


def _number(label: str, **more: Any) -> forms.FloatField:
    return forms.FloatField(label=label, required=False, **{"min_value": 0, **more})


class LoadForm(forms.Form):
    """All of a load; what is left empty is not known."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    sort = forms.ChoiceField(label="What it is", choices=[(sort, LOGIC[sort].name) for sort in SORTS])
    escape = forms.BooleanField(required=False, label="It is a door on an escape route")
    wired = forms.ChoiceField(label="It hangs on the contact", choices=list(WIRED_TEXT.items()), required=False)
    character = forms.ChoiceField(label="It takes current as", choices=[(c, CHARACTER_TEXT[c]) for c in CHARACTERS])
    watts = _number("Watts")
    volts = _number("Volts at the contact")
    price = _number("A kilowatt hour costs")
    supply = _number("Tap in use, volts")
    rating = _number("Transformer, VA")
    taps = forms.CharField(label="Taps it has, volts", required=False, max_length=80, help_text="Such as 12, 13, 14.")
    low = _number("At least, volts at a lamp")
    high = _number("At most, volts at a lamp")
    draws_as = forms.ChoiceField(
        label="Lamps take",
        choices=[("current", "the same current at any volts"), ("power", "the same watts at any volts")],
    )
    cable = forms.CharField(label="Cable", required=False, max_length=30, help_text="Such as 2.5 mm², 4 flex, AWG 12.")
    conductor = forms.FloatField(label="Conductor, °C", required=False)
    extra = forms.CharField(
        label="More lengths", required=False, max_length=300, help_text="For loops, such as 7-0 76 m: from, to, metres."
    )
    first_in = forms.BooleanField(required=False, label="It waits each time until the first person has come in")
    least_on = _number(
        "On for at least, minutes",
        max_value=MOST_LEAST_MIN,
        help_text="A fit makes no shorter period: 2 unless set, 0 for any.",
    )
    least_off = _number("Off for at least, minutes", max_value=MOST_LEAST_MIN)
    litres = _number("Litres")
    cold = forms.FloatField(label="Cold water, °C", required=False)
    hot = forms.FloatField(label="Heated to, °C", required=False)
    heater = _number("Heater, watts")
    loss = _number("Loses, watts")
    draws = forms.CharField(
        label="Drawn each day", required=False, max_length=300, help_text="Such as 7:00 90, 18:30 60 litres."
    )
    surely = forms.BooleanField(required=False, label="It is as typed: keep it")

    def __init__(self, data: Any = None, *, plan: Plan, channel: int, words: Words, revision: int) -> None:
        self.plan, self.channel, self.words = plan, channel, words
        own = plan.channels[channel - 1]
        load = own.load
        self.shown = load
        typed = [name for name in data or () if re.fullmatch(r"va_[0-9]{1,3}", name)]
        held = len(load.run.lamps) if load and load.run else 0
        count = min(max([held + FREE_ROWS, LEAST_ROWS, *(int(name[3:]) for name in typed)]), MOST_LAMPS)
        super().__init__(
            data,
            initial={
                "revision": revision,
                "first_in": own.first_in,
                "least_on": own.least_on_min,
                "least_off": own.least_off_min,
                **_initial(load or Load(), words),
            },
            auto_id="load-%s",
        )
        self.numbers = range(1, count + 1)
        for number in self.numbers:
            self.fields[f"va_{number}"] = _number("VA")
            self.fields[f"from_{number}"] = forms.IntegerField(
                label="from", required=False, min_value=0, max_value=MOST_LAMPS
            )
            self.fields[f"m_{number}"] = _number("metres")
            self.fields[f"cable_{number}"] = forms.CharField(label="other cable", required=False, max_length=30)
            for name in LAMP_FIELDS:
                field = self.fields[f"{name}_{number}"]
                field.widget.attrs["aria-label"] = f"Lamp {number}, {field.label}"
        self.load: Load | None = None
        self.doubted = False

    @property
    def lamps(self) -> list[LampFields]:
        """The lamps row by row."""
        return [LampFields(number=n, fields=[self[f"{name}_{n}"] for name in LAMP_FIELDS]) for n in self.numbers]

    def group(self, *names: str) -> list[forms.BoundField]:
        """Some of the fields."""
        return [self[name] for name in names]

    @property
    def what(self) -> list[forms.BoundField]:
        """What the load is, and how it takes current."""
        return self.group(
            "sort", "wired", "character", "watts", "volts", "price", "least_on", "least_off", "escape", "first_in"
        )

    @property
    def supply_fields(self) -> list[forms.BoundField]:
        """Transformer and cable."""
        return self.group("supply", "rating", "taps", "low", "high", "cable", "conductor", "draws_as", "extra")

    @property
    def store_fields(self) -> list[forms.BoundField]:
        """The store of hot water."""
        return self.group("litres", "cold", "hot", "heater", "loss", "draws")

    def clean(self) -> dict[str, Any]:
        """Read the load by the core's rules."""
        data = super().clean() or {}
        if self.errors:
            return data
        found: dict[str, Any] = {name: data[name] for name in ("sort", "character")}
        found |= {"escape": True} if data["escape"] else {}
        found |= {"wired": data["wired"]} if data["wired"] else {}
        plain = (("watts", "watts"), ("volts", "volts"), ("price", "price_kwh"), ("rating", "rating_va"), ("low", "low_v"), ("high", "high_v"))  # fmt: skip
        found |= {key: data[name] for name, key in plain if data.get(name)}
        for key, read in (("taps_v", self._taps), ("run", self._run), ("store", self._store)):
            value = read(data)
            found |= {key: value} if value else {}
        for key, says in (("run", "The lamps below say it"), ("store", "The heater below says it")):
            if key in found and data.get("watts"):
                self.add_error("watts", f"{says}. Accepted: nothing here.")
        if self.errors:
            return data
        try:
            load = Load.read(Node(found))
        except PlanError as error:
            self.add_error(self._place(error.path), f"{capital(error.wrong)}. Accepted: {error.accepted}.")
            return data
        asked = [] if data["surely"] else unusual(load, self.words)
        for path, sentence in asked:
            self.doubted = True
            self.add_error(self._place(path), f"{sentence} Is it so? Tick the box at the end, or change it.")
        self.load = None if asked else load
        return data

    def _place(self, path: str) -> str | None:
        """The field that a path of the plan file names."""
        known = {
            "price_kwh": "price", "rating_va": "rating", "low_v": "low", "high_v": "high", "taps_v": "taps",
            "supply_v": "supply", "conductor_c": "conductor", "hot_c": "hot", "cold_c": "cold", "heater_w": "heater",
            "loss_w": "loss", "litres": "litres", "draws": "draws", "watts": "watts", "volts": "volts",
        }  # fmt: skip
        lamp = re.fullmatch(r"run\.lamps\[([0-9]+)\].*", path)
        if lamp:
            return f"va_{int(lamp[1]) + 1}"
        return "extra" if path.startswith("run.cables") else known.get(path.rpartition(".")[2])

    def _each(self, name: str, parts: Iterator[str], read: Callable[[str], Any]) -> list[Any]:
        """What each part of a typed list says; the first that cannot be read is told at its field."""
        found = []
        for part in parts:
            try:
                found.append(read(part))
            except (UserError, ValueError) as error:
                told = f"{error}" if isinstance(error, UserError) else f"{part!r} cannot be read"
                self.add_error(name, f"{capital(told)}.")
                break
        return found

    def _taps(self, data: dict[str, Any]) -> list[float]:
        return self._each("taps", _parts(data["taps"]), float)

    def _run(self, data: dict[str, Any]) -> dict[str, Any] | None:
        rows = [n for n in self.numbers if data.get(f"va_{n}") is not None or data.get(f"m_{n}")]
        if not rows:
            return None
        if rows != list(range(1, len(rows) + 1)):
            gap = next(n for n in range(1, rows[-1] + 1) if n not in rows)
            self.add_error(f"va_{gap}", f"Lamp {gap} is missing. Accepted: no gap between lamps.")
            return None
        cables = []
        for number in rows:
            if not data.get(f"m_{number}"):
                self.add_error(f"m_{number}", "How far is it? Accepted: metres.")
                continue
            begin = data.get(f"from_{number}")
            cable = self._each(
                f"cable_{number}", iter([data[f"cable_{number}"]] if data.get(f"cable_{number}") else []), cable_typed
            )
            length = {"a": number - 1 if begin is None else begin, "b": number, "m": data[f"m_{number}"]}
            cables.append(length | ({"cable": cable[0].to_json()} if cable else {}))
        cables += self._each("extra", _parts(data["extra"]), _length)
        whole = self._each("cable", iter([data["cable"] or USUAL_CABLE]), cable_typed)
        if self.errors:
            return None
        run = {
            "supply_v": data.get("supply") or USUAL_SUPPLY_V,
            "cable": whole[0].to_json(),
            "load": data["draws_as"],
            "lamps": [{"va": data.get(f"va_{n}") or 0} for n in rows],
            "cables": cables,
        }
        return run | ({"conductor_c": data["conductor"]} if data.get("conductor") is not None else {})

    def _store(self, data: dict[str, Any]) -> dict[str, Any] | None:
        if not data.get("litres"):
            return None
        if not data.get("heater"):
            self.add_error("heater", "How many watts? Accepted: a number.")
        found = {
            "litres": data["litres"],
            "heater_w": data.get("heater"),
            "draws": self._each("draws", _parts(data["draws"]), _draw),
        }
        more = (("cold", "cold_c"), ("hot", "hot_c"), ("loss", "loss_w"))
        return found | {key: data[name] for name, key in more if data.get(name) is not None}

    def edit(self, plan: Plan) -> Plan:
        """The plan with what the valid form says."""
        if self.load is None:
            raise ValueError(self.errors)
        least = {f"{name}_min": self.cleaned_data[name] for name in ("least_on", "least_off")}
        given = {name: LEAST_MIN if value is None else value for name, value in least.items()}
        return with_load(plan, self.channel, self.load, first_in=self.cleaned_data["first_in"], **given)


def _parts(text: str) -> Iterator[str]:
    """What is between commas and semicolons, a comma within a number aside."""
    return (part.strip() for part in re.split(r"[;\n]|,(?!\d\b)|,\s+", text) if part.strip())


def _length(text: str) -> dict[str, Any]:
    match = _EXTRA.fullmatch(text)
    if match is None:
        raise UserError(f"{text!r} is no length; accepted: from, to and metres, such as 7-0 76 m")
    return {"a": int(match[1]), "b": int(match[2]), "m": float(match[3].replace(",", "."))}


def _draw(text: str) -> dict[str, Any]:
    match = _DRAW.fullmatch(text)
    if match is None:
        raise UserError(f"{text!r} is no draw; accepted: a time and litres, such as 7:00 90")
    return {"at": clock_word(match[1]), "litres": float(match[2].replace(",", "."))}


def _initial(load: Load, words: Words) -> dict[str, Any]:
    """What the form shows of a load."""
    run, store = load.run, load.store
    found: dict[str, Any] = {
        "sort": load.sort, "escape": load.escape, "wired": load.wired or "", "character": load.character,
        "watts": load.watts if run is None and store is None else None, "volts": load.volts or MAINS_V, "price": load.price_kwh, "rating": load.rating_va,
        "taps": ", ".join(f"{tap:g}" for tap in load.taps_v), "low": load.low_v, "high": load.high_v,
        "cable": USUAL_CABLE, "supply": USUAL_SUPPLY_V, "draws_as": DRAWS[0],
    }  # fmt: skip
    if run is not None:
        found |= {"supply": run.supply_v, "draws_as": run.load, "conductor": run.conductor_c, **_lamps(run)}
    if store is not None:
        drawn = ", ".join(f"{words.clock(d.at.seconds)} {d.litres:g}" for d in store.draws)
        found |= {"litres": store.litres, "cold": store.cold_c, "hot": store.hot_c, "heater": store.heater_w, "loss": store.loss_w, "draws": drawn}  # fmt: skip
    return found


def _lamps(run: LampRun) -> dict[str, Any]:
    """The lamps row by row: each lamp's first length is its own, the others are more."""
    found: dict[str, Any] = {"cable": cable_words(run.cable) if run.cable else USUAL_CABLE}
    own: set[int] = set()
    extra = []
    for length in run.cables:
        if length.b not in own and length.b:
            own.add(length.b)
            found |= {f"from_{length.b}": length.a, f"m_{length.b}": length.m}
            found |= {f"cable_{length.b}": cable_words(length.cable)} if length.cable else {}
        else:
            extra.append(f"{length.a}-{length.b} {length.m:g} m")
    found["extra"] = ", ".join(extra)
    return found | {f"va_{n}": lamp.va for n, lamp in enumerate(run.lamps, start=1)}

"""What hangs on a channel: the load, the contact that switches it, and a run of lamps on their cable (docs/plan-file.md, "Loads")."""

from dataclasses import dataclass, replace
from typing import Any

from skavit.core.ground.errors import PlanError
from skavit.core.ground.records import Record, flag, listed, member, number, positive, record, whole, word
from skavit.core.ground.strict_json import Node, ObjectNode
from skavit.core.plan.identity import NAME
from skavit.core.plan.times import CLOCK, ClockTime

# Maximum resistance of a conductor at 20 degrees, ohm a km: IEC 60228:2004, table 2 (class 2, stranded, plain or metal-coated
# copper) and table 3 (class 5, flexible, plain copper), by nominal cross-section in mm2.
CLASS_2 = {
    0.5: 36.0, 0.75: 24.5, 1.0: 18.1, 1.5: 12.1, 2.5: 7.41, 4.0: 4.61, 6.0: 3.08, 10.0: 1.83, 16.0: 1.15, 25.0: 0.727,
    35.0: 0.524, 50.0: 0.387, 70.0: 0.268, 95.0: 0.193, 120.0: 0.153, 150.0: 0.124, 185.0: 0.0991, 240.0: 0.0754,
    300.0: 0.0601, 400.0: 0.0470, 500.0: 0.0366, 630.0: 0.0283,
}  # fmt: skip
CLASS_5 = {
    0.5: 39.0, 0.75: 26.0, 1.0: 19.5, 1.5: 13.3, 2.5: 7.98, 4.0: 4.95, 6.0: 3.30, 10.0: 1.91, 16.0: 1.21, 25.0: 0.780,
    35.0: 0.554, 50.0: 0.386, 70.0: 0.272, 95.0: 0.206, 120.0: 0.161, 150.0: 0.129, 185.0: 0.106, 240.0: 0.0801,
    300.0: 0.0641, 400.0: 0.0486, 500.0: 0.0384, 630.0: 0.0287,
}  # fmt: skip
BY_CLASS = {2: CLASS_2, 5: CLASS_5}
AWG = (-3, 40)  # 4/0 is -3
MOST_LAMPS, MOST_LENGTHS = 1_000, 5_000
MAX_VOLTS, MAX_VA, MAX_M = 1_000, 100_000, 100_000
CONDUCTOR_C = (-50, 200)
DRAWS = ("current", "power")


def _sizes() -> str:
    return ", ".join(f"{size:g}" for size in CLASS_2)


@dataclass(frozen=True, slots=True, kw_only=True)
class Cable(Record):
    """A cable of two alike conductors of copper, by its metric cross-section and class or by its gauge."""

    mm2: float | None = member(positive(1_000), default=None)
    conductor: int = member(whole(2, 5), name="class", default=2)
    awg: int | None = member(whole(*AWG), default=None)

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """One size, which the standard has."""
        if ("mm2" in given) == ("awg" in given):
            raise PlanError(keys.path, "no size, or two", '"mm2" or "awg"')
        if "awg" in given and "conductor" in given:
            keys["class"].refuse("a class beside mm2 alone")
        if given.get("conductor", 2) not in BY_CLASS:
            keys["class"].refuse("2 or 5")
        if "mm2" in given and given["mm2"] not in CLASS_2:
            keys["mm2"].refuse(f"a size of IEC 60228: {_sizes()}")
        return given

    def __str__(self) -> str:
        if self.awg is None:
            return f"{self.mm2:g} mm²"
        return f"AWG {self.awg}" if self.awg >= 0 else f"AWG {1 - self.awg}/0"


@dataclass(frozen=True, slots=True, kw_only=True)
class Lamp(Record):
    """A lamp, by what it takes; 0 is a joint."""

    name: str | None = member(NAME, default=None)
    va: float = member(number(0, MAX_VA))


@dataclass(frozen=True, slots=True, kw_only=True)
class Length(Record):
    """A length of cable between two lamps, numbered from 1, or the transformer, 0."""

    a: int = member(whole(0, MOST_LAMPS))
    b: int = member(whole(0, MOST_LAMPS))
    m: float = member(positive(MAX_M))
    cable: Cable | None = member(record(Cable), default=None)  # left out: that of the run


def _few(form_items: Any, most: int) -> Any:
    return replace(form_items, schema=lambda: form_items.schema() | {"maxItems": most})


@dataclass(frozen=True, slots=True, kw_only=True)
class LampRun(Record):
    """Lamps on low voltage: the supply, the cable, and how it is laid."""

    supply_v: float = member(positive(MAX_VOLTS))
    cable: Cable | None = member(record(Cable), default=None)
    conductor_c: float = member(number(*CONDUCTOR_C), default=20.0)
    load: str = member(word(DRAWS), default="current")
    lamps: tuple[Lamp, ...] = member(_few(listed(record(Lamp), "lamps", least=1), MOST_LAMPS))
    cables: tuple[Length, ...] = member(_few(listed(record(Length), "lengths of cable", least=1), MOST_LENGTHS))

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Lengths between lamps that there are, each of a known cable, and every lamp reached."""
        count = len(given["lamps"])
        if count > MOST_LAMPS:
            keys["lamps"].refuse(f"at most {MOST_LAMPS} lamps", f"a list of {count}")
        if len(given["cables"]) > MOST_LENGTHS:
            keys["cables"].refuse(f"at most {MOST_LENGTHS} lengths", f"a list of {len(given['cables'])}")
        for place, length in enumerate(given["cables"]):
            path = f"{keys['cables'].path}[{place}]"
            for end in ("a", "b"):
                if getattr(length, end) > count:
                    Node(getattr(length, end), f"{path}.{end}").integer(0, count)
            if length.a == length.b:
                raise PlanError(f"{path}.b", f"{length.b} twice", "two different ends")
            if length.cable is None and given.get("cable") is None:
                raise PlanError(f"{path}.cable", "is missing", "a cable here, or one for the whole run")
        loose = unreached(count, given["cables"])
        if loose:
            raise PlanError(keys["cables"].path, f"no cable reaches lamp {loose[0]}", "a way from 0 to every lamp")
        return given

    def cable_of(self, length: Length) -> Cable:
        """The cable of a length."""
        found = length.cable or self.cable
        assert found is not None
        return found


def unreached(count: int, lengths: tuple[Length, ...]) -> list[int]:
    """The lamps, of so many, to which no cable leads."""
    near: dict[int, list[int]] = {}
    for length in lengths:
        near.setdefault(length.a, []).append(length.b)
        near.setdefault(length.b, []).append(length.a)
    seen, todo = {0}, [0]
    while todo:
        for node in near.get(todo.pop(), ()):
            if node not in seen:
                seen.add(node)
                todo.append(node)
    return [lamp for lamp in range(1, count + 1) if lamp not in seen]


MAINS_V = 230.0
SORTS = (
    "lamps",
    "transformer",
    "contactor",
    "lock-holds",  # held by power, free without: a magnet
    "lock-opens",  # opened by power, shut without: a strike
    "gate",
    "valve",
    "pump",
    "bell",
    "heater",
)
CHARACTERS = ("resistive", "inductive", "led")
WIRED = ("open", "closed")  # on the contact that is open, or closed, while the relay is off
MAX_LITRES, MAX_DRAWS = 100_000, 50
MAX_PRICE_KWH = 1_000
WATER_C = (0, 100)


@dataclass(frozen=True, slots=True, kw_only=True)
class Draw(Record):
    """So much hot water drawn each day at a clock time."""

    at: ClockTime = member(CLOCK)
    litres: float = member(positive(MAX_LITRES))


@dataclass(frozen=True, slots=True, kw_only=True)
class Store(Record):
    """A store of hot water, and what is drawn from it."""

    litres: float = member(positive(MAX_LITRES))
    cold_c: float = member(number(*WATER_C), default=15.0)
    hot_c: float = member(number(*WATER_C), default=60.0)
    heater_w: float = member(positive(1_000_000))
    loss_w: float = member(number(0, 100_000), default=0.0)
    draws: tuple[Draw, ...] = member(_few(listed(record(Draw), "draws"), MAX_DRAWS), default=())

    @classmethod
    def judged(cls, keys: ObjectNode, given: dict[str, Any]) -> dict[str, Any]:
        """Hot above cold, and no more draws than a day has."""
        if given.get("hot_c", 60.0) <= given.get("cold_c", 15.0):
            raise PlanError(f"{keys.path}.hot_c", "no warmer than the cold water", "a higher temperature")
        if len(given.get("draws", ())) > MAX_DRAWS:
            keys["draws"].refuse(f"at most {MAX_DRAWS} draws a day")
        return given


@dataclass(frozen=True, slots=True, kw_only=True)
class Load(Record):
    """What hangs on a channel's contact."""

    sort: str = member(word(SORTS), default="lamps")
    escape: bool = member(flag(), default=False)  # of a door on an escape route
    character: str = member(word(CHARACTERS), default="resistive")
    watts: float | None = member(positive(1_000_000), default=None)
    volts: float = member(positive(MAX_VOLTS), default=MAINS_V)  # at the contact
    wired: str | None = member(word(WIRED), default=None)
    run: LampRun | None = member(record(LampRun), default=None)
    rating_va: float | None = member(positive(MAX_VA), default=None)  # of the transformer
    taps_v: tuple[float, ...] = member(_few(listed(positive(MAX_VOLTS), "taps"), 12), default=())
    low_v: float | None = member(positive(MAX_VOLTS), default=None)  # the band in which every lamp is well
    high_v: float | None = member(positive(MAX_VOLTS), default=None)
    price_kwh: float | None = member(number(0, MAX_PRICE_KWH), default=None)
    store: Store | None = member(record(Store), default=None)

    @property
    def band(self) -> tuple[float, float] | None:
        """The band in volts; None where nothing says it."""
        if self.low_v is None and self.high_v is None:
            return None
        return self.low_v or 0.0, self.high_v or float(MAX_VOLTS)

"""What the page of a load shows: the contact in both states, the test, lamps on their cable, energy, hot water."""

from dataclasses import dataclass

from skavit.charts.cable_run import MOST_DRAWN, cable_run
from skavit.charts.wiring import Wiring, wiring
from skavit.core.ground.errors import UserError
from skavit.core.heat.store import reheat
from skavit.core.load import (
    LOCKS,
    LOGIC,
    Logic,
    dead_of,
    demand,
    hot_water,
    load_remedies,
    state_of,
    tests_of,
    volts,
)
from skavit.core.plan.contact import Contact
from skavit.core.plan.load import Load, Store
from skavit.core.text.error_text import error_text
from skavit.core.text.wording import Words, capital, count, duration_text
from skavit.units.models import Unit
from skavit.units.years import UnitYear

MAINS = ("L", "N")
SURGES = ("lamps", "transformer", "contactor", "pump")  # whose moment of switching on trips breakers


@dataclass(frozen=True, slots=True, kw_only=True)
class RemedyRow:
    """A way that brings every lamp within its band."""

    place: int
    text: str
    volts: str
    copper: str


@dataclass(frozen=True, slots=True, kw_only=True)
class LoadShown:
    """The part of the page that follows what is typed."""

    name: str
    logic: Logic
    wired: str
    tests: tuple[str, ...]  # what somebody tries, and what the load must do then
    right: bool  # on the contact that it needs
    pictures: list[str]
    states: list[tuple[str, str]]
    run: str
    run_narrow: str
    figures: list[tuple[str, str, bool]]  # a word, a value, and whether it is out of bounds
    refused: str
    surges: bool  # it is of a sort that trips breakers as it is switched on
    remedies: list[RemedyRow]
    cautions: list[str]


def load_shown(load: Load, unit: Unit, channel: int, found: UnitYear, words: Words) -> LoadShown:
    """What a load does and takes in a year."""
    logic, contact = LOGIC[load.sort], unit.plan.unit.contact or Contact()
    wired = load.wired or logic.contact
    refused, figures = "", []
    pictures = ("", "")
    try:
        figures = _figures(load, contact, found, channel, words)
        pictures = _run_pictures(load)
    except UserError as error:
        refused = error_text(error)
    drawn = _wiring(load, logic, contact, wired)
    return LoadShown(
        name=unit.plan.channels[channel - 1].name,
        logic=logic,
        wired=wired,
        tests=tests_of(logic, wired),
        right=wired == logic.contact,
        pictures=[wiring(drawn, relay_on=on, does=state_of(logic, wired, relay_on=on)) for on in (False, True)],
        states=[
            ("Its own power lost", capital(logic.power_lost)),
            (
                "Timer dead",
                capital(dead_of(logic, wired)),
            ),
        ],
        run=pictures[0],
        run_narrow=pictures[1],
        figures=figures,
        refused=refused,
        surges=load.sort in SURGES,
        remedies=[
            RemedyRow(
                place=place,
                text=capital(remedy.text),
                volts=f"{remedy.lowest_v:.1f} to {remedy.highest_v:.1f} V",
                copper=f"{remedy.copper_kg:.1f} kg more copper" if remedy.copper_kg >= 0.05 else "no more copper",
            )
            for place, remedy in enumerate(load_remedies(load))
        ],
        cautions=_cautions(load, logic, contact),
    )


def _wiring(load: Load, logic: Logic, contact: Contact, wired: str) -> Wiring:
    low = load.sort in (*LOCKS, "valve", "bell")
    supply = (
        ("+ of its own supply", "–") if low else ("the operator's input", "common") if load.sort == "gate" else MAINS
    )
    return Wiring(
        common=contact.common, opens=contact.opens,
        closes=contact.closes if contact.changes_over or wired == "closed" else "",
        wired=wired, load=logic.name.split(",")[0].replace(" that holds with power", "").replace(" that opens with power", ""),
        supply=supply, dry=contact.dry,
    )  # fmt: skip


def _cautions(load: Load, logic: Logic, contact: Contact) -> list[str]:
    found = [logic.caution]
    if load.escape:
        found.insert(
            0, "Escape route: this door must let people out with power, without power, and with this timer dead."
        )
    if not contact.dry and load.sort in (*LOCKS, "gate", "valve", "bell"):
        found.append("This unit's contact carries its own mains: a relay between, or another unit.")
    if load.wired == "closed" and not contact.changes_over:
        found.append(
            "This unit's contact does not change over: it has no normally closed side. A relay between gives one."
        )
    return found


def _run_pictures(load: Load) -> tuple[str, str]:
    if load.run is None or len(load.run.lamps) > MOST_DRAWN:
        return "", ""
    at = volts(load.run).lamps.tolist()
    wide, narrow = (cable_run(load.run, at, load.band, narrow=narrow) for narrow in (False, True))
    return wide, narrow


def _figures(load: Load, contact: Contact, found: UnitYear, channel: int, words: Words) -> list[tuple[str, str, bool]]:
    """Word, value, and whether it is out of bounds."""
    takes = demand(load, contact)
    on_h = found.replay.channels[channel - 1].actual.total_s / 3600
    wired = load.wired or LOGIC[load.sort].contact
    hours = on_h if wired == "open" else (found.replay.end - found.replay.start) / 3600 - on_h
    rows: list[tuple[str, str, bool]] = []
    if load.run is not None and any(lamp.va for lamp in load.run.lamps):
        at = [v for v, lamp in zip(volts(load.run).lamps.tolist(), load.run.lamps, strict=True) if lamp.va]
        band = load.band
        wrong = band is not None and not (band[0] <= min(at) and max(at) <= band[1])
        told_band = f", wanted {band[0]:g} to {band[1]:g}" if band else ""
        rows.append(("Volts at lamps", f"{min(at):.1f} to {max(at):.1f} V{told_band}", wrong))
    if takes.va is not None and takes.share is not None:
        over = takes.share > 0.8
        rows.append(
            (
                "Transformer",
                f"{takes.va:.0f} of {load.rating_va:.0f} VA, {takes.share:.0%}; at most 80 % is usual",
                over,
            )
        )
    if takes.amperes is not None and takes.carries_a is not None:
        over = takes.amperes > takes.carries_a
        by = "" if contact.is_told(load.character) else ", reckoned: common practice, no source"
        rows.append(
            ("Contact", f"{takes.amperes:.2g} A of {takes.carries_a:.3g} A that it carries of such a load{by}", over)
        )
    if takes.inrush_a is not None and load.sort in SURGES:
        rows.append(
            (
                "As it is switched on",
                f"up to {takes.inrush_a:.0f} A for a moment: a slow breaker, or lamps on several channels",
                False,
            )
        )
    if load.store is not None:
        return rows + _store_rows(load, load.store, found, channel, words)
    if takes.va is not None:
        rows.append((f"A year, {hours:,.0f} h", _energy_text(load, takes.va * hours / 1000), False))
    return rows


def _energy_text(load: Load, kwh: float) -> str:
    return f"{kwh:,.0f} kWh" + (f", {kwh * load.price_kwh:,.2f} in money" if load.price_kwh else "")


def _store_rows(load: Load, store: Store, found: UnitYear, channel: int, words: Words) -> list[tuple[str, str, bool]]:
    """How long it takes from cold, what it takes in the year, and whether that suffices."""
    run = found.replay
    takes = reheat(store.litres, store.cold_c, store.hot_c, store.heater_w, store.loss_w)
    takes_text = (
        "never" if takes.minutes is None else f"{duration_text(round(takes.minutes) * 60)}, {takes.kwh:.1f} kWh"
    )
    gives = hot_water(store, run.channels[channel - 1].actual, run.site_clock, run.first, run.last)
    what = "for what is drawn and lost" if store.draws else "for what it loses: nothing drawn is known"
    rows = [
        ("From cold", takes_text, takes.minutes is None),
        ("A year", f"{_energy_text(load, gives.kwh)}, {what}", False),
    ]
    if store.draws:
        if gives.short.size:
            text = f"short on {count(gives.short.size, 'day')}, {words.volume(gives.worst_litres)} at worst"
        else:
            text = "enough on every day"
        rows.append(("What is drawn", text, bool(gives.short.size)))
        cold = run.last - run.first + 1 - gives.heated.size
        if cold:
            rows.append(
                ("Hot all through", f"not on {count(int(cold), 'day')}: a lukewarm store breeds bacteria", True)
            )
    return rows

"""The moment of leaving."""

from dataclasses import dataclass

import numpy as np

from skavit.core.ground.arrays import DAY_S
from skavit.core.heat.moment import zones_now
from skavit.core.heat.targets import targets
from skavit.core.kinds import Kind
from skavit.core.kinds.spoken import presses_text
from skavit.core.plan.document import Plan
from skavit.core.plan.overrides import Mode, Setting
from skavit.core.sheet.handing_over import mode_words
from skavit.core.simulation.handover import (
    ChannelHandover,
    Prospect,
    handover,
    look_ahead,
    prospects,
    test_sequence,
    warnings,
)
from skavit.core.text.wording import Words, capital, minutes_text, weekday_date
from skavit.core.water.moment import moment
from skavit.core.water.year import water_year
from skavit.now import local_digits
from skavit.units.models import Unit
from skavit.units.pages.handover.forms import LeavingForm
from skavit.units.pages.numbered import slot_words
from skavit.units.pages.setting_words import setting_text

NEXT_STARTS, LOOKED_AT = 3, 60  # that are told of each program, and among which they are looked for


def has_setting(setting: Setting, kind: Kind | None) -> bool:
    """Whether a unit of a kind can be put so: it has the modes of its cycle, and says nothing of timers."""
    if kind is None or kind.modes is None:
        return True
    if not isinstance(setting, Mode):
        return False
    if setting.word in ("auto-on", "auto-off"):
        return kind.modes.returns == "waits" and bool(kind.modes.word(setting.word.removeprefix("auto-")))
    return bool(kind.modes.word(setting.word))


@dataclass(frozen=True, slots=True, kw_only=True)
class Means:
    """What a mode would mean now."""

    mode: str
    text: str


@dataclass(frozen=True, slots=True, kw_only=True)
class HandoverRow:
    """A channel at the moment of leaving."""

    name: str
    state: str
    leave: str
    back: str  # what to do where the cover or a test has switched it
    differs: str  # what its entries do instead; empty where they do what is wanted
    next: list[tuple[str, str, str]]  # when, ON or OFF, by which slot
    prospects: list[Means]


@dataclass(frozen=True, slots=True, kw_only=True)
class HandoverPage:
    """The moment of leaving: state, mode, next switchings, what each mode would mean, test and warnings."""

    unit: Unit
    form: LeavingForm
    when: str
    is_now: bool
    rows: list[HandoverRow]
    test: tuple[str, ...]
    warnings: tuple[str, ...]
    hand_keys: list[Means]  # what the unit's keys do by hand


def handover_page(unit: Unit, form: LeavingForm, words: Words, now: int) -> HandoverPage:
    """The whole page, for now or for the time at which somebody will be done."""
    plan = unit.plan
    at, now = now, form.instant(plan, now)
    words = words if plan.unit.keyings else slot_words(plan, words)
    if plan.water is not None:
        return _of_water(unit, form, words, at, now)
    if plan.heat is not None:
        return _of_heat(unit, form, words, at, now)
    leaving = handover(plan, now)
    kind = unit.core_kind
    return HandoverPage(
        unit=unit,
        form=form,
        when=_when(plan, now, words),
        is_now=at == now,
        hand_keys=_hand_keys(kind),
        rows=[
            HandoverRow(
                name=channel.name,
                state="ON" if channel.wanted else "OFF",
                leave=mode_words(kind, channel.leave_in),
                back=_back(channel, kind),
                differs=_differs(channel),
                next=[
                    (_when(plan, s.instant, words), "ON" if s.on else "OFF", words.slot_of(s.slot))
                    for s in channel.next
                ],
                prospects=[_means(plan, p, words, kind) for p in means if has_setting(p.setting, kind)],
            )
            for channel, means in zip(leaving, prospects(plan, now), strict=True)
        ],
        test=test_sequence(plan, leaving),
        warnings=warnings(
            plan,
            leaving,
            cover_switches=kind is None or kind.cover_switches,
            has_random=kind is not None and kind.modes is not None and bool(kind.modes.word("random")),
        ),
    )


def _of_water(unit: Unit, form: LeavingForm, words: Words, at: int, now: int) -> HandoverPage:
    """The same of a unit that waters: what each program does, and its next starts."""
    plan, kind = unit.plan, unit.core_kind
    water = plan.water
    assert water is not None
    year = water_year(look_ahead(plan, now))
    assert year is not None
    auto = mode_words(kind, "auto")
    has = kind.watering if kind else None
    rows = []
    for number, program in enumerate(water.programs):
        here = moment(year.stack, now, LOOKED_AT)
        running = [turn for turn in here.running if turn.program == number]
        coming = [each for each in here.following if each.program == number][:NEXT_STARTS]
        names = ", ".join(water.stations[turn.station].name for turn in running)
        rows.append(
            HandoverRow(
                name=f"Program {program.name}",
                state="RUNS" if running else "OFF",
                leave=auto,
                back=f"{names} until {_when(plan, max(turn.off for turn in running), words)}." if running
                else f"If a test runs a station: stop it, and back to {auto}.",
                differs="",
                next=[
                    (_when(plan, each.begin, words), "starts", minutes_text((each.end - each.begin) / 60))
                    for each in coming
                ],
                prospects=[],
            )
        )  # fmt: skip
    counts = "each station by itself" if has and has.stations_each else "the whole program"
    off = has.off_mark if has else "OFF"
    return HandoverPage(
        unit=unit,
        form=form,
        when=_when(plan, now, words),
        is_now=at == now,
        hand_keys=_hand_keys(kind),
        rows=rows,
        test=(
            "Run station 1 by hand: its heads come up, and a number counts down on the display.",
            f"The display counts down {counts}; some show the next start in between: it must be the one above.",
            f"Stop it. {auto} stands on the display, and {off} does not.",
        ),
        warnings=("Water on paths, and heads that come up under people: look before you run a station.",),
    )


def _of_heat(unit: Unit, form: LeavingForm, words: Words, at: int, now: int) -> HandoverPage:
    """The same of a unit that holds temperatures: what each zone is held at, and its next set points."""
    plan, kind = unit.plan, unit.core_kind
    warmed = targets(look_ahead(plan, now))
    assert warmed is not None
    auto = mode_words(kind, "auto")
    rows = []
    for zone, here in zip(warmed.zones, zones_now(warmed, now), strict=True):
        following = int(np.searchsorted(zone.program.at, now, "right"))
        coming = zip(
            zone.program.at[following : following + NEXT_STARTS].tolist(),
            zone.program.c[following : following + NEXT_STARTS].tolist(),
            strict=True,
        )
        held = float(zone.program.value_at(np.array([now]))[0])
        wants = "" if held == here.wanted_c else (
            f"Its set points have {words.warmth(held)}, and {words.warmth(here.wanted_c)} is wanted: mend the findings before you leave."
        )  # fmt: skip
        rows.append(
            HandoverRow(
                name=here.name,
                state=words.warmth(held),
                leave=auto,
                back=f"If a hand turned it: back to {auto}, and {words.warmth(held)} must stand as the target.",
                differs=wants,
                next=[(_when(plan, instant, words), "holds", words.warmth(c)) for instant, c in coming],
                prospects=[],
            )
        )
    return HandoverPage(
        unit=unit,
        form=form,
        when=_when(plan, now, words),
        is_now=at == now,
        hand_keys=_hand_keys(kind),
        rows=rows,
        test=(
            "Turn the target a few degrees above the room: the relay clicks, and the heat comes.",
            f"Turn it below the room: the relay opens. Then back to {auto}.",
            "The room's own temperature on the display is the one on a thermometer beside it.",
        ),
        warnings=(
            f"Frost protection is at {words.warmth(warmed.heat.frost_c)}; off may protect from nothing.",
            "Stored hot water scalds above 50 °C at the tap, and breeds bacteria below 60 °C in the store: local rules, licensed people.",
        ),
    )


def _hand_keys(kind: Kind | None) -> list[Means]:
    """What a kind's keys do by hand."""
    return [Means(mode=presses_text(hand.press), text=hand.says) for hand in kind.hand_keys] if kind else []


def _differs(channel: ChannelHandover) -> str:
    if channel.output == channel.wanted:
        return ""
    does, wants = ("ON", "OFF") if channel.output else ("OFF", "ON")
    return f"Its entries have it {does}, and {wants} is wanted: mend the findings before you leave."


def _back(channel: ChannelHandover, kind: Kind | None) -> str:
    """How an output that the cover or a test has switched is brought back."""
    state = "ON" if channel.output else "OFF"
    if channel.leave_in != "auto":
        how = mode_words(kind, channel.leave_in) if kind is not None and kind.modes else "by hand, then automatic"
        return f"If the cover or a test switched it: bring it to {state} again, {how}."
    auto = mode_words(kind, "auto")
    return f"If the cover or a test switched it: into another mode and back to {auto}, and it must be {state}."


def _when(plan: Plan, instant: int, words: Words) -> str:
    digits = local_digits(plan, instant)
    pulsing = any(entry.ends_itself for entry in plan.unit.all_entries)
    shown = words.clock(digits % DAY_S) if pulsing else words.minute(digits % DAY_S)
    return f"{weekday_date(digits // DAY_S)} {shown}"


def _means(plan: Plan, prospect: Prospect, words: Words, kind: Kind | None) -> Means:
    now = "on" if prospect.on else "off"
    if prospect.until is None:
        text = f"stays {now}"
    else:
        by = words.slot_of(prospect.slot) if prospect.slot else "the timer"
        text = f"{now} until {_when(plan, prospect.until, words)}, {by}"
    return Means(mode=capital(setting_text(prospect.setting, kind)), text=text)

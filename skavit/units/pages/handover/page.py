"""The moment of leaving."""

from dataclasses import dataclass
from typing import assert_never

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.plan.overrides import Away, Boost, ClockSet, Countdown, Mode, PowerCut, Setting
from skavit.core.sheet.handing_over import MODE_TEXT
from skavit.core.simulation.handover import Prospect, handover, prospects, test_sequence, warnings
from skavit.core.text.wording import Words, capital, count, duration_text, weekday_date
from skavit.now import local_digits
from skavit.units.models import Unit
from skavit.units.pages.numbered import slot_words


def setting_text(setting: Setting) -> str:
    """A mode or an override in words."""
    match setting:
        case Mode():
            return {"auto": "automatic", "auto-on": "automatic, on now", "auto-off": "automatic, off now"}.get(
                setting.word, f"{setting.word} by hand"
            )
        case Boost():
            return f"boost {duration_text(setting.minutes * 60)}"
        case Countdown():
            return f"countdown {duration_text(setting.minutes * 60)}, then {'on' if setting.then_on else 'off'}"
        case Away():
            return f"away {count(setting.days, 'day')}"
        case PowerCut():
            return f"a power cut of {duration_text(setting.hours * 3600)}"
        case ClockSet():
            return "the clock set"
        case _:
            assert_never(setting)


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
    next: list[tuple[str, str, str]]  # when, ON or OFF, by which slot
    prospects: list[Means]


@dataclass(frozen=True, slots=True, kw_only=True)
class HandoverPage:
    """The moment of leaving: state, mode, next switchings, what each mode would mean, test and warnings."""

    unit: Unit
    now: str
    rows: list[HandoverRow]
    test: tuple[str, ...]
    warnings: tuple[str, ...]


def handover_page(unit: Unit, words: Words, now: int) -> HandoverPage:
    """The whole page."""
    plan = unit.plan
    words = words if plan.unit.keyings else slot_words(plan, words)
    leaving = handover(plan, now)
    kind = unit.core_kind
    return HandoverPage(
        unit=unit,
        now=_when(plan, now, words),
        rows=[
            HandoverRow(
                name=channel.name,
                state="ON" if channel.wanted else "OFF",
                leave=MODE_TEXT[channel.leave_in],
                next=[
                    (_when(plan, s.instant, words), "ON" if s.on else "OFF", words.slot_of(s.slot))
                    for s in channel.next
                ],
                prospects=[_means(plan, prospect, words) for prospect in means],
            )
            for channel, means in zip(leaving, prospects(plan, now), strict=True)
        ],
        test=test_sequence(plan, leaving),
        warnings=warnings(
            plan,
            leaving,
            cover_switches=kind is None or kind.cover_switches,
            has_random=kind is not None
            and kind.modes is not None
            and any(mode.means == "random" for mode in kind.modes.cycle),
        ),
    )


def _when(plan: Plan, instant: int, words: Words) -> str:
    digits = local_digits(plan, instant)
    pulsing = any(entry.ends_itself for entry in plan.unit.all_entries)
    shown = words.clock(digits % DAY_S) if pulsing else words.minute(digits % DAY_S)
    return f"{weekday_date(digits // DAY_S)} {shown}"


def _means(plan: Plan, prospect: Prospect, words: Words) -> Means:
    now = "on" if prospect.on else "off"
    if prospect.until is None:
        text = f"stays {now}"
    else:
        by = words.slot_of(prospect.slot) if prospect.slot else "the timer"
        text = f"{now} until {_when(plan, prospect.until, words)}, {by}"
    return Means(mode=capital(setting_text(prospect.setting)), text=text)

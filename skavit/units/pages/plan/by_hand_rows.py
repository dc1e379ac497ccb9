"""What was done by hand, as the plan page lists it."""

from dataclasses import dataclass

from skavit.core.ground.arrays import DAY_S
from skavit.core.kinds import Kind
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words, capital, dated_text
from skavit.units.pages.setting_words import setting_text


@dataclass(frozen=True, slots=True, kw_only=True)
class ByHandRow:
    """One dated line."""

    index: int
    day: str
    time: str
    text: str
    channel: str  # its name; empty where it is the whole unit, or the unit has but one


def by_hand_rows(plan: Plan, kind: Kind | None, words: Words) -> list[ByHandRow]:
    """The lines, the latest first."""
    several = len(plan.channels) > 1
    return [
        ByHandRow(
            index=index,
            day=dated_text(override.at // DAY_S),
            time=words.clock(override.at % DAY_S),
            text=capital(setting_text(override.setting, kind)),
            channel=plan.channels[override.channel - 1].name if several and override.channel else "",
        )
        for index, override in sorted(enumerate(plan.overrides), key=lambda row: -row[1].at)
    ]

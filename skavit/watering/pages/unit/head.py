"""The label strip of a watering unit: what runs now, and what next."""

from skavit.core.ground.arrays import DAY_S
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words, duration_text, weekday_date
from skavit.core.water.state import WaterState
from skavit.server.now import local_digits
from skavit.units.pages.unit.parts import Strip


def watering_strip(plan: Plan, here: WaterState, words: Words, now: int) -> Strip:
    """The strip at a moment."""
    assert plan.water is not None
    digits = local_digits(plan, now)
    state, tone, since = "Nothing runs", "off", ""
    if here.running:
        names = [plan.water.stations[turn.station].name for turn in here.running]
        state, tone = f"{', '.join(names[:3])} running", "water"
        end = min(turn.off for turn in here.running)
        since = f"until {words.minute(local_digits(plan, end) % DAY_S)}"
    shown_now = f"{words.minute(digits % DAY_S)}, {weekday_date(digits // DAY_S)}"
    if not here.following:
        return Strip(tone=tone, state=state, since=since, now=shown_now)
    coming = here.following[0]
    time, _, half = words.minute(local_digits(plan, coming.begin) % DAY_S).partition(" ")
    return Strip(
        tone=tone,
        state=state,
        since=since,
        now=shown_now,
        next_time=time,
        next_half=half,
        next_action=f"program {plan.water.program_name(coming.program)}",
        next_in=f"in {duration_text((coming.begin - now) // 60 * 60)}",
    )

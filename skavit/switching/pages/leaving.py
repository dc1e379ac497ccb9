"""The moment of leaving a unit that switches: each output, the mode to leave it in, and what each mode would mean."""

from skavit.core.kinds import Kind
from skavit.core.plan.document import Plan
from skavit.core.plan.overrides import Mode, Setting
from skavit.core.sheet import mode_words
from skavit.core.simulation.handover import (
    ChannelHandover,
    Prospect,
    handover,
    prospects,
    test_sequence,
    warnings,
)
from skavit.core.text.wording import Words, capital
from skavit.switching.pages.unit.setting_words import setting_text
from skavit.units.models import Unit
from skavit.units.pages.handover.parts import HandoverRow, Leaving, Means, when_text
from skavit.units.pages.numbered_findings import slot_words


def leaving_outputs(unit: Unit, now: int, words: Words) -> Leaving:
    """Each output at an instant."""
    plan, kind = unit.plan, unit.core_kind
    words = words if plan.unit.keyings else slot_words(plan, words)
    leaving = handover(plan, now)
    return Leaving(
        rows=[
            HandoverRow(
                name=channel.name,
                state="ON" if channel.wanted else "OFF",
                leave=mode_words(kind, channel.leave_in),
                back=_back(channel, kind),
                differs=_differs(channel),
                next=[
                    (when_text(plan, s.instant, words), "ON" if s.on else "OFF", words.slot_of(s.slot))
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


def has_setting(setting: Setting, kind: Kind | None) -> bool:
    """Whether a unit of a kind can be put so: it has the modes of its cycle, and says nothing of timers."""
    if kind is None or kind.modes is None:
        return True
    if not isinstance(setting, Mode):
        return False
    if setting.word in ("auto-on", "auto-off"):
        return kind.modes.returns == "waits" and bool(kind.modes.word(setting.word.removeprefix("auto-")))
    return bool(kind.modes.word(setting.word))


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


def _means(plan: Plan, prospect: Prospect, words: Words, kind: Kind | None) -> Means:
    now = "on" if prospect.on else "off"
    if prospect.until is None:
        text = f"stays {now}"
    else:
        by = words.slot_of(prospect.slot) if prospect.slot else "the timer"
        text = f"{now} until {when_text(plan, prospect.until, words)}, {by}"
    return Means(mode=capital(setting_text(prospect.setting, kind)), text=text)

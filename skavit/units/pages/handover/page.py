"""The moment of leaving."""

from dataclasses import dataclass

from skavit.core.kinds import Kind
from skavit.core.kinds.spoken import presses_text
from skavit.core.text.wording import Words
from skavit.units.models import Unit
from skavit.units.pages.handover.forms import LeavingForm
from skavit.units.pages.handover.parts import HandoverRow, Means, when_text
from skavit.units.trades import pages_of


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
    at = form.instant(plan, now)
    leaving = pages_of(plan).leaving(unit, at, words)
    return HandoverPage(
        unit=unit,
        form=form,
        when=when_text(plan, at, words),
        is_now=at == now,
        rows=leaving.rows,
        test=leaving.test,
        warnings=leaving.warnings,
        hand_keys=_hand_keys(unit.core_kind),
    )


def _hand_keys(kind: Kind | None) -> list[Means]:
    """What a kind's keys do by hand."""
    return [Means(mode=presses_text(hand.press), text=hand.says) for hand in kind.hand_keys] if kind else []

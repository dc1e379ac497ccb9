"""An audit under so many minutes of error: small differences are no findings, and what is near one is told."""

from collections.abc import Iterator
from dataclasses import replace
from datetime import date

from skavit.core.findings import Finding, Severity, audit
from skavit.core.findings.case import Budgets
from skavit.core.findings.order import CloseCall, Near
from skavit.core.ground.budget import Budget
from skavit.core.plan.clock_settings import ByHand
from skavit.core.plan.document import Plan
from skavit.core.plan.sun_settings import Adjust
from skavit.core.simulation.replay import replay

# What tells of switchings that fall in another order, and not of the error itself.
NEAR = ("order-flips", "never-off", "days-uncovered", "cuts-short", "same-instant", "held-through-holiday")


def audit_within(
    plan: Plan, first: date, last: date, *, clock_min: int = 0, sun_min: int = 0, budgets: Budgets | None = None
) -> tuple[Finding, ...]:
    """The findings of a plan, judged under plus and minus so many minutes of error of its clock and of its sun.

    A difference no longer than both together is no finding. What such an error would bring about is told as a
    `close-call` of its own, always a note. ``budgets`` is what may be tried of the plan as it is. Raises :class:`RangeError` as :func:`replay` does.
    """
    tolerance_s = max((clock_min + sun_min) * 60, 60)
    found = audit(replay(plan, first, last), tolerance_s=tolerance_s, budgets=budgets)
    told = {(finding.code, finding.channel, finding.slots) for finding in found}
    near: list[Finding] = []
    for error, minutes, changed in _with_errors(plan, clock_min, sun_min):
        # What is near is told without a remedy, so that none is tried.
        untried = Budgets(remedies=Budget(0), fits=Budget(0), repairs=Budget(0))
        for finding in audit(replay(changed, first, last), tolerance_s=tolerance_s, budgets=untried):
            key = (finding.code, finding.channel, finding.slots)
            if finding.code in NEAR and finding.severity != Severity.NOTE and key not in told:
                told.add(key)
                facts = Near(code=finding.code, error=error, minutes=minutes, then=finding.facts)
                near.append(
                    replace(
                        finding,
                        code=CloseCall.slug,
                        severity=Severity.NOTE,
                        facts=facts,
                        hours=0.0,
                        explains={},
                        remedy=None,
                    )
                )
    return (*found, *near)


def _with_errors(plan: Plan, clock_min: int, sun_min: int) -> Iterator[tuple[str, int, Plan]]:
    """The plan with each error there may be: of which sort, how many minutes, the plan."""
    unit = plan.unit
    if clock_min and not isinstance(unit.clock.dst, ByHand):
        for side in (1, -1):
            clock = replace(unit.clock, error_s=unit.clock.error_s + side * clock_min * 60)
            yield "clock", side * clock_min, replace(plan, unit=replace(unit, clock=clock))
    if sun_min and unit.sun.source not in ("photocell", "none"):
        for side in (1, -1):
            moved = replace(
                plan, unit=replace(unit, sun=replace(unit.sun, adjust=_plus(unit.sun.adjust, side * sun_min)))
            )
            channels = tuple(
                replace(channel, adjust=_plus(channel.adjust, side * sun_min)) if channel.adjust else channel
                for channel in plan.channels
            )
            yield "sun", side * sun_min, replace(moved, channels=channels)


def _plus(adjust: Adjust | None, minutes: int) -> Adjust:
    old = adjust or Adjust()
    return Adjust(sunrise_min=old.sunrise_min + minutes, sunset_min=old.sunset_min + minutes)

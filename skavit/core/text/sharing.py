"""Which weekdays share a day group of a unit though something else is wanted on them."""

from collections.abc import Hashable, Sequence

from skavit.core.plan.days import Weekdays
from skavit.core.text.wording import days_text


def shared_days_text(wanted: Sequence[Hashable], keyed: Sequence[Hashable]) -> str:
    """Name the weekdays that are keyed alike and wanted otherwise; empty where there are none.

    ``wanted`` and ``keyed``: what each weekday has, Monday first.
    """
    told = []
    for group in dict.fromkeys(keyed):
        masks: dict[Hashable, int] = {}
        for bit in range(7):
            if keyed[bit] == group:
                masks[wanted[bit]] = masks.get(wanted[bit], 0) | 1 << bit
        if len(masks) > 1:
            first, *others = (days_text(Weekdays(mask)) for mask in masks.values())
            shares = "shares" if next(iter(masks.values())).bit_count() == 1 else "share"
            told.append(f"{first} {shares} a day group with {' and '.join(others)}")
    return "; ".join(told)

"""The fields of a time and of a day rule, to the plan file's words and back."""

from typing import Any, assert_never

from skavit.core.plan.days import Dates, Days, EveryNth, Narrowed, Parity, Weekdays, month_day_text
from skavit.core.plan.times import ClockTime, LimitedTime, SunTime, Time
from skavit.core.text.typed import clock_word, dates_typed, month_day_word
from skavit.core.text.wording import days_text
from skavit.units.public_holidays import named_dates


def time_json(data: dict[str, Any], prefix: str) -> Any:
    """The plan file's time from the fields of a time control."""
    kind = data.get(f"{prefix}_kind") or "clock"
    if kind == "clock":
        plain = clock_word(data.get(f"{prefix}_clock") or "")
    else:
        offset = data.get(f"{prefix}_offset") or 0
        plain = f"{kind}{offset:+d}" if offset else kind
    limits = {
        key: clock_word(data[f"{prefix}_{key}"]) for key in ("not_before", "not_after") if data.get(f"{prefix}_{key}")
    }
    return {"at": plain, **limits} if limits else plain


def time_fields(time: Time | None, prefix: str) -> dict[str, Any]:
    """The fields of a time control that show a time."""
    found: dict[str, Any] = {f"{prefix}_kind": "clock", f"{prefix}_clock": "", f"{prefix}_offset": 0}
    match time:
        case None:
            return found
        case ClockTime():
            return found | {f"{prefix}_clock": str(time)}
        case SunTime():
            return found | {f"{prefix}_kind": time.event.name.lower(), f"{prefix}_offset": time.offset_min}
        case LimitedTime():
            limits = {f"{prefix}_{key}": str(getattr(time, key) or "") for key in ("not_before", "not_after")}
            return time_fields(time.at, prefix) | limits
        case _:
            assert_never(time)


def with_named_dates(data: dict[str, Any], timezone: str, year: int) -> dict[str, Any]:
    """The fields of a days control with public holidays that were typed by name as their dates."""
    typed = {name: named_dates(data[name], timezone, year) for name in ("days_dates", "except_dates") if data.get(name)}
    return data | typed


def days_json(data: dict[str, Any], kept: Days | None) -> Any:
    """The plan file's day rule from the fields of a days control; ``kept`` is the rule as it was."""
    kind = data.get("days_kind") or "daily"
    if kind == "as-is" and kept is not None:
        return kept.to_json()
    inner: Any = kind
    if kind == "chosen":
        inner = list(data.get("days_chosen") or [])
    elif kind in ("odd", "even"):
        inner = {"parity": kind}
    elif kind == "dates":
        inner = {"dates": dates_typed(data.get("days_dates") or "")}
    elif kind == "every":
        inner = {"every": data.get("days_every") or 0, "from": data.get("days_from") or ""}
    narrowed: dict[str, Any] = {}
    if data.get("season_first") or data.get("season_last"):
        ends = (data.get("season_first") or "", data.get("season_last") or "")
        narrowed["between"] = [month_day_word(end) for end in ends]
    without = [rule.to_json() for rule in other_exceptions(kept)] if data.get("keep_except") else []
    if dates := dates_typed(data.get("except_dates") or ""):
        without.append({"dates": dates})
    if without:
        narrowed["except"] = without
    return {"days": inner, **narrowed} if narrowed else inner


def days_fields(days: Days) -> dict[str, Any]:
    """The fields of a days control that show a rule."""
    found: dict[str, Any] = {}
    inner = days
    if isinstance(days, Narrowed):
        inner = days.days
        found["keep_except"] = bool(other_exceptions(days))
        dates = excepted_dates(days)
        found["except_dates"] = days_text(dates) if dates else ""
        if days.between:
            found |= {
                "season_first": month_day_text(days.between[0]),
                "season_last": month_day_text(days.between[1]),
            }
    return found | _plain_days_fields(inner)


def _plain_days_fields(days: Days) -> dict[str, Any]:
    match days:
        case Weekdays():
            word = days.to_json()
            return {"days_kind": word} if isinstance(word, str) else {"days_kind": "chosen", "days_chosen": word}
        case Parity():
            return {"days_kind": "odd" if days.odd else "even"}
        case Dates():
            return {"days_kind": "dates", "days_dates": days_text(days)}
        case EveryNth():
            shown = days.to_json()
            return {"days_kind": "every", "days_every": shown["every"], "days_from": shown["from"]}
        case Narrowed():
            return {"days_kind": "as-is"}  # narrowed twice over: no form shows it
        case _:
            assert_never(days)


def excepted_dates(days: Days | None) -> Dates | None:
    """The one list of dates that a rule excepts, which a form shows as text; None where it is not so plain."""
    without = days.without if isinstance(days, Narrowed) else ()
    lists = [rule for rule in without if isinstance(rule, Dates)]
    return lists[0] if len(lists) == 1 and without[-1] == lists[0] else None


def other_exceptions(days: Days | None) -> tuple[Days, ...]:
    """The exceptions of a rule that a form does not show as text, and so are kept or not as a whole."""
    without = days.without if isinstance(days, Narrowed) else ()
    return without[:-1] if excepted_dates(days) else without

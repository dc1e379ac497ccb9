"""Results of units' years, kept in the database by content hash, so that lists never compute."""

from collections.abc import Callable, Sequence
from functools import reduce
from importlib.metadata import version
from operator import or_
from typing import Any

from django.db.models import Case, Q, Value, When
from django.db.models.functions import Coalesce

from skavit.core.findings import Finding, Severity
from skavit.core.memory import slot_names
from skavit.core.plan.document import Plan
from skavit.core.text.wording import Words
from skavit.server.now import today_at, year_at
from skavit.units.computing import is_left, unit_year
from skavit.units.models import MeantSo, Unit, YearResult
from skavit.units.trades import pages_of

# Raise with every change to a computed result, together with a "calculation" line in the CHANGELOG.
CORE_RELEASE = "11"
CALCULATION = f"core {CORE_RELEASE}, tzdata {version('tzdata')}"


def year_result(unit: Unit, year: int) -> YearResult:
    """The kept result of a unit's year; made where there is none yet."""
    return _year_results([(unit, year)], remedies=True)[0]


def _year_results(asked: Sequence[tuple[Unit, int]], *, remedies: bool) -> list[YearResult]:
    """The kept result of each unit's year; those that there are not yet are made, and written together."""
    keys = [(unit.plan.content_hash(), year) for unit, year in asked]
    there = YearResult.objects.filter(
        content_hash__in={key for key, _ in keys}, year__in={year for _, year in keys}, calculation=CALCULATION
    )
    kept = {(one.content_hash, one.year): one for one in there}
    made = {
        key: _worked_out(unit, *key, remedies=remedies)
        for key, (unit, _) in zip(keys, asked, strict=True)
        if key not in kept
    }
    if made:
        # Where somebody else has just written the same, the row is theirs.
        YearResult.objects.bulk_create(
            made.values(),
            update_conflicts=True,
            unique_fields=("content_hash", "year", "calculation"),
            update_fields=("place",),
        )
    return [kept.get(key) or made[key] for key in keys]


def _worked_out(unit: Unit, content_hash: str, year: int, *, remedies: bool) -> YearResult:
    plan = unit.plan
    found = unit_year(plan, year, remedies=remedies)
    return YearResult(
        content_hash=content_hash,
        year=year,
        calculation=CALCULATION,
        severity=found.findings[0].severity.value if found.findings else "",
        lacks=_lacks(plan),
        findings=[_kept(finding, plan) for finding in found.findings],
        thumbnail=pages_of(plan).thumbnail(found, f"thumb-{content_hash[:12]}"),
        place=unit.site.place_key,
    )


def _lacks(plan: Plan) -> str:
    """What a plan has nothing of: windows, stations or set points that are wanted; or anything that is keyed."""
    pages = pages_of(plan)
    if not pages.wanted_text(plan):
        return "wanted"
    return "" if pages.keyed_text(plan) else "keyed"


def _kept(finding: Finding, plan: Plan) -> dict[str, Any]:
    """A finding as it is kept, with what its slots are called where they do not count as the entries do."""
    names = slot_names(plan.unit.sets[finding.keying], plan.unit.limits)
    return finding.kept() | ({"names": {slot: names[slot - 1] for slot in finding.slots}} if names else {})


def kept_words(raw: dict[str, Any], words: Words) -> Words:
    """The words in which a kept finding names its slots."""
    names = {int(slot): name for slot, name in raw.get("names", {}).items()}
    return words.of_slots(tuple(names.get(slot, f"slot {slot}") for slot in range(1, max(names, default=0) + 1)))


# Of the worst finding: a unit that needs somebody.
SERIOUS = (Severity.DANGER.value, Severity.WARNING.value)
# What else is kept of a unit, and follows from its plan: rooms above put it down here when the application begins.
FOLLOWED_BY: list[Callable[[Sequence[Unit], int], None]] = []


def keep_result(unit: Unit, now: int) -> None:
    """Work out this year's result of a unit that is being looked at, with what would mend it: its page shows it next."""
    keep_results([unit], now, remedies=True)


def keep_results(units: Sequence[Unit], now: int, *, remedies: bool = False) -> None:
    """Work out this year's results of units, and let each point to its own, unless its plan has moved on meanwhile.

    ``mends`` false: without what would mend them, which no list shows. Those of large plans stay as they are where the
    worker is to work them out: the round sees that they are stale.
    """
    units = [unit for unit in units if not is_left(unit.plan)]
    if not units:
        return
    found = _year_results([(unit, year_at(unit.site.place, now)) for unit in units], remedies=remedies)
    for unit, result in zip(units, found, strict=True):
        unit.result = result
    keep_accepted(units, now)
    as_it_was = reduce(or_, (Q(pk=unit.pk, head=unit.head_id) for unit in units))
    own = Case(*(When(pk=unit.pk, then=Value(result.pk)) for unit, result in zip(units, found, strict=True)))
    Unit.objects.filter(as_it_was).update(result=own)
    follow(units, now)


def follow(units: Sequence[Unit], now: int) -> None:
    """Let what follows from units' plans be worked out anew."""
    for each in FOLLOWED_BY:
        each(units, now)


def meant_so(units: Sequence[Unit], now: int) -> dict[int, dict[str, MeantSo]]:
    """The findings of units that are meant so now, by the unit's key and their identity: of this plan, and until today at least."""
    by_key = {unit.pk: unit for unit in units}
    found: dict[int, dict[str, MeantSo]] = {pk: {} for pk in by_key}
    for one in MeantSo.objects.filter(unit__in=units).select_related("by"):
        unit = by_key[one.unit_id]
        if one.content_hash == unit.head_revision.content_hash and one.until >= today_at(unit.site.place, now):
            found[unit.pk][one.finding] = one
    return found


def accepted_of(unit: Unit, now: int) -> dict[str, MeantSo]:
    """Those of one unit; where nothing was accepted when its result was kept, nothing is asked."""
    return {} if unit.accepted_severity is None else meant_so([unit], now)[unit.pk]


def keep_accepted(units: Sequence[Unit], now: int) -> None:
    """Write down how bad the worst finding is that nobody means so, at units of which some are meant so."""
    meant = meant_so(units, now)
    for unit in units:
        kept = unit.result.findings if unit.result is not None else []
        left = [raw["severity"] for raw in kept if raw.get("identity") not in meant[unit.pk]]
        accepted = (left[0] if left else "") if len(left) < len(kept) else None
        if accepted != unit.accepted_severity:
            unit.accepted_severity = accepted
            Unit.objects.filter(pk=unit.pk).update(accepted_severity=accepted)


# How bad the worst finding of a unit is that nobody means so.
WORST = Coalesce("accepted_severity", "result__severity")


def is_fresh(unit: Unit, year: int) -> bool:
    """Whether the result that a unit points to still holds.

    Services renew it at each edit; but a year ends, a site moves, and a release comes.
    """
    kept = unit.result
    return (
        kept is not None and kept.year == year and kept.calculation == CALCULATION and kept.place == unit.site.place_key
    )

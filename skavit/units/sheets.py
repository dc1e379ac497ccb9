"""The entry sheet of a unit, worked out once: kept by its plan's content while what it says holds."""

from collections.abc import Iterable
from itertools import islice
from threading import Lock

from cachetools import LRUCache
from django.core import signing

from skavit.core.ground.arrays import DAY_S
from skavit.core.kinds import Kind
from skavit.core.plan.document import Plan
from skavit.core.plan.seasonal import Stretch
from skavit.core.sheet import Step, clock_runs, held_set, next_set, steps, steps_of_changes, told_anew
from skavit.core.text.wording import Words
from skavit.server.now import local_digits, year_at
from skavit.units.computing import unit_year
from skavit.units.models import Unit

Sheet = tuple[Step, ...]

KEPT = 32
SALT = "skavit.sheet"
MOST_PROOFS = 8
# What depends on the date in ways of its own is worked out anew so often.
LONGEST_S = 3600
_KEPT: LRUCache[tuple[str, str, Words], tuple[int, int, Sheet]] = LRUCache(KEPT)
_LOOKING = Lock()


def sheet_of(
    plan: Plan, kind: Kind | None, words: Words, now: int, *, carried: bool = True, remedies: bool = True
) -> Sheet:
    """The steps of keying a plan into a unit of a kind at a moment.

    ``carried``: with what they say until tomorrow's end; false where only the moment counts. ``remedies`` false: where the
    year is worked out for it, without remedies.
    """
    key = (plan.content_hash(), repr(kind), words)
    year = unit_year(plan, year_at(plan.site, now), remedies=remedies)
    with _LOOKING:
        first, until, kept = _KEPT.get(key, (0, 0, ()))
    if first <= now < until:
        return told_anew(kept, plan, year.replay, now, words, kind, year.ahead(now))
    leaving = year.leaving(now)
    if not carried:
        return steps(plan, year.replay, leaving, now, words, kind)
    found = steps(plan, year.replay, leaving, now, words, kind, year.ahead(now))
    cuts = [step.holds_until for step in found if step.holds_until]
    turns = [at for at, _ in clock_runs(plan, now)[1:]]  # the unit's clock by its own rule, or somebody's hand
    with _LOOKING:
        _KEPT[key] = (now, min([*cuts, *turns, now + LONGEST_S]), found)
    return found


def changes_of(unit: Unit, words: Words, now: int) -> Sheet:
    """The steps that bring a unit from what was keyed at its last visit to its plan; none where it never was keyed.

    Of a plan with seasonal programs the one that was keyed then, and the one of now.
    """
    if unit.keyed is None:
        return ()
    was = unit.plan_of(unit.keyed)
    if was.unit.keyings:
        was = was.with_only_set(held_set(was, _day_keyed(unit, now), unit.core_kind))
    return _changes(was, unit.plan, unit.core_kind, words, now)


def season_turned(unit: Unit, now: int) -> bool:
    """Whether another seasonal program has begun since the unit was keyed."""
    plan, kind = unit.plan, unit.core_kind
    if unit.keyed is None or not plan.unit.keyings:
        return False
    return held_set(plan, _day_keyed(unit, now), kind) != held_set(plan, _today(unit, now), kind)


def coming_season(unit: Unit, now: int) -> Stretch | None:
    """The seasonal program that is keyed next; None where there is nothing to key."""
    return next_set(unit.plan, _today(unit, now), unit.core_kind) if unit.plan.unit.keyings else None


def season_changes_of(unit: Unit, words: Words, now: int) -> Sheet:
    """The steps that key the seasonal program that comes next, over the one that is in the unit now; none without one."""
    coming = coming_season(unit, now)
    if coming is None:
        return ()
    plan, kind = unit.plan, unit.core_kind
    was = plan.with_only_set(held_set(plan, _today(unit, now), kind))
    return _changes(was, plan.with_only_set(coming.keying), kind, words, now)


def _today(unit: Unit, now: int) -> int:
    return local_digits(unit.plan, now) // DAY_S


def _day_keyed(unit: Unit, now: int) -> int:
    """The day on which the unit was keyed, in days since 1970; today where nobody wrote it down."""
    return local_digits(unit.plan, int(unit.keyed_at.timestamp()) if unit.keyed_at else now) // DAY_S


def _changes(was: Plan, plan: Plan, kind: Kind | None, words: Words, now: int) -> Sheet:
    standing = sheet_of(was, kind, words, now, carried=False, remedies=False)
    year = unit_year(plan, year_at(plan.site, now))
    return steps_of_changes(was, standing, plan, year.replay, year.leaving(now), now, words, kind, year.ahead(now))


def proof_of(unit: Unit, sheet: Sheet, words: Words, now: int) -> str:
    """What a page of the sheet sends with its ticks: signed, which steps are on it, of which plan, and until when.

    With it a tick needs no sheet to be worked out.
    """
    with _LOOKING:
        _, until, _ = _KEPT.get((unit.plan.content_hash(), repr(unit.core_kind), words), (0, now, ()))
    keys = [step.key for step in sheet if step.key]
    return signing.dumps([unit.pk, _state_of(unit), until, keys], salt=SALT, compress=True)


def _state_of(unit: Unit) -> str:
    """What a unit's plan is made from: its revision and the place of its site. No plan is read for it."""
    return f"{unit.head_id} {unit.site.place_key}"


def proven_keys(unit: Unit, proofs: Iterable[str], now: int) -> frozenset[str]:
    """The keys of steps that proofs show to be on a unit's sheet now; none of a proof that holds no longer."""
    state, found = _state_of(unit), set()
    for proof in islice(proofs, MOST_PROOFS):
        try:
            of, made_from, until, keys = signing.loads(proof, salt=SALT)
        except signing.BadSignature:
            continue
        if (of, made_from) == (unit.pk, state) and now < until:
            found.update(keys)
    return frozenset(found)

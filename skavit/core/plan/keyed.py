"""The part of a plan that is programmed into the device: entries, settings, dates. Nothing of what is wanted or known."""

import hashlib
import json
from typing import Any

from skavit.core.plan.document import Plan
from skavit.core.plan.trade import trades_in

# Of the unit's own keys these say what it can do or what is known of it: nobody keys them.
_NOT_KEYED = ("limits", "contact", "pin", "reserve_h")


def keyed_part(plan: Plan) -> dict[str, Any]:
    """The JSON of what is keyed in, without names that nobody keys."""
    unit = {key: value for key, value in plan.unit.to_json().items() if key not in _NOT_KEYED}
    unit["clock"] = {"dst": unit["clock"]["dst"]}  # how far it is out is nobody's wish
    found: dict[str, Any] = {
        "unit": _bare(unit),
        "adjust": [c.adjust.to_json() if c.adjust else None for c in plan.channels],
    }
    return found | {key: _bare(part) for trade in trades_in(plan) for key, part in trade.keyed(plan).items()}


def _bare(value: Any) -> Any:
    """The same without ids, by which parts are known and no more."""
    if isinstance(value, dict):
        return {key: _bare(item) for key, item in value.items() if key != "id"}
    return [_bare(item) for item in value] if isinstance(value, list) else value


def keyed_hash(plan: Plan) -> str:
    """A hash of what is keyed in, 64 hexadecimal digits: two plans of one hash are keyed alike."""
    text = json.dumps(keyed_part(plan), sort_keys=True, separators=(",", ":"), ensure_ascii=True)
    return hashlib.sha256(text.encode()).hexdigest()

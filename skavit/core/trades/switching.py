"""Switching: outputs that are on and off by entries. All of the core holds this; the trade adds nothing to it."""

from typing import Any

from skavit.core.kinds.kind import Kind
from skavit.core.plan.document import Plan
from skavit.core.plan.trade import Trade


class Switching(Trade):
    """Units that switch outputs."""

    slug = "switches"
    key = "channels"
    does = "switches channels"
    heading = "Units that switch"
    work = "the outputs"
    held = "slot"

    def is_in(self, plan: Plan) -> bool:
        return bool(plan.channels)

    def makes(self, kind: Kind) -> bool:
        return kind.watering is None and kind.heating is None

    def begun(self, plan: Plan) -> Plan:
        return plan

    def for_kind(self, plan: Plan, kind: Kind) -> Plan:
        return plan

    def keyed(self, plan: Plan) -> dict[str, Any]:
        return {}

    def size(self, plan: Plan) -> int:
        return len(plan.unit.all_entries) + sum(len(channel.windows) for channel in plan.channels)


SWITCHING = Switching()

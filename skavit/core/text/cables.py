"""Cables as people type them: 2.5 mm², 4 flex, AWG 12, 2/0 awg."""

import re

from skavit.core.ground.errors import UserError, quoted
from skavit.core.ground.strict_json import Node
from skavit.core.plan.load import AWG, CLASS_2, Cable

_METRIC = re.compile(r"([0-9]+(?:[.,][0-9]+)?)\s*(?:mm2|mm²|mm)?\s*(flex|flexible|class 5)?")
_GAUGE = re.compile(r"(?:awg\s*)?([0-9]{1,2})(/0)?(?:\s*awg)?")
ACCEPTED = f"a size in mm² ({', '.join(f'{size:g}' for size in CLASS_2 if size <= 25)} and more), or AWG 12"


def cable_typed(text: str) -> Cable:
    """A cable from what was typed; raises :class:`UserError`."""
    plain = " ".join(text.lower().split())
    gauge = _GAUGE.fullmatch(plain)
    if gauge and ("awg" in plain or gauge[2]):
        number = 1 - int(gauge[1]) if gauge[2] else int(gauge[1])
        if AWG[0] <= number <= AWG[1]:
            return Cable(awg=number)
    metric = _METRIC.fullmatch(plain)
    if metric and (size := float(metric[1].replace(",", "."))) in CLASS_2:
        return Cable.read(Node({"mm2": size} | ({"class": 5} if metric[2] else {})))
    raise UserError(f"{quoted(text)} is no cable; accepted: {ACCEPTED}")


def cable_words(cable: Cable) -> str:
    """A cable as it is typed."""
    return f"{cable} flex" if cable.conductor == 5 else str(cable)

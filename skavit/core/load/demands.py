"""What a load takes, and what of it the transformer and the contact carry.

The 80 % rule (a transformer is loaded to four fifths of its rating at most) is common practice, no source.
"""

from dataclasses import dataclass

from skavit.core.load.cable import volts
from skavit.core.plan.contact import Contact
from skavit.core.plan.load import Load

USUAL_SHARE = 0.8
# Capacitors of LED drivers and cold filaments draw so many times their current for a moment: common practice, no source.
INRUSH = {"resistive": 10.0, "inductive": 8.0, "led": 60.0}


@dataclass(frozen=True, slots=True, kw_only=True)
class Demand:
    """What a load takes. None: not known."""

    va: float | None  # at the transformer's low side, or the load itself
    watts: float | None
    amperes: float | None  # through the contact
    share: float | None  # of the transformer's rating
    carries_a: float | None  # what the contact carries of such a load
    inrush_a: float | None  # for a moment, as it is switched on


def demand(load: Load, contact: Contact | None) -> Demand:
    """What a load takes; raises :class:`UserError` for lamps that the cable cannot carry."""
    va = volts(load.run).va if load.run is not None else load.watts
    watts = load.watts if load.watts is not None else va
    amperes = None if va is None else va / load.volts
    return Demand(
        va=va,
        watts=watts,
        amperes=amperes,
        share=None if va is None or load.rating_va is None else va / load.rating_va,
        carries_a=None if contact is None else contact.carries_a(load.character),
        inrush_a=None if amperes is None else amperes * INRUSH[load.character],
    )


def kwh(load: Load, hours: float) -> float | None:
    """What it takes in so many hours; None where its watts are not known."""
    watts = demand(load, None).watts
    return None if watts is None else watts * hours / 1000

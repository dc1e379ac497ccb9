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
    amperes: float | None  # through the contact
    share: float | None  # of the transformer's rating
    carries_a: float | None  # what the contact carries of such a load
    inrush_a: float | None  # for a moment, as it is switched on


def power(load: Load) -> float | None:
    """The watts of a load, or volt-amperes of lamps on a transformer: from its lamps, its heater, or as typed; None: not known.

    Raises :class:`UserError` for lamps that the cable cannot carry.
    """
    if load.run is not None:
        return volts(load.run).va
    return load.watts if load.store is None else load.store.heater_w


def demand(load: Load, contact: Contact | None) -> Demand:
    """What a load takes; raises :class:`UserError` for lamps that the cable cannot carry."""
    va = power(load)
    amperes = None if va is None else va / load.volts
    return Demand(
        va=va,
        amperes=amperes,
        share=None if va is None or load.rating_va is None else va / load.rating_va,
        carries_a=None if contact is None else contact.carries_a(load.character),
        inrush_a=None if amperes is None else amperes * INRUSH[load.character],
    )

"""How a unit's slots hold entries, and which OFF ends which ON."""

from skavit.core.memory.banks import Bucket, banks_of, buckets, holds_all, holds_pair, holds_single, place
from skavit.core.memory.naming import slot_names, slots_in_pairs
from skavit.core.memory.pairing import ends_next_day, mostly_ends, next_off, usual_end

__all__ = [
    "Bucket",
    "banks_of",
    "buckets",
    "ends_next_day",
    "holds_all",
    "holds_pair",
    "holds_single",
    "mostly_ends",
    "next_off",
    "place",
    "slot_names",
    "slots_in_pairs",
    "usual_end",
]

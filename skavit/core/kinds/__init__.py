"""Kinds of unit: what a device can hold, how it behaves, which keys set it. General, not products."""

from skavit.core.kinds.kind import Kind, parse_kind, read_kind
from skavit.core.kinds.library import shipped_kinds

__all__ = ["Kind", "parse_kind", "read_kind", "shipped_kinds"]

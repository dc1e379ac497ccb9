"""From looks to the cause: single faults put into a unit, replayed, and held against what somebody saw."""

"""The outputs of a kind: how its contacts are called, and what they carry."""

from dataclasses import dataclass

from skavit.core.ground.records import Record, flag, member, number, text

MAX_A = 1_000
MAX_VOLTS = 1_000
# What a contact carries of a load beside its rating for resistive loads, where the kind does not say: common practice, no
# source. Coils and capacitors arc; the inrush of LED drivers welds.
USUAL_SHARE = {"resistive": 1.0, "inductive": 0.4, "led": 0.15}


@dataclass(frozen=True, slots=True, kw_only=True)
class Contact(Record):
    """A contact of an output. Amperes are at ``volts``; what is left out is reckoned from the resistive rating."""

    dry: bool = member(flag(), default=True)  # free of voltage; else the unit's own supply feeds it
    changes_over: bool = member(flag(), default=False)  # it has a closed contact too
    common: str = member(text("a terminal", 20), default="C")
    opens: str = member(text("a terminal", 20), default="NO")  # closed while the relay is on
    closes: str = member(text("a terminal", 20), default="NC")  # closed while it is off
    volts: float = member(number(1, MAX_VOLTS), default=250.0)
    resistive_a: float = member(number(0.01, MAX_A), default=16.0)
    inductive_a: float | None = member(number(0.001, MAX_A), default=None)
    led_a: float | None = member(number(0.001, MAX_A), default=None)

    def carries_a(self, sort: str) -> float:
        """Amperes of a load of this sort: resistive, inductive or led."""
        told = {"resistive": self.resistive_a, "inductive": self.inductive_a, "led": self.led_a}[sort]
        return self.resistive_a * USUAL_SHARE[sort] if told is None else told

    def is_told(self, sort: str) -> bool:
        """Whether its maker gives a figure for such loads."""
        return {"resistive": self.resistive_a, "inductive": self.inductive_a, "led": self.led_a}[sort] is not None

"""The contacts of a kind and what its keys do by hand, adjusted to the manual in hand."""

from collections.abc import Iterator
from typing import Any

from django import forms

from skavit.core.ground.errors import PlanError
from skavit.core.kinds import Kind
from skavit.core.kinds.parts import HAND_ACTS
from skavit.core.kinds.spoken import presses_text, read_presses
from skavit.core.plan.contact import Contact
from skavit.kinds.pages.edit.document import DocumentForm, Group
from skavit.kinds.words import HAND_TEXT

PLAIN = ("dry", "changes_over", "common", "opens", "closes", "volts", "resistive_a", "inductive_a", "led_a")
HAND_FORM = f"what ({', '.join(HAND_TEXT[act] for act in HAND_ACTS)}) | keys | what then happens"


class ContactForm(DocumentForm):
    """Terminals and ratings; boost, advance, hold and holiday."""

    known = forms.BooleanField(required=False, label="The contact is known")
    dry = forms.BooleanField(required=False, label="It is free of voltage")
    changes_over = forms.BooleanField(required=False, label="It changes over: it has a normally closed side")
    common = forms.CharField(label="Common", max_length=20)
    opens = forms.CharField(label="Normally open", max_length=20)
    closes = forms.CharField(label="Normally closed", max_length=20)
    volts = forms.FloatField(label="Rated at, volts", min_value=1, max_value=1000)
    resistive_a = forms.FloatField(label="Heaters and lamps of wire, A", min_value=0.01, max_value=1000)
    inductive_a = forms.FloatField(label="Coils and motors, A", required=False, min_value=0.001, max_value=1000)
    led_a = forms.FloatField(label="LED drivers, A", required=False, min_value=0.001, max_value=1000)
    hands = forms.CharField(
        widget=forms.Textarea(attrs={"rows": 5}), required=False, label="What its keys do by hand, a line each",
        help_text=f"Such as: boost | boost | On for an hour, then the program goes on. Accepted: {HAND_FORM}.",
    )  # fmt: skip

    @staticmethod
    def shown(kind: Kind) -> dict[str, Any]:
        """What the form shows of a kind."""
        contact = kind.contact or Contact()
        lines = (f"{HAND_TEXT[hand.does]} | {presses_text(hand.press)} | {hand.says}" for hand in kind.hand_keys)
        return {name: getattr(contact, name) for name in PLAIN} | {
            "known": kind.contact is not None,
            "hands": "\n".join(lines),
        }

    def document(self, data: dict[str, Any]) -> dict[str, Any]:
        """The kind's document with what was typed."""
        found = self.kind.to_json()
        found.pop("contact", None)
        if data["known"]:
            found["contact"] = {name: data[name] for name in PLAIN if data.get(name) not in (None, "")}
        lines = [line for line in data["hands"].splitlines() if line.strip()]
        found["hand_keys"] = [_hand(line, place) for place, line in enumerate(lines)]
        return found

    def groups(self) -> Iterator[Group]:
        """The fields by what they are about."""
        yield self.group("The contact", "known", "dry", "changes_over", "common", "opens", "closes")
        yield self.group("What it carries", "volts", "resistive_a", "inductive_a", "led_a")
        yield self.group("By hand", "hands")


def _hand(line: str, place: int) -> dict[str, Any]:
    parts = [part.strip() for part in line.split("|")]
    acts = {text: act for act, text in HAND_TEXT.items()}
    if len(parts) != 3 or parts[0].lower() not in acts:
        raise PlanError(f"hand_keys[{place}]", f"{line.strip()!r} cannot be read", HAND_FORM)
    presses = [press.to_json() for press in read_presses(parts[1], f"hand_keys[{place}].press")]
    return {"does": acts[parts[0].lower()], "press": presses, "says": parts[2]}

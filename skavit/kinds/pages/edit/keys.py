"""The keys of a kind and its dialogues, as a form: for each thing the way in, its values, what accepts and what leaves."""

from collections.abc import Iterator
from typing import Any

from django import forms

from skavit.core.ground.errors import PlanError
from skavit.core.kinds import Kind
from skavit.core.kinds.fields import field_text
from skavit.core.kinds.kind import DIALOGUES
from skavit.core.kinds.parts import FIELDS
from skavit.core.kinds.spoken import PRESSES_FORM, presses_text
from skavit.core.text.wording import capital
from skavit.kinds.pages.edit.document import DocumentForm, Group, key_choices, presses_json
from skavit.kinds.words import SECTION_TEXT

MORE_ROWS = 3  # empty rows of values that each dialogue has to spare
NEW_ROWS = 7  # of one that the kind does not have yet
TITLES = {"slot": "A slot", "holidays": "A holiday"}
EACH = [("", "all at once"), ("each", "value by value")]


class KeysForm(DocumentForm):
    """Keys and dialogues of a kind."""

    keys = forms.CharField(
        label="Its keys, as they are marked", widget=forms.Textarea(attrs={"rows": 2}), help_text="With commas between."
    )

    def __init__(self, *args: Any, kind: Kind, version: int, **kwargs: Any) -> None:
        super().__init__(*args, kind=kind, version=version, **kwargs)
        keys = key_choices(kind)
        fields = [("", "–"), *((name, field_text(name)) for name in FIELDS)]
        self.rows: dict[str, int] = {}
        for name in DIALOGUES:
            own = getattr(kind, f"{name}_dialogue")
            self.rows[name] = len(own.fields) + MORE_ROWS if own else NEW_ROWS
            self.fields[f"{name}_enter"] = forms.CharField(label="Into it", required=False, max_length=200)
            self.fields[f"{name}_each"] = forms.ChoiceField(label="It accepts", required=False, choices=EACH)
            self.fields[f"{name}_accept"] = forms.ChoiceField(label="Key that accepts", required=False, choices=keys)
            self.fields[f"{name}_leave"] = forms.ChoiceField(
                label="Key that leaves", required=False, choices=keys, help_text="None: accepting the last leaves."
            )
            self.fields[f"{name}_sign"] = forms.CharField(label="Seen to be saved by", required=False, max_length=80)
            for n in range(1, self.rows[name] + 1):
                self.fields[f"{name}_{n}_field"] = forms.ChoiceField(label=f"Value {n}", required=False, choices=fields)
                self.fields[f"{name}_{n}_key"] = forms.ChoiceField(label="turned by", required=False, choices=keys)

    @staticmethod
    def shown(kind: Kind) -> dict[str, Any]:
        """What the form shows of a kind."""
        found: dict[str, Any] = {"keys": ", ".join(kind.keys)}
        for name, dialogue in kind.dialogues():
            found |= {
                f"{name}_enter": presses_text(dialogue.enter),
                f"{name}_each": "each" if dialogue.each else "",
                f"{name}_accept": dialogue.accept,
                f"{name}_leave": dialogue.leave,
                f"{name}_sign": dialogue.sign,
            }
            for n, turned in enumerate(dialogue.fields, start=1):
                found |= {f"{name}_{n}_field": turned.field, f"{name}_{n}_key": turned.key}
        return found

    def groups(self) -> Iterator[Group]:
        """The keys, then each dialogue."""
        yield self.group("Keys", "keys", help_text="A new key can be chosen below once it is saved.")
        for name in DIALOGUES:
            title = TITLES.get(name, capital(SECTION_TEXT.get(name, name)))
            plain = [f"{name}_{part}" for part in ("enter", "each", "accept", "leave", "sign")]
            values = [f"{name}_{n}_{part}" for n in range(1, self.rows[name] + 1) for part in ("field", "key")]
            brief = self[f"{name}_enter"].value() or "it has none"
            yield self.group(
                title, *plain, help_text=f"{capital(PRESSES_FORM)}. Empty: it has none.", table=values, brief=brief
            )

    def document(self, data: dict[str, Any]) -> dict[str, Any]:
        """The kind's document with what was typed."""
        found = self.kind.to_json()
        found["keys"] = [key.strip() for key in data["keys"].replace("\n", ",").split(",") if key.strip()]
        for name in DIALOGUES:
            dialogue = self._dialogue(data, name)
            found.pop(f"{name}_dialogue", None)
            if dialogue:
                found[f"{name}_dialogue"] = dialogue
        return found

    def _dialogue(self, data: dict[str, Any], name: str) -> dict[str, Any] | None:
        own = getattr(self.kind, f"{name}_dialogue")
        enter = presses_json(data[f"{name}_enter"], own.enter if own else (), f"{name}, into it")
        if not enter:
            return None
        rows = [(data[f"{name}_{n}_field"], data[f"{name}_{n}_key"]) for n in range(1, self.rows[name] + 1)]
        fields = [{"field": field, "key": key} for field, key in rows if field]
        for row in fields:
            if not row["key"]:
                raise PlanError(f"{name}, {field_text(row['field'])}", "has no key", "the key that turns it")
        if not data[f"{name}_accept"]:
            raise PlanError(f"{name}, key that accepts", "is missing", "one of its keys")
        found = {
            "enter": enter,
            "fields": fields,
            "accept": data[f"{name}_accept"],
            "each": data[f"{name}_each"] == "each",
            "leave": data[f"{name}_leave"],
            "sign": data[f"{name}_sign"],
        }
        return {key: value for key, value in found.items() if value != ""}

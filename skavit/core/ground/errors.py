"""Errors that a user can meet: what was given cannot be accepted. What a user should know of a valid plan is a finding."""

QUOTE_LENGTH = 60


class UserError(ValueError):
    """What was asked for cannot be done; its text tells the person who asked what is wrong and what is accepted."""

    field: str | None = None  # of a form, at which the text belongs; None: at its head


class PlanError(UserError):
    """One value of a plan file is wrong: where it is, what is wrong with it, and what is accepted."""

    def __init__(self, path: str, wrong: str, accepted: str) -> None:
        self.path, self.wrong, self.accepted = path, wrong, accepted
        super().__init__(f"{path or 'the file'}: {wrong}; accepted: {accepted}")

    def __reduce__(self) -> tuple[type["PlanError"], tuple[str, str, str]]:
        """How it goes from one process to another."""
        return type(self), (self.path, self.wrong, self.accepted)


class RangeError(UserError):
    """A range of dates is reversed, too long or outside the years that the sun tables are good for."""


def quoted(value: object) -> str:
    """The value as it may stand in a message: on one line, cut to 60 characters."""
    text = repr(value) if isinstance(value, str) else str(value)
    text = " ".join(text.split())
    return text if len(text) <= QUOTE_LENGTH else text[: QUOTE_LENGTH - 3] + "..."

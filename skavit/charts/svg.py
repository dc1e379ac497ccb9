"""SVG written from Python: elements as text, escaped, with numbers cut to a tenth of a pixel."""

from html import escape


def num(value: float) -> str:
    """A coordinate with at most one decimal."""
    text = f"{value:.1f}"
    return text.removesuffix(".0")


def element(name: str, content: str | None = None, **attributes: object) -> str:
    """One element; ``class_`` is class, ``_`` in other names is ``-``. ``content`` is markup and not escaped."""
    parts = [name]
    for key, value in attributes.items():
        if value is None:
            continue
        shown = num(value) if isinstance(value, float) else escape(str(value), quote=True)
        parts.append(f'{key.rstrip("_").replace("_", "-")}="{shown}"')
    opened = " ".join(parts)
    return f"<{opened}/>" if content is None else f"<{opened}>{content}</{name}>"


def text(content: str, x: float, y: float, class_: str, anchor: str | None = None) -> str:
    """A text element."""
    return element("text", escape(content), x=x, y=y, class_=class_, text_anchor=anchor)

"""The guide's table of findings, made from the rules' own descriptions."""

from skavit.core.findings import described


def guide_table() -> str:
    """The table in Markdown, a row a kind of finding."""
    rows = [f"| {rule.slug} | {rule.description} |" for rule in described()]
    return "\n".join(["| finding | what it means |", "|---|---|", *rows])


if __name__ == "__main__":
    print(guide_table())

"""Many alike, named in a sentence."""

NAMED = 3  # of many alike


def some(labels: list[str]) -> str:
    """The first of them, and how many more there are."""
    return ", ".join(labels[:NAMED]) + (f" and {len(labels) - NAMED} more" if len(labels) > NAMED else "")

"""Names for columns: present, and unlike each other."""

from collections.abc import Sequence


def column_names(given: Sequence[str]) -> tuple[list[str], tuple[str, ...]]:
    """Names for columns, with a remark on each that was changed."""
    names: list[str] = []
    remarks: list[str] = []
    taken: set[str] = set()
    for position, text in enumerate(given, start=1):
        name = " ".join(text.split()) or f"column_{position}"
        if not text.strip():
            remarks.append(f"Column {position} has no name; it is called {name}.")
        base, copy = name, 2
        while name in taken:
            name, copy = f"{base}_{copy}", copy + 1
        if name != base:
            remarks.append(
                f"“{base}” names more than one column; column {position} is called {name}."
            )
        names.append(name)
        taken.add(name)
    return names, tuple(remarks)

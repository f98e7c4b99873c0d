"""How much of a file is read: one set of limits for every format, each said in words.

Whatever is larger is refused before it is built in memory. Data beyond these want a place of their own.
"""

from hobrix.core.errors import FormatError

MOST_ROWS = 20_000_000
MOST_COLUMNS = 5_000
MOST_CELLS = 250_000_000
# Cells of workbooks are objects while they are read, a hundred times as large.
MOST_WORKBOOK_CELLS = 12_000_000
LONGEST_CELL = 32_767


def refuse_extent(rows: int, columns: int, what: str, most_cells: int = MOST_CELLS) -> None:
    """Raise FormatError for a table that is too large to be read."""
    if columns > MOST_COLUMNS:
        raise FormatError(
            f"{what} has {columns:,} columns; up to {MOST_COLUMNS:,} are read. Take out those that "
            "are not needed."
        )
    if rows > MOST_ROWS:
        raise FormatError(f"{what} has {rows:,} rows; up to {MOST_ROWS:,} are read.")
    if rows * columns > most_cells:
        raise FormatError(
            f"{what} has {rows:,} rows and {columns:,} columns, {rows * columns:,} cells; up to "
            f"{most_cells:,} are read."
        )


def refuse_long(length: int, what: str) -> None:
    """Raise FormatError for a cell that holds more than any answer does."""
    if length > LONGEST_CELL:
        raise FormatError(
            f"{what} holds a cell of {length:,} characters; up to {LONGEST_CELL:,} are read."
        )

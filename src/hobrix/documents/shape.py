"""How much room the columns of a table need, and which way text runs."""

import unicodedata

from hobrix.core.questions.printed import Table, text_of

# So many characters of the table's type stand side by side on an upright page.
_UPRIGHT = 108
# Words may wrap beyond this, numbers do not.
_LONGEST_WORDS = 26
_WIDEST = 60


def widths(table: Table) -> list[int]:
    """What each column needs, in characters: its longest number, or words that may wrap."""
    rows = [row for row in table.rows if not row.spans]
    found = []
    for at, column in enumerate(table.columns):
        texts = [text_of(row.cells[at]) for row in rows]
        longest = max(map(len, texts), default=0)
        words = max((len(word) for word in column.heading.split()), default=0)
        # A heading may stand in two or three lines.
        heading = max(words, len(column.heading) // 3)
        if not column.is_number:
            single = max((len(word) for text in texts for word in text.split()), default=0)
            longest = max(min(longest, _LONGEST_WORDS), min(single, _WIDEST))
        found.append(max(4, heading, min(longest, _WIDEST)) + 3)
    return found


def is_wide(table: Table) -> bool:
    """Whether it needs a page on its side."""
    return sum(widths(table)) > _UPRIGHT


def is_right_to_left(text: str) -> bool:
    """By the first letter that has a direction."""
    directions = (unicodedata.bidirectional(letter) for letter in text)
    return next((each for each in directions if each in ("L", "R", "AL")), "L") != "L"

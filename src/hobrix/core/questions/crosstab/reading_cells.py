"""The cells of a cross-tabulation in words, and those that stand out."""

from hobrix.core.data import Variable
from hobrix.core.questions.crosstab.results import CrosstabTable
from hobrix.core.questions.wording import count, number, percent

MARKED = 0.05


def cells(whole: CrosstabTable, explanatory: Variable) -> tuple[tuple[str, ...], ...]:
    """A sentence for every cell."""
    return tuple(
        tuple(_cell(whole, explanatory, i, j) for j in range(len(whole.columns)))
        for i in range(len(whole.rows))
    )


def _cell(whole: CrosstabTable, explanatory: Variable, i: int, j: int) -> str:
    row, column = whole.rows[i].label, whole.columns[j].label
    text = (
        f"{explanatory.title}: {row}. {count(whole.counts[i][j])} of {count(whole.row_totals[i])} "
        f"answered {column} ({percent(whole.share_within_row[i][j])}); "
        f"{whole.expected_counts[i][j]:,.1f} expected if unrelated"
    )
    if whole.adjusted_residuals_p_adjusted[i][j] < MARKED:
        return text + (": clearly more." if whole.residuals[i][j] > 0 else ": clearly fewer.")
    return text + ": no clear difference."


def ranked(whole: CrosstabTable) -> tuple[str, ...]:
    """The cells that stand out, the clearest first: "River: 46 more Ill than expected"."""
    marked = [
        (abs(whole.adjusted_residuals[i][j]), i, j)
        for i, row in enumerate(whole.adjusted_residuals_p_adjusted)
        for j, p in enumerate(row)
        if p < MARKED
    ]
    if len(whole.columns) == 2:
        # The two cells of a row mirror each other: the event, or the first answer, says it.
        event = whole.event_by_group.event if whole.event_by_group else (whole.columns[0].value,)
        marked = [cell for cell in marked if whole.columns[cell[2]].value in event] or marked
    said = []
    for _, i, j in sorted(marked, reverse=True):
        gap = whole.residuals[i][j]
        more = "more" if gap > 0 else "fewer"
        said.append(
            f"{whole.rows[i].label}: {number(abs(gap))} {more} “{whole.columns[j].label}” than expected"
        )
    return tuple(said)

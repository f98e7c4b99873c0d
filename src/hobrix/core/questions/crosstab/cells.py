"""The cells of a cross-tabulation in words, and those that stand out."""

from hobrix.core.data import Variable
from hobrix.core.questions.crosstab.results import CrosstabTable
from hobrix.core.questions.wording import count, interval, number, percent


def cells(whole: CrosstabTable, explanatory: Variable) -> tuple[tuple[str, ...], ...]:
    """A sentence for every cell."""
    return tuple(
        tuple(_cell(whole, explanatory, i, j) for j in range(len(whole.columns)))
        for i in range(len(whole.rows))
    )


def _cell(whole: CrosstabTable, explanatory: Variable, i: int, j: int) -> str:
    row, column = whole.rows[i].label, whole.columns[j].label
    n, of = count(whole.counts[i][j]), count(whole.row_totals[i])
    share = percent(whole.share_within_row[i][j])
    if whole.weighted is not None:
        limits = interval(whole.weighted.row_proportions[i][j].ci_logit, percent)
        text = f"Weighted, {share} ({limits}) answered {column}, {n} of {of} sampled"
    else:
        text = f"{n} of {of} answered {column} ({share})"
    text = f"{explanatory.title}: {row}. {text}; "
    if whole.expected is not None:
        text += f"{whole.expected.expected_counts[i][j]:,.1f} expected if unrelated"
    else:
        text += f"{percent(whole.column_margin[j])} of all"
    mark = whole.marks[i][j]
    return f"{text}: {f'clearly {mark.split()[-1]}' if mark else 'no clear difference'}."


def ranked(whole: CrosstabTable) -> tuple[str, ...]:
    """The cells that stand out, the clearest first: "River: 46 more Ill than expected"."""
    marked = [
        (abs(whole.adjusted_residuals[i][j]), i, j)
        for i, row in enumerate(whole.marks)
        for j, mark in enumerate(row)
        if mark
    ]
    if len(whole.columns) == 2:
        # The two cells of a row mirror each other: the event, or the first answer, says it.
        first = whole.order[0]
        marked = [cell for cell in marked if cell[2] == first] or marked
    return tuple(_told(whole, i, j) for _, i, j in sorted(marked, reverse=True))


def _told(whole: CrosstabTable, i: int, j: int) -> str:
    row, column = whole.rows[i].label, f"“{whole.columns[j].label}”"
    more = whole.marks[i][j].split()[-1]
    if whole.expected is not None:
        gap = number(abs(whole.expected.residuals[i][j]))
        return f"{row}: {gap} {more} {column} than expected"
    share, of_all = whole.share_within_row[i][j], whole.column_margin[j]
    return f"{row}: {percent(share)} {column} against {percent(of_all)} of all, clearly {more}"

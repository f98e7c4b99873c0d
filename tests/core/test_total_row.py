"""A row of totals is pointed out, and no other row is taken for one."""

import pytest

from hobrix.core.data.totals import total_row
from hobrix.core.formats import read_delimited


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("source,n\nriver,10\npiped,20\nwell,5\nTotal,35\n", "row 4, looks like a total of those above (“Total”)"),
        ("source,ill,well\nriver,4,6\npiped,5,15\n,9,21\n", "row 3, looks like a total"),
        ("source,n\nriver,10\npiped,20\nSum:,30\n", "(“Sum:”)"),
        ("town,kind\nVale,a\nPort,b\nall,\n", "(“all”)"),
    ],
)  # fmt: skip
def test_a_row_of_totals(text: str, said: str) -> None:
    table = read_delimited(text.encode())[0]
    assert said in str(total_row(table.columns, table.rows))


@pytest.mark.parametrize(
    "text",
    [
        "source,n\nriver,10\npiped,20\nwell,5\n",
        # Called so, but its number is another.
        "answer,n\nsome,10\nnone,20\nall,5\n",
        # An answer that several rows give is no name of the last.
        "id,heard\na,all\nb,none\nc,all\n",
        # One sum by itself may be chance.
        "id,n\na,1\nb,2\nc,3\n",
        "id,n\na,1\nTotal,1\n",
    ],
)
def test_other_last_rows(text: str) -> None:
    table = read_delimited(text.encode())[0]
    assert total_row(table.columns, table.rows) is None

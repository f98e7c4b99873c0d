"""Tables of counts that people type or paste: they become data sets with a counts column."""

import csv
import io
from typing import Any

from django.core.files.base import ContentFile
from django.db import transaction

from hobrix.core.data import Category, Variable
from hobrix.core.errors import FormatError
from hobrix.core.formats import Codebook, Noun
from hobrix.web.studies.importing import keep, understand
from hobrix.web.studies.models import DataSet, Study

# More than anybody counts, and few enough that sums are exact.
MOST_COUNTED = 10**12


def typed_table(
    study: Study,
    user: Any,
    name: str,
    row_title: str,
    column_title: str | None,
    rows: list[str],
    columns: list[str],
    counts: list[list[float]],
) -> DataSet:
    """A table of counts with labels (one column: the counts of one variable) as a data set.

    Raises:
        FormatError: labels missing or repeated, or counts that are not whole and 0 or more.
    """
    _check(rows, columns if column_title else [], counts)
    file = io.StringIO()
    writer = csv.writer(file, lineterminator="\n")
    writer.writerow(["row", "column", "n"] if column_title else ["row", "n"])
    for label, cells in zip(rows, counts, strict=True):
        for other, n in zip(columns, cells, strict=False):
            writer.writerow([label, other, f"{n:.0f}"] if column_title else [label, f"{n:.0f}"])
    variables = [_categorical("row", row_title, rows)]
    if column_title:
        variables.append(_categorical("column", column_title, columns))
    variables.append(Variable(name="n", label="Count", kind="numeric"))
    written = ContentFile(file.getvalue().encode(), name="typed.csv")
    codebook = Codebook(noun=Noun(one="answer", many="answers"), variables=tuple(variables))
    understood = understand(written, described_by=codebook)
    counted_by = {"kind": "counts", "variable": "n"}
    with transaction.atomic():
        return keep(
            study, user, written, understood, name=name, counted_by=counted_by, is_draft=False
        )


def _categorical(name: str, label: str, values: list[str]) -> Variable:
    categories = tuple(Category(value=value, label=value) for value in values)
    return Variable(name=name, label=label, kind="nominal", categories=categories)


def _check(rows: list[str], columns: list[str], counts: list[list[float]]) -> None:
    for what, labels in (("row", rows), ("column", columns)):
        if any(not label.strip() for label in labels):
            raise FormatError(f"Every {what} needs a label.")
        repeated = next((label for label in labels if labels.count(label) > 1), None)
        if repeated is not None:
            raise FormatError(f"Two {what}s are called “{repeated}”.")
    if len(counts) != len(rows):
        raise FormatError(f"There are {len(rows)} labels of rows, and counts of {len(counts)}.")
    for label, cells in zip(rows, counts, strict=True):
        if columns and len(cells) != len(columns):
            raise FormatError(
                f"Row “{label}” has {len(cells)} counts, and there are {len(columns)} columns."
            )
        for n in cells:
            if not 0 <= n <= MOST_COUNTED or n != int(n):
                raise FormatError(
                    f"{n:g} in row “{label}” is not a count: whole, from 0 to {MOST_COUNTED:,}."
                )
    if not any(n > 0 for cells in counts for n in cells):
        raise FormatError("All counts are 0.")

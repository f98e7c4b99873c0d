"""Hobrix without the browser: read a file, ask a question, show the answer, take its table.

import hobrix

data = hobrix.read("survey.csv", codebook="survey.codebook.json")
answer = data.ask("ill", vary_with="source", event="yes")
answer                      # in a notebook: lead, table and checks
answer.table()              # a polars frame; answer.table().to_pandas() where pandas is there
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from html import escape
from pathlib import Path
from typing import Any

import polars as pl

from hobrix import figures
from hobrix.core.data import Frame
from hobrix.core.formats import Codebook, frame_of, read_any_codebook, read_path
from hobrix.core.questions import Answer, Question, answer
from hobrix.core.questions.lenses import BY_NAME, lens_that_gives
from hobrix.core.questions.number_style import NumberStyle, written_in
from hobrix.core.questions.options import USUAL
from hobrix.core.report.answers import Printed, print_answer
from hobrix.documents.html import html_picture, html_table
from hobrix.documents.page import table_in_words


@dataclass(frozen=True)
class Data:
    """A data set that was read, with its codebook."""

    frame: Frame

    def ask(
        self,
        outcome: str,
        vary_with: str | Sequence[str] = (),
        *,
        event: str | Sequence[str] = (),
        allowing_for: str | Sequence[str] = (),
        within: str | Sequence[str] = (),
        lens: str | None = None,
        **more: Any,
    ) -> "Asked":
        """The answer to a question; variables by name, answers by their value in the file. ``more`` is
        whatever else a question holds, as in docs/question-and-answer.md. Without ``lens`` one variable is
        shown by itself, two in a table.

        Raises:
            pydantic.ValidationError: what is asked is no question.
            QuestionError: it cannot be answered, and why.
        """
        usual = USUAL if _several(vary_with) else lens_that_gives("shares of answers").name
        fields = {
            "lens": lens or usual,
            "outcome": {"variable": outcome, "event": _several(event)},
            "vary_with": [{"variable": name} for name in _several(vary_with)],
            "allowing_for": [{"variable": name} for name in _several(allowing_for)],
            "within": _several(within),
            **more,
        }
        question = Question.model_validate(fields)
        return Asked(answer(question, self.frame), self.frame)


@dataclass(frozen=True)
class Asked:
    """An answer, shown as its lead, its numbers and its checks."""

    answer: Answer
    frame: Frame

    @property
    def lead(self) -> str:
        """The result in a sentence or two, without marks of emphasis."""
        return self.answer.reading.lead.replace("**", "")

    @property
    def write_up(self) -> str:
        """The sentence for the paper."""
        return self.answer.write_up

    def table(self) -> pl.DataFrame:
        """The numbers of the answer: what each is, its value, its limits, n and events where they are
        known, and p."""
        lens = BY_NAME[self.answer.lens]
        rows = [
            {
                "what": each.label,
                "measure": each.measure or each.unit,
                "estimate": each.estimate,
                "low": each.ci[0] if each.ci else None,
                "high": each.ci[1] if each.ci else None,
                "n": each.n,
                "events": each.events,
                "p": each.p if each.p is not None or each.unit != "p" else each.estimate,
            }
            for each in lens.quantities(self.answer.results)
        ]
        numbers = ("estimate", "low", "high", "n", "events", "p")
        schema = {"what": pl.String, "measure": pl.String, **dict.fromkeys(numbers, pl.Float64)}
        return pl.DataFrame(rows, schema=schema)

    def tables(self) -> dict[str, pl.DataFrame]:
        """The tables of the answer as papers print them, by their titles, every cell as it is read."""
        found = {}
        for table in self._printed.tables:
            heads, *rows = table_in_words(table)
            # Two columns may be headed alike.
            names = [
                head if heads.index(head) == i else f"{head} ({i})" for i, head in enumerate(heads)
            ]
            found[table.title] = pl.DataFrame(
                rows, schema=dict.fromkeys(names, pl.String), orient="row"
            )
        return found

    @cached_property
    def _printed(self) -> Printed:
        with written_in(NumberStyle()):
            return print_answer(self.answer.question, self.frame)

    def __repr__(self) -> str:
        return self.lead

    def _repr_html_(self) -> str:
        """For notebooks: lead, table, picture, what to take care of. Everything from the data is escaped."""
        first = next((table for table in self._printed.tables if table.rows), None)
        shown = "" if first is None else html_table(first)
        drawn = next(iter(figures.of(self.answer).items()), None)
        if drawn is not None:
            name, spec = drawn
            shown += html_picture(spec, self.lead, "", name.replace("_", " "), NumberStyle())
        cares = [check.text for check in self.answer.checks if check.status != "ok"]
        mind = "".join(f"<li>{escape(text)}</li>" for text in cares)
        return (
            f"<p>{_emphasised(self.answer.reading.lead)}</p>"
            f"{shown}"
            f"{f'<ul>{mind}</ul>' if mind else ''}"
        )


def read(path: str | Path, codebook: str | Path | None = None) -> Data:
    """Read a file as the application does: CSV, TSV, XLSX, ODS, Parquet or a Data Package; with a
    codebook as JSON, DDI or a data dictionary in a table.

    Raises:
        FormatError: the file or the codebook cannot be read.
    """
    found = read_path(Path(path))
    known = found.codebook or Codebook()
    if codebook is not None:
        file = Path(codebook)
        known = read_any_codebook(file.name, file.read_bytes()).describing(found.table)
    return Data(frame_of(found.table, known))


def _several(names: str | Sequence[str]) -> list[str]:
    return [names] if isinstance(names, str) else list(names)


def _emphasised(text: str) -> str:
    parts = [escape(part) for part in text.split("**")]
    return "".join(f"<strong>{part}</strong>" if i % 2 else part for i, part in enumerate(parts))

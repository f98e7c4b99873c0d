"""An answer as a report uses it: its tables, the numbers in them, its sentences."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from hobrix.core.data import Frame, Frozen
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Counted
from hobrix.core.questions.asking import Begun, begin, finish
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.lenses import Answer
from hobrix.core.questions.overview.first_table import Numbers, Within, first_table
from hobrix.core.questions.printed import (
    Column,
    Number,
    Part,
    Row,
    Table,
    cases,
    plain_row,
    reported,
)
from hobrix.core.questions.question import Question
from hobrix.core.questions.wording import count
from hobrix.core.report.characteristics import characteristics_table


@dataclass(frozen=True)
class Source:
    """A question of a report: its title, its data set by name, the data sets its rows come from, and
    what was done to the data in words."""

    title: str
    question: Question
    frame: Frame
    data_set: str
    data_sets: frozenset[str]
    preparation: tuple[str, ...] = ()

    def asking(self, question: Question) -> "Source":
        """Another question about the same data."""
        return replace(self, question=question)


class Printed(Frozen):
    """An answer for print. ``flow`` is who was counted."""

    answer: Answer
    tables: tuple[Table, ...]
    flow: Table

    def table(self, name: str) -> Table | None:
        """The one of that name, without a name the first; those of the flow are kept apart."""
        return next((table for table in self.tables if name in ("", table.name)), None)

    def number(self, key: str) -> Number | None:
        return next((n for n in self.numbers() if n.key == key), None)

    def numbers(self) -> Iterator[Number]:
        """All that a sentence can hold; a test that stands in several tables once."""
        seen: set[str] = set()
        for table in (*self.tables, self.flow):
            for number in table.numbers:
                if number.key not in seen:
                    seen.add(number.key)
                    yield number


def print_answer(question: Question, frame: Frame, begun: Begun | None = None) -> Printed:
    """The answer with what its lens opens for print; ``begun`` where it was counted before.

    Raises:
        QuestionError: the question has no answer.
    """
    begun = begun or begin(question, frame)
    lens = begun.lens
    there = {panel.name for panel in begun.panels()}
    given = finish(begun, [name for name in lens.prints if name in there])
    sample: tuple[str, ...] = ()
    if given.sample is not None:
        drawn, df = given.sample.drawn, count(given.sample.design_df)
        sample = (f"Weighted, with {given.sample.errors} for {drawn} ({df} df).",)
    tables = [
        table.model_copy(update={"notes": (*table.notes, *sample)})
        for table in lens.tables(given, frame)
    ]
    return Printed(answer=given, tables=(*tables, _tests(given, tables)), flow=_flow(given.counted))


def print_characteristics(
    question: Question, frame: Frame, within: Within, numbers: Numbers, *, tests: bool
) -> Table:
    """The first table of a paper: what the outcome varies with and is allowed for, by the outcome.

    Raises:
        QuestionError: there is nothing to list.
    """
    listed = (*question.vary_with, *question.allowing_for)
    names = dict.fromkeys(term.variable for term in listed if term.together_with is None)
    terms = tuple(next(term for term in listed if term.variable == name) for name in names)
    asked = question.changed(vary_with=terms, allowing_for=())
    found = first_table(asked, frame, within=within, numbers=numbers, tests=tests)
    if not found.lines:
        raise QuestionError("There is nothing to list.", slot="vary_with")
    return characteristics_table(found)


def _flow(counted: Counted) -> Table:
    """Surveyed, in the subset, set aside and why, counted."""
    many = counted.noun_many
    rows = [plain_row([f"Surveyed, {many}", cases("flow/surveyed", "Surveyed", counted.surveyed)])]
    if counted.subset is not None:
        inside = cases("flow/in_subset", "In the part asked about", counted.in_subset)
        rows.append(plain_row([f"Among them: {counted.subset}", inside]))
    for each in counted.set_aside:
        key = f"flow/aside/{each.reason}"
        rows.append(
            plain_row(
                [f"Set aside: {each.reason}", cases(key, f"Set aside: {each.reason}", each.n)],
                indented=True,
            )
        )
    part: Part = cases("flow/counted", "Counted", counted.counted)
    rows.append(plain_row([f"Counted ({counted.answered})", part]))
    notes = (f"How rows count: {counted.counting}.",)
    return Table(
        name="flow",
        title=f"Who was counted, {many}",
        columns=(Column(heading="", is_number=False), Column(heading="n")),
        rows=tuple(rows),
        notes=notes,
    )


def _tests(given: Answer, tables: list[Table]) -> Table:
    """What else was tested on the sheet, each under its name."""
    rows: list[Row] = []
    said = {number.text for table in tables for number in table.numbers}
    for test in dict.fromkeys(tests_in(given.results)):
        number = reported(f"tests/{test.name}/{len(rows)}", test.name, test)
        if number.text not in said:
            rows.append(plain_row([test.name, number]))
    columns = (Column(heading="Test", is_number=False), Column(heading="Result"))
    return Table(name="tests", title="What was tested", columns=columns, rows=tuple(rows))


def tests_in(part: object) -> Iterator[NamedTest]:
    """All tests in a result, however deep."""
    if isinstance(part, NamedTest):
        yield part
    elif isinstance(part, Frozen):
        for name in type(part).model_fields:
            yield from tests_in(getattr(part, name))
    elif isinstance(part, tuple):
        for each in part:
            yield from tests_in(each)

"""A report with every number, table and picture in its place: what the screen shows and what is written."""

import hashlib
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field

from pydantic import Field

from hobrix import figures
from hobrix.core.data import Frozen
from hobrix.core.errors import QuestionError
from hobrix.core.questions.comparing import compare
from hobrix.core.questions.lenses import lens_that_gives
from hobrix.core.questions.number_style import NumberStyle, written_in
from hobrix.core.questions.other_people import Asked
from hobrix.core.questions.printed import Table, text_of
from hobrix.core.report import document as d
from hobrix.core.report.answers import Printed, Source, print_characteristics
from hobrix.core.report.parts import codebook_table, comparison_table, preparation_table


class Run(Frozen):
    """A piece of a line. ``number`` names the live number it is, ``trouble`` why there is none,
    ``refers_to`` the label of the table or picture it names."""

    text: str
    bold: bool = False
    italic: bool = False
    number: str | None = None
    trouble: str = ""
    refers_to: str = ""
    breaks: bool = False


Runs = tuple[Run, ...]


class PagePart(Frozen):
    """What a block became; of several tables each is one. ``label`` is "Table 1" where it has one, ``reads`` how a
    picture is to be read,
    ``trouble`` why nothing can stand there."""

    block: str
    kind: str
    level: int = 0
    is_numbered: bool = False
    lines: tuple[Runs, ...] = ()
    label: str = ""
    caption: str = ""
    table: Table | None = None
    picture: figures.Spec | None = None
    description: str = ""
    reads: str = ""
    trouble: str = ""

    @property
    def caption_in_full(self) -> str:
        """With how to read it."""
        return f"{self.caption.rstrip('.')}. {self.reads}" if self.reads else self.caption


class Page(Frozen):
    """A report as it stands now. ``shows`` is what each block shows, by live number (or "" for a table
    or picture): when it differs from what somebody last looked at, it has moved."""

    title: str
    style: NumberStyle
    parts: tuple[PagePart, ...]
    shows: dict[str, dict[str, str]] = Field(default_factory=dict)


class Gone(Exception):
    """A question that is not there any more; says so."""


@dataclass(frozen=True)
class Answers:
    """Where a report finds its questions: ``source`` raises Gone, ``printed`` also QuestionError."""

    source: Callable[[str], Source]
    printed: Callable[[Source], Printed]


def page_of(
    report: d.Report, answers: Answers, tell: Callable[[float], None] | None = None
) -> Page:
    """The report with what its answers are now; ``tell`` hears how much is done, from 0 to 1."""
    with written_in(report.style):
        return _Making(report, answers, tell or (lambda _done: None)).page()


@dataclass
class _Making:
    report: d.Report
    answers: Answers
    tell: Callable[[float], None]
    labels: dict[str, str] = field(default_factory=dict)
    shows: dict[str, dict[str, str]] = field(default_factory=dict)

    def page(self) -> Page:
        made: dict[str, list[PagePart]] = {}
        blocks = self.report.blocks
        for at, placed in enumerate(blocks):
            self.tell(at / len(blocks))
            if not d.lines_of(placed.block):
                made[placed.id] = self._labelled(placed, self._made(placed))
        parts: list[PagePart] = []
        for placed in blocks:
            parts += made.get(placed.id) or [self._text(placed)]
        return Page(
            title=self.report.title, style=self.report.style, parts=tuple(parts), shows=self.shows
        )

    def _labelled(self, placed: d.PlacedBlock, parts: Sequence[PagePart]) -> list[PagePart]:
        """Tables and pictures number themselves."""
        found = []
        for part in parts:
            if part.table is None and part.picture is None:
                found.append(part)
                continue
            word = "Table" if part.table is not None else "Figure"
            number = 1 + sum(label.startswith(word) for label in self.labels.values())
            label = f"{word} {number}"
            self.labels[placed.id if placed.id not in self.labels else f"{placed.id}/{label}"] = (
                label
            )
            found.append(part.model_copy(update={"label": label}))
        shown = "".join(part.model_dump_json(exclude={"label", "caption"}) for part in found)
        self.shows[placed.id] = {"": hashlib.sha256(shown.encode()).hexdigest()[:16]}
        return found

    def _made(self, placed: d.PlacedBlock) -> list[PagePart]:
        block = placed.block
        try:
            return list(self._parts(placed.id, block))
        except (QuestionError, Gone) as error:
            return [PagePart(block=placed.id, kind=block.type, trouble=str(error))]

    def _parts(self, at: str, block: d.Block) -> Iterator[PagePart]:
        if isinstance(block, d.Lead):
            given = self.answers.printed(self.answers.source(block.question)).answer
            text = given.write_up if block.in_print else given.reading.lead
            yield PagePart(block=at, kind="paragraph", lines=(_emphasised(text),))
        elif isinstance(block, d.PictureOf):
            yield self._picture(at, block)
        else:
            captioned = block.caption  # type: ignore[union-attr]
            for i, (table, about) in enumerate(self._tables(block)):
                caption = captioned if captioned and i == 0 else f"{table.title}{about}"
                yield PagePart(block=at, kind="table", table=table, caption=caption)

    def _tables(self, block: d.Block) -> Iterator[tuple[Table, str]]:
        """With what the caption says of who is asked about."""
        if isinstance(block, d.CodebookOf):
            yield codebook_table(self._sources()), ""
        elif isinstance(block, d.Preparation):
            yield preparation_table(self._sources()), ""
        elif isinstance(block, d.Comparison):
            asked = [self._asked(question) for question in block.questions]
            yield comparison_table(compare(asked)), ""
        elif isinstance(block, d.TableOf | d.Flow | d.Characteristics | d.Frequencies):
            source = self.answers.source(block.question)
            for table in self._of_question(block, source):
                yield table, self._about(source)

    def _of_question(
        self, block: d.TableOf | d.Flow | d.Characteristics | d.Frequencies, source: Source
    ) -> list[Table]:
        if isinstance(block, d.Characteristics):
            asked, frame = source.question, source.frame
            return [
                print_characteristics(asked, frame, block.within, block.numbers, tests=block.tests)
            ]
        if isinstance(block, d.Frequencies):
            lens = lens_that_gives("shares of answers").name
            alone = source.question.changed(lens=lens, within=())
            found = self.answers.printed(source.asking(alone)).tables
            return [table for table in found if table.name != "tests"]
        printed = self.answers.printed(source)
        if isinstance(block, d.Flow):
            return [printed.flow]
        found_table = printed.table(block.table)
        if found_table is None:
            raise Gone(f"“{source.title}” has no such table any more.")
        return [found_table]

    def _picture(self, at: str, block: d.PictureOf) -> PagePart:
        source = self.answers.source(block.question)
        given = self.answers.printed(source).answer
        drawn = figures.of(given)
        name = block.picture or next(iter(drawn), "")
        if name not in drawn:
            raise Gone(
                f"“{source.title}” has no such picture{' any more' if block.picture else ''}."
            )
        return PagePart(
            block=at,
            kind="picture",
            picture=drawn[name],
            caption=block.caption or f"{source.title.rstrip('?.')}{self._about(source)}",
            reads=(drawn[name].get("usermeta") or {}).get("reads", ""),
            description=given.reading.lead.replace("**", ""),
        )

    def _about(self, source: Source) -> str:
        """Who is asked about, and in which data where there are several."""
        among, frame = source.question.among, source.frame
        said = f", among {among.words(frame)}" if among is not None else ""
        if len({each.data_set for each in self._sources()}) > 1:
            said += f" ({source.data_set})"
        return said

    def _sources(self) -> list[Source]:
        """Of all questions of the report that are there."""
        found = []
        for question in d.questions_of(self.report.blocks):
            try:
                found.append(self.answers.source(question))
            except Gone:
                continue
        return found

    def _asked(self, question: str) -> Asked:
        source = self.answers.source(question)
        return Asked(
            question=source.question,
            frame=source.frame,
            title=source.title,
            data_set=source.data_set,
            data_sets=source.data_sets,
        )

    def _text(self, placed: d.PlacedBlock) -> PagePart:
        block = placed.block
        self.shows[placed.id] = {}
        lines = tuple(self._line(placed.id, line) for line in d.lines_of(block))
        return PagePart(
            block=placed.id,
            kind=block.type,
            level=block.level if isinstance(block, d.Heading) else 0,
            is_numbered=isinstance(block, d.Listing) and block.is_numbered,
            lines=lines,
        )

    def _line(self, at: str, line: d.Line) -> Runs:
        return tuple(self._run(at, part) for part in line)

    def _run(self, at: str, part: d.Inline) -> Run:
        if isinstance(part, d.Text):
            return Run(text=part.text, bold=part.bold, italic=part.italic)
        if isinstance(part, d.LineBreak):
            return Run(text="", breaks=True)
        if isinstance(part, d.Reference):
            label = self.labels.get(part.block)
            if label is None:
                return Run(
                    text="[gone]", trouble="What this referred to is not in the report any more."
                )
            return Run(text=label, refers_to=label)
        name = name_of(part)
        try:
            text, trouble = self._number(part), ""
        except (QuestionError, Gone) as error:
            text, trouble = "[no number]", str(error)
        self.shows[at][name] = text
        return Run(text=text, number=name, trouble=trouble)

    def _number(self, part: d.NumberOf) -> str:
        source = self.answers.source(part.question)
        number = self.answers.printed(source).number(part.key)
        if number is None:
            raise Gone(f"The answer to “{source.title}” has no such number any more.")
        return number.text


def name_of(part: d.NumberOf) -> str:
    """A live number by one name."""
    return f"{part.question}/{part.key}"


def _emphasised(text: str) -> Runs:
    """** on both sides marks emphasis."""
    pieces = text.split("**")
    return tuple(Run(text=piece, bold=i % 2 == 1) for i, piece in enumerate(pieces) if piece)


def table_in_words(table: Table) -> list[list[str]]:
    """Heads and rows as they are read."""
    return [[column.heading for column in table.columns]] + [
        [text_of(cell) for cell in row.cells] for row in table.rows
    ]

"""What a person writes: a report is a list of blocks. Its JSON is public and versioned.

A block holds text of its own or names what stands in its place; numbers in text name the question and
the key of the number (``questions.printed``) and nothing else.
"""

import re
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from hobrix.core.data import Frozen
from hobrix.core.questions.number_style import NumberStyle
from hobrix.core.questions.overview.first_table import Numbers, Within
from hobrix.core.questions.question import Question

# What no document can hold: control characters but tab and line break.
_CONTROL = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ufffe\uffff]")


def _without_control(text: str) -> str:
    return _CONTROL.sub("", text)


CleanText = Annotated[str, AfterValidator(_without_control)]
Id = Annotated[str, Field(min_length=1, max_length=64)]
Caption = Annotated[CleanText, Field(max_length=1000)]


class Text(Frozen):
    type: Literal["text"] = "text"
    text: Annotated[CleanText, Field(max_length=20_000)]
    bold: bool = False
    italic: bool = False


class NumberOf(Frozen):
    """A live number: one of the answer to a question."""

    type: Literal["number"] = "number"
    question: Id
    key: Annotated[CleanText, Field(min_length=1, max_length=2000)]


class Reference(Frozen):
    """ "Table 1", of a block that numbers itself."""

    type: Literal["reference"] = "reference"
    block: Id


class LineBreak(Frozen):
    type: Literal["break"] = "break"


Inline = Annotated[Text | NumberOf | Reference | LineBreak, Field(discriminator="type")]
Line = Annotated[tuple[Inline, ...], Field(max_length=2000)]


class Heading(Frozen):
    type: Literal["heading"] = "heading"
    level: Literal[1, 2, 3] = 1
    content: Line = ()


class Paragraph(Frozen):
    """``made`` tells what wrote it first, so that it can be written anew."""

    type: Literal["paragraph"] = "paragraph"
    content: Line = ()
    made: Literal["", "methods"] = ""


class Listing(Frozen):
    type: Literal["list"] = "list"
    is_numbered: bool = False
    items: Annotated[tuple[Line, ...], Field(max_length=500)]


class Lead(Frozen):
    """The result in a sentence or two, or as a paper prints it."""

    type: Literal["lead"] = "lead"
    question: Id
    in_print: bool = False


class TableOf(Frozen):
    """A table of an answer; without a name its first one."""

    type: Literal["table"] = "table"
    question: Id
    table: Annotated[CleanText, Field(max_length=500)] = ""
    caption: Caption = ""


class PictureOf(Frozen):
    """A picture of an answer; without a name its first one."""

    type: Literal["picture"] = "picture"
    question: Id
    picture: Annotated[CleanText, Field(max_length=200)] = ""
    caption: Caption = ""


class Frequencies(Frozen):
    """How often each answer was given, of every variable of a question."""

    type: Literal["frequencies"] = "frequencies"
    question: Id
    caption: Caption = ""


class Characteristics(Frozen):
    """The variables of a question across its outcome: the first table of a paper."""

    type: Literal["characteristics"] = "characteristics"
    question: Id
    within: Within = "outcome"
    numbers: Numbers = "mean"
    tests: bool = False
    caption: Caption = ""


class Flow(Frozen):
    """Who was surveyed, set aside and counted."""

    type: Literal["flow"] = "flow"
    question: Id
    caption: Caption = ""


class Comparison(Frozen):
    """Two to eight answers side by side."""

    type: Literal["comparison"] = "comparison"
    questions: Annotated[tuple[Id, ...], Field(min_length=2, max_length=8)]
    caption: Caption = ""


class CodebookOf(Frozen):
    """The variables that the report uses."""

    type: Literal["codebook"] = "codebook"
    caption: Caption = ""


class Preparation(Frozen):
    """What was done to the data before they were asked."""

    type: Literal["preparation"] = "preparation"
    caption: Caption = ""


Block = Annotated[
    Heading
    | Paragraph
    | Listing
    | Lead
    | TableOf
    | PictureOf
    | Frequencies
    | Characteristics
    | Flow
    | Comparison
    | CodebookOf
    | Preparation,
    Field(discriminator="type"),
]


class PlacedBlock(Frozen):
    id: Id
    block: Block


class AskedQuestion(Frozen):
    """A question of the report; ``data`` names the data set it is about."""

    title: str = ""
    data: str
    question: Question


class Report(Frozen):
    """A report that stands by itself: what is written, and the questions it rests on by their ids."""

    version: Literal[1] = 1
    title: Annotated[CleanText, Field(max_length=300)] = ""
    style: NumberStyle = NumberStyle()
    blocks: tuple[PlacedBlock, ...] = ()
    questions: dict[str, AskedQuestion] = {}


def lines_of(block: Block) -> tuple[Line, ...]:
    """The text of a block, line by line."""
    if isinstance(block, Heading | Paragraph):
        return (block.content,)
    return block.items if isinstance(block, Listing) else ()


def numbers_of(block: Block) -> Iterator[NumberOf]:
    """The live numbers of a block in their order."""
    for line in lines_of(block):
        yield from (part for part in line if isinstance(part, NumberOf))


def questions_of(blocks: tuple[PlacedBlock, ...]) -> list[str]:
    """Which questions a report rests on, in order of first use."""
    found: dict[str, None] = {}
    for placed in blocks:
        block = placed.block
        found |= dict.fromkeys(number.question for number in numbers_of(block))
        if isinstance(block, Comparison):
            found |= dict.fromkeys(block.questions)
        elif not isinstance(block, Heading | Paragraph | Listing | CodebookOf | Preparation):
            found[block.question] = None
    return list(found)


def words_of(line: Line) -> str:
    """A line without its numbers."""
    return "".join(part.text if isinstance(part, Text) else " " for part in line)

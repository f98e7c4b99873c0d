"""What readers look for in a report of an observational study: the items of the STROBE statement (von Elm
et al. 2007, Epidemiology 18:800), in words of our own, each with what shows that it is there."""

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from hobrix.core.data import Frozen
from hobrix.core.report import document as d

# What can be put in where an item is missing.
Offer = Literal[
    "", "methods", "flow", "characteristics", "frequencies", "table", "preparation", "codebook"
]


class Item(Frozen):
    """``number`` is that of the statement; ``block`` is where it was found, None where it was not."""

    number: str
    words: str
    block: str | None
    offer: Offer


@dataclass(frozen=True)
class _Sought:
    """Found by a block of these types, or by words in a heading or a paragraph."""

    number: str
    words: str
    types: tuple[str, ...] = ()
    said: str = ""
    offer: Offer = ""


_ITEMS = (
    _Sought(
        "1",
        "Title names the study’s design",
        said=r"\b(survey|cohort|case.control|cross.sectional|trial)\b",
    ),
    _Sought(
        "2", "Background and reason", said=r"background|introduction|little is known|rationale"
    ),
    _Sought("3", "Objectives", said=r"\b(aim|objective|hypothes)"),
    _Sought(
        "4",
        "Design of the study",
        said=r"cross-sectional|cohort|case–control|case-control|survey design",
    ),
    _Sought("5", "Setting: places and dates", said=r"\b(19|20)\d\d\b|setting"),
    _Sought(
        "6", "Who could take part, and how they were chosen", said=r"eligib|sampled|recruit|drawn"
    ),
    _Sought(
        "7",
        "Outcome, exposures and confounders defined",
        ("codebook",),
        r"was defined as",
        "codebook",
    ),
    _Sought(
        "8",
        "Where the data come from, how they were measured",
        said=r"questionnaire|interview|measured|holds",
    ),
    _Sought("9", "What was done about bias", said=r"\bbias"),
    _Sought("10", "How the size of the study was arrived at", said=r"sample size|power"),
    _Sought(
        "11", "How numbers were grouped", ("preparation",), r"grouped|bands|cut at", "preparation"
    ),
    _Sought(
        "12",
        "Statistical methods, missing answers, design",
        said=r"missing codes|logistic regression|interval",
        offer="methods",
    ),
    _Sought("13", "Numbers at each stage of who was counted", ("flow",), "", "flow"),
    _Sought("14", "Characteristics of those counted", ("characteristics",), "", "characteristics"),
    _Sought("15", "How often the outcome was seen", ("frequencies", "table"), "", "frequencies"),
    _Sought(
        "16",
        "Unadjusted and adjusted estimates with intervals",
        ("table", "comparison"),
        "",
        "table",
    ),
    _Sought(
        "17",
        "Other analyses: subgroups, sensitivity",
        ("comparison",),
        r"subgroup|sensitivity|stratif",
    ),
    _Sought("18", "Key results in sum", ("lead",), r"in sum|key result|we found"),
    _Sought("19", "Limitations", said=r"limitation|cannot be ruled out"),
    _Sought("20", "A careful interpretation", said=r"interpret|suggest|consistent with"),
    _Sought("21", "To whom it applies", said=r"generali[sz]|applies to|external validity"),
    _Sought("22", "Who paid", said=r"fund(ed|ing)"),
)


def checklist(report: d.Report) -> list[Item]:
    """Every item with the first block that shows it. Words are a hint only: nobody has read them."""
    texts = [("", report.title), *_texts(report)]
    return [_item(sought, report.blocks, texts) for sought in _ITEMS]


def _texts(report: d.Report) -> Iterator[tuple[str, str]]:
    """Blocks and their words."""
    for placed in report.blocks:
        lines = d.lines_of(placed.block)
        if lines:
            yield placed.id, " ".join(map(d.words_of, lines))


def _item(
    sought: _Sought, blocks: Sequence[d.PlacedBlock], texts: Sequence[tuple[str, str]]
) -> Item:
    found = next((placed.id for placed in blocks if placed.block.type in sought.types), None)
    if found is None and sought.said:
        pattern = re.compile(sought.said, re.IGNORECASE)
        found = next((name for name, text in texts if pattern.search(text)), None)
    offer: Offer = "" if found is not None else sought.offer
    return Item(number=sought.number, words=sought.words, block=found, offer=offer)

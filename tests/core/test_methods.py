"""The methods paragraph and the reviewers' list: from what was really asked, and from nothing else."""

from pathlib import Path
from typing import Any

import pytest

import hobrix
from hobrix.core.data import Frame
from hobrix.core.questions import Question
from hobrix.core.report.answers import Source, print_answer
from hobrix.core.report.checklist import checklist
from hobrix.core.report.document import Report
from hobrix.core.report.methods import methods_paragraphs

DEMO = Path(__file__).parents[2] / "src/hobrix/web/demo"
DESIGN: dict[str, Any] = {
    "kind": "design",
    "weights": "weight",
    "strata": "district",
    "clusters": "village",
}
SOURCE = [{"variable": "source"}]
AGE = [{"variable": "age"}]


@pytest.fixture(scope="module")
def frame() -> Frame:
    return hobrix.read(DEMO / "ostra-round-1.csv", DEMO / "ostra-round-1.codebook.json").frame


def said(frame: Frame, *asked: dict[str, Any], preparation: tuple[str, ...] = ()) -> str:
    pairs = []
    for each in asked:
        question = Question.model_validate({"outcome": {"variable": "ill"}, **each})
        source = Source("t", question, frame, "Round one", frozenset({"1"}), preparation)
        pairs.append((source, print_answer(question, frame)))
    return " ".join(methods_paragraphs(pairs, "0.1"))


# What was asked, what must be said of it, and what must not.
SITUATIONS: list[tuple[str, list[dict[str, Any]], list[str], list[str]]] = [
    (
        "a table",
        [{"lens": "crosstab", "vary_with": SOURCE}],
        ["score interval (Wilson 1927)", "chi-square test (Pearson 1900)", "Woolf", "95% level"],
        ["survey design", "logistic", "profile", "Rao", "Nothing was tested", "prepared in"],
    ),
    (
        "a weighted share",
        [{"lens": "distribution", "counted_by": DESIGN}],
        ["60 clusters in 5 strata", "55 degrees of freedom", "weights Household weight", "logit"],
        ["Wilson", "every row once", "logistic", "chi-square"],
    ),
    (
        "weighted and not",
        [{"lens": "distribution"}, {"lens": "distribution", "counted_by": DESIGN}],
        ["1 analysis counts every row once", "Wilson", "Under the design"],
        ["analyses count every"],
    ),
    (
        "a model",
        [{"lens": "odds", "vary_with": SOURCE, "allowing_for": AGE}],
        [
            "maximum likelihood",
            "Wald intervals",
            "unadjusted ones",
            "likelihood-ratio",
            "as a whole",
        ],
        ["Firth", "profile-likelihood", "design", "score interval"],
    ),
    (
        "Firth and profile limits at 90%",
        [
            {
                "lens": "odds",
                "vary_with": AGE,
                "confidence": 0.9,
                "options": {"odds": {"method": "firth", "limits": "profile"}},
            }
        ],
        ["Firth’s penalised likelihood", "profile-likelihood intervals", "90% level"],
        ["by maximum likelihood", "95%", "Adjusted odds ratios"],
    ),
    (
        "one of several groups",
        [{"lens": "proportions", "vary_with": SOURCE}],
        ["picked among several (up to 4)", "Bonferroni"],
        [],
    ),
    (
        "two groups",
        [{"lens": "proportions", "vary_with": [{"variable": "flooded"}]}],
        ["Newcombe"],
        ["picked among several"],
    ),
]


@pytest.mark.parametrize(
    ("asked", "must", "must_not"), [each[1:] for each in SITUATIONS], ids=[s[0] for s in SITUATIONS]
)
def test_methods_are_those_that_were_used(
    frame: Frame, asked: list[dict[str, Any]], must: list[str], must_not: list[str]
) -> None:
    text = said(frame, *asked)
    for words in must:
        assert words in text, text
    for words in must_not:
        assert words not in text, text
    assert "Missing codes were not counted as answers" in text
    assert "with Hobrix 0.1" in text


def test_preparation_and_those_set_aside_are_counted(frame: Frame) -> None:
    text = said(frame, {"lens": "crosstab", "vary_with": SOURCE}, preparation=("One.", "Two."))
    assert "prepared in 2 steps" in text
    # 66 of 2,412 gave no answer to one or the other.
    assert f"at most {100 * 66 / 2412:.1f}%" in text


def test_nothing_asked_nothing_said() -> None:
    assert methods_paragraphs([], "0.1") == []


def report(*blocks: dict[str, Any], title: str = "") -> Report:
    placed = [{"id": f"b{i}", "block": block} for i, block in enumerate(blocks)]
    return Report.model_validate({"title": title, "blocks": placed})


def found(value: Report) -> dict[str, str | None]:
    return {item.number: item.block for item in checklist(value)}


def test_the_list_has_every_item_of_the_statement_and_finds_nothing_in_nothing() -> None:
    items = checklist(report())
    assert [item.number for item in items] == [str(i + 1) for i in range(22)]
    assert all(item.block is None for item in items)
    offers = {item.number: item.offer for item in items if item.offer}
    assert offers["12"] == "methods"
    assert offers["13"] == "flow"
    assert offers["14"] == "characteristics"


def test_blocks_and_words_are_found_and_no_longer_offered() -> None:
    words = {"type": "paragraph", "content": [{"type": "text", "text": "A limitation is recall."}]}
    value = report(
        {"type": "flow", "question": "q"},
        words,
        {"type": "characteristics", "question": "q"},
        title="A cross-sectional survey of illness",
    )
    where = found(value)
    assert (where["1"], where["13"], where["19"], where["14"]) == ("", "b0", "b1", "b2")
    assert where["22"] is None
    assert next(i for i in checklist(value) if i.number == "13").offer == ""

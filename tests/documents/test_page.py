"""A report with its numbers in their places: what stands there, what moves, what is said to be missing."""

from dataclasses import replace

import polars as pl
import pytest

from documents.conftest import DEMO, number, report_of, text
from hobrix import read
from hobrix.core.data import Frame
from hobrix.documents import Page
from hobrix.documents.alone import ReportError, page_alone, read_frames


def part(page: Page, block: str) -> str:
    found = [each for each in page.parts if each.block == block]
    return "".join(run.text for each in found for line in each.lines for run in line)


def test_tables_and_pictures_number_themselves_and_can_be_referred_to(page: Page) -> None:
    labels = [each.label for each in page.parts if each.label]
    tables = [label for label in labels if label.startswith("Table")]
    assert tables == [f"Table {i + 1}" for i in range(len(tables))]
    assert [label for label in labels if label.startswith("Figure")] == ["Figure 1", "Figure 2"]
    assert "see Table 1" in part(page, "b1")


def test_a_number_shows_as_its_answer_has_it(page: Page, frame: Frame) -> None:
    table = pl.read_csv(DEMO / "ostra-round-1.csv", infer_schema=False)
    river = table.filter((pl.col("source") == "4") & pl.col("ill").is_in(["0", "1"]))
    share = 100 * river.filter(pl.col("ill") == "1").height / river.height
    assert f"households, {share:.1f}% (95% CI" in part(page, "b1")


def test_what_is_gone_is_said_never_kept(page: Page) -> None:
    (gone,) = [each for each in page.parts if each.block == "b17"]
    assert gone.trouble == "The question is not in the report’s file."
    (missing,) = [each for each in page.parts if each.block == "b18"]
    run = missing.lines[0][0]
    assert run.text == "[no number]"
    assert "has no such number any more" in run.trouble


def test_a_reference_to_nothing_says_so(frame: Frame) -> None:
    report = report_of({"type": "paragraph", "content": [{"type": "reference", "block": "b9"}]})
    run = page_alone(report, {"survey": frame}).parts[0].lines[0][0]
    assert (run.text, bool(run.trouble)) == ("[gone]", True)


def test_what_a_block_shows_changes_only_with_the_data(frame: Frame) -> None:
    report = report_of(
        {"type": "paragraph", "content": [text("n "), number("source", "flow/counted")]},
        {"type": "table", "question": "source"},
        {"type": "heading", "content": [text("Nothing to follow")]},
    )
    before = page_alone(report, {"survey": frame}).shows
    assert page_alone(report, {"survey": frame}).shows == before
    assert before["b2"] == {}
    fewer = read(DEMO / "ostra-round-2.csv", DEMO / "ostra-round-2.codebook.json").frame
    other = {**report.model_dump(), "questions": {}}
    assert other["questions"] == {}
    asked = report.questions["source"].question.model_copy(
        update={
            "outcome": report.questions["source"].question.outcome.model_copy(
                update={"variable": "q09_stomach", "event": ("Y",)}
            )
        }
    )
    name = next(n for n, v in fewer.variables.items() if v.is_categorical and n != "q09_stomach")
    asked = asked.changed(vary_with=(asked.vary_with[0].model_copy(update={"variable": name}),))
    questions = {"source": report.questions["source"].model_copy(update={"question": asked})}
    changed = report.model_copy(update={"questions": questions})
    after = page_alone(changed, {"survey": fewer}).shows
    assert after["b0"] != before["b0"]
    assert after["b1"] != before["b1"]


def test_captions_say_among_whom_and_in_which_data(frame: Frame) -> None:
    from documents.conftest import QUESTIONS

    among = {"all": [{"variable": "flooded", "is": ["1"]}]}
    question = {**QUESTIONS["source"]["question"], "among": among}
    questions = {
        "source": {**QUESTIONS["source"], "question": question},
        "other": {**QUESTIONS["source"], "data": "again"},
    }
    report = report_of(
        {"type": "table", "question": "source"},
        {"type": "table", "question": "other"},
        questions=questions,
    )
    page = page_alone(report, {"survey": frame, "again": replace(frame)})
    first, second = [each.caption for each in page.parts]
    assert first.endswith("among Home flooded in spring: Yes (survey)")
    assert second.endswith("(again)")


def test_data_sets_are_found_by_their_names(frame: Frame) -> None:
    report = report_of({"type": "table", "question": "source"})
    assert page_alone(report, {"whatever": frame}).parts[0].table is not None
    with pytest.raises(ReportError, match="is about “survey”"):
        page_alone(report, {"one": frame, "two": frame})
    data, book = DEMO / "ostra-round-1.csv", DEMO / "ostra-round-1.codebook.json"
    frames = read_frames([f"survey={data}"], [str(book)])
    assert frames["survey"].variables["ill"].event == ("1",)
    with pytest.raises(ReportError, match="no data set “x”"):
        read_frames([f"survey={data}", str(data)], [f"x={book}"])
    with pytest.raises(ReportError, match="no such file"):
        read_frames(["nowhere.csv"], [])

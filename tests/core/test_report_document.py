"""The report's document: what it takes in, what it refuses, what it tells of itself."""

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from hobrix.core.report import document as d

BLOCK = st.builds(
    d.Paragraph,
    content=st.lists(
        st.one_of(
            st.builds(d.Text, text=st.text(st.characters(exclude_categories=["Cs"]), max_size=20)),
            st.builds(
                d.NumberOf,
                question=st.sampled_from(["q", "r"]),
                key=st.sampled_from(["event/a/share", "flow/counted"]),
            ),
            st.builds(d.Reference, block=st.just("b0")),
            st.just(d.LineBreak()),
        ),
        max_size=6,
    ).map(tuple),
)


@given(st.lists(BLOCK, max_size=5))
def test_what_is_written_is_read_again(blocks: list[d.Paragraph]) -> None:
    placed = tuple(d.PlacedBlock(id=f"b{i}", block=block) for i, block in enumerate(blocks))
    report = d.Report(title="t", blocks=placed)
    assert d.Report.model_validate_json(report.model_dump_json()) == report
    named = [number.question for block in blocks for number in d.numbers_of(block)]
    assert d.questions_of(placed) == list(dict.fromkeys(named))


@pytest.mark.parametrize(
    "block",
    [
        {"type": "script", "content": []},
        {"type": "paragraph", "content": [{"type": "text", "text": "a", "href": "javascript:x"}]},
        {"type": "paragraph", "content": [{"type": "link", "text": "a"}]},
        {"type": "heading", "level": 7, "content": []},
        {"type": "comparison", "questions": ["one"]},
        {"type": "table", "question": ""},
        {"type": "table", "question": "q", "caption": "x" * 1001},
        {"type": "paragraph", "content": [{"type": "text", "text": "x" * 20_001}]},
    ],
)
def test_what_is_no_block_is_refused(block: dict[str, Any]) -> None:
    with pytest.raises(ValidationError):
        d.PlacedBlock.model_validate({"id": "b", "block": block})


def test_what_no_document_can_hold_is_left_out() -> None:
    text = "a\x00b\x0bc\td\ne\x1f\ufffff"
    found = d.Text.model_validate({"text": text})
    assert found.text == "abc\td\nef"
    assert json.loads(found.model_dump_json())["text"] == found.text


def test_a_report_tells_which_questions_it_rests_on_in_their_order() -> None:
    blocks = [
        {"type": "comparison", "questions": ["c", "a"]},
        {"type": "list", "items": [[{"type": "number", "question": "b", "key": "k"}]]},
        {"type": "flow", "question": "a"},
        {"type": "codebook"},
    ]
    placed = [{"id": str(i), "block": block} for i, block in enumerate(blocks)]
    report = d.Report.model_validate({"blocks": placed})
    assert d.questions_of(report.blocks) == ["c", "a", "b"]

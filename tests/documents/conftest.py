"""A report about the demo's survey, without a server."""

from pathlib import Path
from typing import Any

import pytest

import hobrix
from hobrix.core.data import Frame
from hobrix.core.report.document import Report
from hobrix.documents import Page
from hobrix.documents.alone import page_alone

DEMO = Path(__file__).parents[2] / "src/hobrix/web/demo"

QUESTIONS: dict[str, Any] = {
    "source": {
        "title": "Does illness vary with water source?",
        "data": "survey",
        "question": {
            "lens": "crosstab",
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "source"}],
        },
    },
    "model": {
        "title": "Allowing for age",
        "data": "survey",
        "question": {
            "lens": "odds",
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "source"}],
            "allowing_for": [{"variable": "age"}],
        },
    },
    "designed": {
        "title": "With the design",
        "data": "survey",
        "question": {
            "lens": "proportions",
            "outcome": {"variable": "ill"},
            "vary_with": [{"variable": "flooded"}],
            "counted_by": {
                "kind": "design",
                "weights": "weight",
                "strata": "district",
                "clusters": "village",
            },
        },
    },
}


def text(words: str, **marks: bool) -> dict[str, Any]:
    return {"type": "text", "text": words, **marks}


def number(question: str, key: str) -> dict[str, Any]:
    return {"type": "number", "question": question, "key": key}


def report_of(*blocks: dict[str, Any], **more: Any) -> Report:
    placed = [{"id": f"b{i}", "block": block} for i, block in enumerate(blocks)]
    value = {"title": "Illness", "questions": QUESTIONS, "blocks": placed, **more}
    return Report.model_validate(value)


@pytest.fixture(scope="session")
def frame() -> Frame:
    return hobrix.read(DEMO / "ostra-round-1.csv", DEMO / "ostra-round-1.codebook.json").frame


LABEL = "A very long label " * 11 + "that ends here"
ODD = 'a < b & "c" $x$ #let *stars* _under_ `code` \\ 🙂 שלום β₁'


@pytest.fixture(scope="session")
def page(frame: Frame) -> Page:
    """Every kind of block, odd text among them."""
    report = report_of(
        {"type": "heading", "level": 1, "content": [text("Results")]},
        {
            "type": "paragraph",
            "content": [
                text("Of "),
                number("source", "flow/counted"),
                text(" households, "),
                number("source", "event/4/share"),
                text(" (95% CI "),
                number("source", "event/4/share/ci"),
                text(") on river water were ill", bold=True),
                text(": see "),
                {"type": "reference", "block": "b2"},
                {"type": "break"},
                text(ODD, italic=True),
            ],
        },
        {"type": "table", "question": "source"},
        {"type": "picture", "question": "source", "caption": LABEL},
        {"type": "table", "question": "model"},
        {"type": "picture", "question": "model"},
        {"type": "list", "is_numbered": True, "items": [[text("one")], [text("two")]]},
        {"type": "list", "items": [[text("dot")]]},
        {"type": "list", "is_numbered": True, "items": [[text("again one")]]},
        {"type": "paragraph", "content": [text("שלום עולם")]},
        {"type": "flow", "question": "source"},
        {"type": "frequencies", "question": "source"},
        {"type": "characteristics", "question": "model", "tests": True},
        {"type": "comparison", "questions": ["source", "model"]},
        {"type": "codebook"},
        {"type": "preparation"},
        {"type": "lead", "question": "source", "in_print": True},
        {"type": "table", "question": "gone"},
        {"type": "paragraph", "content": [number("source", "event/99/share")]},
    )
    return page_alone(report, {"survey": frame})

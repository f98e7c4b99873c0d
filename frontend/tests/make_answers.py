"""Real answers to questions about the demo data, for components to be mounted on.

Writes ``answers.json`` beside itself: by name what the server sends for a question and for each of
its panels, the lenses offered for it, and the codebook they are about. A name with "weighted" is the
same question asked with the survey's design.
"""

import json
from pathlib import Path
from typing import Any

from hobrix import figures
from hobrix.core.formats import frame_of, read_codebook, read_path
from hobrix.core.questions import Question, begin, finish, offered, panel
from hobrix.web.demo import generate

TABLE: dict[str, Any] = {"outcome": {"variable": "ill"}, "vary_with": [{"variable": "source"}]}
MODEL: dict[str, Any] = {
    **TABLE,
    "lens": "odds",
    "allowing_for": [{"variable": "age", "per": 10}, {"variable": "schooling"}],
}
SEVERAL = [*TABLE["vary_with"], {"variable": "schooling"}, {"variable": "age"}]
QUESTIONS: dict[str, dict[str, Any]] = {
    "crosstab": {**TABLE, "lens": "crosstab"},
    "crosstab strata": {**TABLE, "lens": "crosstab", "within": ["flooded"]},
    "crosstab several": {**TABLE, "lens": "crosstab", "vary_with": SEVERAL},
    "proportions": {**TABLE, "lens": "proportions"},
    "proportions strata": {
        **TABLE,
        "lens": "proportions",
        "vary_with": [{"variable": "soap"}],
        "within": ["flooded"],
    },
    "distribution": {
        "lens": "distribution",
        "outcome": {"variable": "source"},
        "options": {"distribution": {"expected": {"kind": "equal"}}},
    },
    "distribution strata": {
        "lens": "distribution",
        "outcome": {"variable": "source"},
        "within": ["flooded"],
    },
    "number": {"lens": "distribution", "outcome": {"variable": "age"}, "within": ["flooded"]},
    "odds": {**MODEL, "options": {"odds": {"profiles": [{"age": 45, "source": "4"}]}}},
    "odds strata": {**MODEL, "within": ["flooded"]},
}
COUNTED: dict[str, dict[str, Any]] = {
    "": {},
    " weighted": {
        "counted_by": {
            "kind": "design",
            "weights": "weight",
            "strata": "district",
            "clusters": "village",
        }
    },
}


def sent(asked: dict[str, Any], frame: Any) -> dict[str, Any]:
    """Everything the server sends about a question."""
    question = Question.model_validate(asked)
    begun = begin(question, frame)
    answer = finish(begun)
    panels = [panel(begun, head.name) for head in answer.panels if head.finds]
    return {
        "answer": {
            "answer": answer.model_dump(mode="json", by_alias=True),
            "figures": figures.of(answer),
        },
        "panels": {
            given.name: {
                "panel": given.model_dump(mode="json", by_alias=True),
                "figures": figures.of_opened(given.opened),
            }
            for given in panels
        },
        "lenses": [each.model_dump(mode="json") for each in offered(question, frame)],
    }


def main() -> None:
    read = read_path(generate.CSV_FILE)
    frame = frame_of(read.table, read_codebook(generate.CODEBOOK_FILE.read_bytes()))
    found = {
        name + suffix: sent({**asked, **counted}, frame)
        for name, asked in QUESTIONS.items()
        for suffix, counted in COUNTED.items()
    }
    # Its three ways of counting stand side by side.
    asked = {**QUESTIONS["crosstab"], **COUNTED[" weighted"], "options": {"beside": True}}
    found["crosstab beside"] = sent(asked, frame)
    codebook = [each.model_dump(mode="json") for each in frame.variables.values()]
    text = json.dumps({"answers": found, "codebook": codebook}, ensure_ascii=False)
    Path(__file__).with_name("answers.json").write_text(text)


if __name__ == "__main__":
    main()

"""Real answers to questions about the demo data, for components to be mounted on.

Writes ``answers.json`` beside itself: by name what the server sends for a question and for each of
its panels, the lenses offered for it, and the codebook they are about. A name with "weighted" is the
same question asked with the survey's design.
"""

import json
from dataclasses import replace
from pathlib import Path
from typing import Any

from hobrix import figures
from hobrix.core.bringing import Part, alike, carry_out, look, recipes
from hobrix.core.data import Cases, Frame
from hobrix.core.formats import frame_of, read_codebook, read_path
from hobrix.core.questions import Question, begin, finish, offered, panel
from hobrix.core.questions.comparing import compare
from hobrix.core.questions.number_style import written_in
from hobrix.core.questions.other_people import Asked
from hobrix.core.report.answers import print_answer
from hobrix.core.report.checklist import checklist
from hobrix.core.report.document import Report
from hobrix.documents.alone import page_alone
from hobrix.web.demo import generate, later, matched

MADE = Path(generate.__file__).with_name("made.json")
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
    "crosstab twice": {
        "lens": "crosstab",
        "outcome": {"variable": "diarrhoea", "event": ["1"]},
        "vary_with": [{"variable": "vomiting"}],
    },
    "crosstab each time": {
        "lens": "crosstab",
        "outcome": {"variable": "know_1"},
        "vary_with": [{"variable": f"know_{i}"} for i in range(2, 6)],
    },
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
    "ordered": {
        **MODEL,
        "outcome": {"variable": "trust"},
        "options": {"every_answer": {"profiles": [{"age": 45, "source": "4"}, {"age": 20}]}},
    },
    "ordered strata": {**MODEL, "outcome": {"variable": "trust"}, "within": ["flooded"]},
    "several": {
        **MODEL,
        "outcome": {"variable": "source"},
        "vary_with": [{"variable": "flooded"}],
        "allowing_for": [{"variable": "age", "per": 10}],
    },
}
WITHIN: dict[str, Any] = {"lens": "odds", "outcome": {"variable": "status"}, "matched": "set"}
MATCHED: dict[str, dict[str, Any]] = {
    "matched": {**WITHIN, "vary_with": [{"variable": "shellfish"}, {"variable": "swam"}]},
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


NAMES = {
    "Round one": generate.CSV_FILE,
    "Round two": later.ROUND_TWO.with_suffix(".csv"),
    "Visits in the Ostra": later.VISITS.with_suffix(".csv"),
    "Visits in Vell valley": later.VELL.with_suffix(".csv"),
    "Villages": later.VILLAGES.with_suffix(".csv"),
    "Fever": matched.MATCHED.with_suffix(".csv"),
}
CASES = {
    "Visits in the Ostra": Cases(rows="several", case="household", order="visit"),
    "Visits in Vell valley": Cases(rows="several", case="hh", order="round"),
}


def part_of(name: str) -> Part:
    path = NAMES[name]
    codebook = read_codebook(path.with_suffix(".codebook.json").read_bytes())
    frame = frame_of(read_path(path).table, codebook)
    return Part(name, replace(frame, cases=CASES.get(name, frame.cases)))


def brought() -> dict[str, Any]:
    """What the server sends about the data sets that the demo makes of others."""
    found, made = {}, {name: part_of(name) for name in NAMES}
    for each in json.loads(MADE.read_text()):
        # Weights of the demo's data sets are recorded by its loading.
        given = recipes.validate_python(
            {**each["recipe"], "counted": "each"} if "names" in each["recipe"] else each["recipe"]
        )
        parts = [made[name] for name in each["sources"]]
        result = carry_out(given, parts)
        frame = Frame.of(
            [v for v, _ in result.columns], {v.name: s for v, s in result.columns}, result.rows
        )
        made[each["name"]] = Part(each["name"], replace(frame, cases=result.cases))
        found[each["name"]] = {
            "recipe": given.model_dump(mode="json", by_alias=True),
            "look": look(given, parts).model_dump(mode="json", by_alias=True),
            "alike": [each.model_dump(mode="json") for each in alike(parts)]
            if len(parts) > 1
            else [],
            "sources": [
                {
                    "name": part.name,
                    "cases": part.frame.cases.model_dump(mode="json"),
                    "codebook": [v.model_dump(mode="json") for v in part.frame.variables.values()],
                }
                for part in parts
            ],
        }
    return found


DISTRICT = {"all": [{"variable": "district", "is": ["1"]}]}
ANOTHER = {"all": [{"variable": "district", "is": ["3"]}]}
SHARES = {**TABLE, "lens": "proportions"}
COMPARED: dict[str, list[dict[str, Any]]] = {
    "crude and adjusted": [{**MODEL, "allowing_for": []}, MODEL],
    "two districts": [{**SHARES, "among": DISTRICT}, {**SHARES, "among": ANOTHER}],
    "another event": [SHARES, {**SHARES, "outcome": {"variable": "ill", "event": ["0"]}}],
}


def side_by_side(frame: Frame) -> dict[str, Any]:
    """What the server sends about answers that are compared."""
    found = {}
    for name, questions in COMPARED.items():
        items = [
            Asked(
                Question.model_validate(each), frame, f"question {i}", "demo", frozenset({"demo"})
            )
            for i, each in enumerate(questions)
        ]
        found[name] = compare(items).model_dump(mode="json", by_alias=True)
    return found


PAGE: list[dict[str, Any]] = [
    {"type": "heading", "level": 1, "content": [{"type": "text", "text": "Results"}]},
    {
        "type": "paragraph",
        "content": [
            {"type": "text", "text": "Share "},
            {"type": "number", "question": "q", "key": "event/4/share"},
            {"type": "text", "text": ", see ", "bold": True},
            {"type": "reference", "block": "b2"},
            {"type": "number", "question": "q", "key": "event/99/share"},
        ],
    },
    {"type": "table", "question": "q"},
    {"type": "picture", "question": "q"},
    {"type": "list", "is_numbered": True, "items": [[{"type": "text", "text": "one"}]]},
    {"type": "table", "question": "gone"},
]


def reported(frame: Frame) -> dict[str, Any]:
    """What the server sends about a report, and about what an answer can give it."""
    question = Question.model_validate(QUESTIONS["crosstab"])
    blocks = [{"id": f"b{i}", "block": block} for i, block in enumerate(PAGE)]
    asked = {"q": {"title": "By source?", "data": "survey", "question": question}}
    report = Report.model_validate({"title": "Ill", "questions": asked, "blocks": blocks})
    page = page_alone(report, {"survey": frame}).model_dump(mode="json", by_alias=True)
    with written_in(report.style):
        given = print_answer(question, frame)
    return {
        "blocks": [
            {"name": each.id, "block": each.block.model_dump(mode="json")} for each in report.blocks
        ],
        "page": {
            "parts": page["parts"],
            "moved": {"b1": {"q/event/4/share": "27.0%"}, "b2": {"": "another"}},
            "checklist": [each.model_dump(mode="json") for each in checklist(report)],
            "questions": ["q"],
            "stamp": "1",
        },
        "parts": {
            "question": "q",
            "title": "By source?",
            "tables": [each.model_dump(mode="json") for each in given.tables],
            "flow": given.flow.model_dump(mode="json"),
            "pictures": figures.of(given.answer),
            "lead": given.answer.reading.lead,
            "write_up": given.answer.write_up,
        },
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
    fever = part_of("Fever").frame
    found |= {name: sent(asked, fever) for name, asked in MATCHED.items()}
    variables = {**fever.variables, **frame.variables}
    codebook = [each.model_dump(mode="json") for each in variables.values()]
    sent_all = {
        "answers": found,
        "codebook": codebook,
        "brought": brought(),
        "compared": side_by_side(frame),
        "report": reported(frame),
    }
    text = json.dumps(sent_all, ensure_ascii=False)
    Path(__file__).with_name("answers.json").write_text(text)


if __name__ == "__main__":
    main()

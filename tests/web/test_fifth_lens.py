"""A lens is one folder and one line in each registry: a fifth, added to a copy of the program, is
asked through the core and through HTTP, with its own options and its panel, and described."""

import os
import shutil
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]

FOLDER = {
    "options.py": """
from hobrix.core.data import Frozen


class TallyOptions(Frozen):
    by: int = 5
""",
    "lens.py": """
from dataclasses import dataclass
from typing import Any, Literal

from hobrix.core.data import Frozen
from hobrix.core.questions.answer import Reading
from hobrix.core.questions.lens import Found, Lens, Panel, Refusal, Sheet, Work


class TallyResults(Frozen):
    lens: Literal["tally"] = "tally"
    strokes: int
    by: int


class Toes(Frozen):
    left_over: int


class TallyPanels(Frozen):
    lens: Literal["tally"] = "tally"
    toes: Toes | None = None


def refusal(question: Any, frame: Any) -> Refusal | None:
    if question.outcome is None:
        return Refusal("Choose what to tally.", "outcome", is_open=True)
    return None


def sheet(work: Work) -> Sheet:
    n, by = work.frame.rows, work.question.options.tally.by
    results = TallyResults(strokes=n, by=by)
    reading = Reading(lead=f"{n} strokes.", headline=f"{n}", figures=(), notes=())
    counted = work.sampling.rows.strip(n, n, [], "tallied")
    return Sheet(counted, results, [], reading, [], f"We made {n} strokes.")


def toes(work: Work) -> Found:
    return Found(Toes(left_over=work.frame.rows % work.question.options.tally.by))


TALLY = Lens[Work](
    name="tally",
    title="Tally",
    uses=frozenset(),
    gives="shares of answers",
    results=TallyResults,
    opened=TallyPanels,
    refusal=refusal,
    work=Work,
    sheet=sheet,
    panels=(Panel("toes", "What is left over", find=toes),),
    needs=lambda question: (),
    quantities=lambda results: [],
)
""",
}
LINES = {
    "options.py": (
        (
            "from hobrix.core.questions.recast",
            "from hobrix.core.questions.tally.options import TallyOptions\n",
        ),
        ("\n\n# The lens of a question", "\n    tally: TallyOptions = TallyOptions()"),
    ),
    "lenses.py": (
        (
            "from hobrix.core.questions.question",
            "from hobrix.core.questions.tally.lens import TALLY\n",
        ),
        ("    DISTRIBUTION,\n", "    TALLY,\n"),
    ),
}
ITS_TEST = """
from hobrix.core.questions import Question, answer, offered
from hobrix.web.api import api
from hobrix.web.studies.frames import frame_of
from web.conftest import QUESTION

ASKED = {**QUESTION, "lens": "tally", "options": {"tally": {"by": 7}}}


def test_through_the_core(dataset):
    frame = frame_of(dataset)
    given = answer(Question.model_validate(ASKED), frame, panels=None)
    assert given.results.model_dump() == {"lens": "tally", "strokes": 88, "by": 7}
    assert given.opened.toes.left_over == 88 % 7
    titles = [lens.title for lens in offered(Question.model_validate(ASKED), frame)]
    assert "Tally" in titles and len(titles) == 5


def test_through_http(owner, study, dataset):
    def ask(path="answer", question=ASKED):
        body = {"dataset": str(dataset.id), "question": question}
        url = f"/api/studies/{study.id}/{path}"
        return owner.post(url, body, content_type="application/json")

    given = ask().json()["answer"]
    assert given["results"] == {"lens": "tally", "strokes": 88, "by": 7}
    assert [panel["name"] for panel in given["panels"]] == ["toes"]
    assert ask("answer/panels/toes").json()["panel"]["opened"]["toes"] == {"left_over": 4}
    offered = {each["name"]: each["why_not"] for each in ask("answer/lenses").json()}
    assert offered["tally"] is None
    empty = {**ASKED, "outcome": None, "vary_with": []}
    offered = {each["name"]: each["why_not"] for each in ask("answer/lenses", empty).json()}
    assert offered["tally"] == "Choose what to tally."
    wrong = ask(question={**ASKED, "options": {"tally": {"by": "many"}}})
    assert wrong.status_code == 422


def test_in_the_description():
    schemas = api.get_openapi_schema()["components"]["schemas"]
    assert "tally" in schemas["Question"]["properties"]["lens"]["enum"]
    assert {"TallyOptions", "TallyResults", "TallyPanels", "Toes"} <= set(schemas)
"""


def test_a_fifth_lens_needs_no_other_file(tmp_path: Path) -> None:
    package = tmp_path / "src/hobrix"
    shutil.copytree(ROOT / "src/hobrix", package)
    questions = package / "core/questions"
    (questions / "tally").mkdir()
    (questions / "tally/__init__.py").write_text("")
    for name, text in FOLDER.items():
        (questions / "tally" / name).write_text(text)
    for name, lines in LINES.items():
        text = (questions / name).read_text()
        for before, line in lines:
            assert text.count(before) == 1
            text = text.replace(before, line + before)
        (questions / name).write_text(text)

    tests = tmp_path / "web"
    tests.mkdir()
    shutil.copy(ROOT / "tests/web/conftest.py", tests)
    (tests / "test_it.py").write_text(ITS_TEST)
    run = subprocess.run(
        [
            *(sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", str(tests)),
            *("--rootdir", str(tmp_path), "--ds=hobrix.web.config.settings_test"),
        ],
        cwd=tmp_path,
        env={
            **{key: value for key, value in os.environ.items() if key != "PYTEST_XDIST_WORKER"},
            "PYTHONPATH": f"{package.parent}{os.pathsep}{tmp_path}",
        },
        capture_output=True,
        text=True,
        check=False,
    )
    assert run.returncode == 0, run.stdout + run.stderr
    assert "3 passed" in run.stdout

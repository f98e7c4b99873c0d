"""What moved when the data under a data set changed: variables, answers and headlines."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np

from hobrix.core.data import Variable
from hobrix.core.errors import QuestionError
from hobrix.core.questions import Question
from hobrix.web.studies.answers import headline_now
from hobrix.web.studies.frames import Workspace, stored_columns, workspace_of
from hobrix.web.studies.models import DataSet


@dataclass(frozen=True)
class Before:
    """A data set as it was: its variables as first understood, how many answered each variable of
    its codebook, and the headline of each question."""

    rows: int
    variables: dict[str, Variable]
    answered: dict[str, int]
    headlines: dict[Any, str]


def seen_before(dataset: DataSet) -> Before:
    """To be called before anything changes."""
    workspace = workspace_of(dataset)
    return Before(
        rows=dataset.rows,
        variables=stored_columns(dataset).variables,
        answered=_answered(workspace),
        headlines={saved.id: _headline(dataset, saved.question) for saved in _questions(dataset)},
    )


def report_of(
    before: Before,
    after: Workspace,
    failed: Iterable[tuple[str, str]],
    asked_of: DataSet | None = None,
) -> dict[str, Any]:
    """What moved since; ``failed`` are the words of steps that no longer fit, and why. The questions
    are those of this data set, or still of the one it is to replace (``asked_of``)."""
    newer = after.dataset
    return {
        "rows_before": before.rows,
        "rows_after": newer.rows,
        "failed": [*({"words": words, "why": why} for words, why in failed), *_not_made(after)],
        **_variables_changed(before, stored_columns(newer).variables, after),
        "questions": [
            {
                "id": str(saved.id),
                "title": saved.title,
                "before": before.headlines.get(saved.id),
                "after": _headline(newer, saved.question),
            }
            for saved in _questions(asked_of or newer)
        ],
    }


def says_nothing(report: dict[str, Any]) -> bool:
    """Whether nothing moved."""
    moved = any(each["before"] != each["after"] for each in report["questions"])
    lists = ("failed", "vanished", "appeared", "new_answers", "answered")
    is_same = report["rows_before"] == report["rows_after"]
    return is_same and not moved and not any(report[name] for name in lists)


def _not_made(after: Workspace) -> list[dict[str, str]]:
    """Weights whose totals the newer data cannot meet."""
    troubles = {name: after.trouble(name) for name in after.state.made}
    titles = after.state.variables
    return [{"words": titles[name].title, "why": why} for name, why in troubles.items() if why]


def _questions(dataset: DataSet) -> Any:
    return dataset.questions.filter(deleted_at__isnull=True)


def _headline(dataset: DataSet, question: Any) -> str:
    try:
        return headline_now(dataset, Question.model_validate(question)) or "not worked out yet"
    except QuestionError as error:
        return error.message


def _variables_changed(
    before: Before, new: dict[str, Variable], after: Workspace
) -> dict[str, Any]:
    """Variables that came and went, answers that are new, and changed numbers of answers."""
    old = before.variables
    new_answers = []
    for name, variable in new.items():
        if name in old and variable.is_categorical:
            known = {c.value for c in old[name].categories} | {m.value for m in old[name].missing}
            added = [c.value for c in variable.categories if c.value not in known]
            if added:
                title = after.state.variables[name].title
                new_answers.append({"variable": title, "values": added})
    answered = _answered(after)
    return {
        "vanished": [v.title for name, v in old.items() if name not in new],
        "appeared": [v.title for name, v in new.items() if name not in old],
        "new_answers": new_answers,
        "answered": [
            {"variable": after.state.variables[name].title, "before": one, "after": answered[name]}
            for name, one in before.answered.items()
            if name in answered and answered[name] != one
        ],
    }


def _answered(workspace: Workspace) -> dict[str, int]:
    return {
        name: int(np.count_nonzero(~workspace.column(name).is_missing))
        for name in workspace.state.variables
    }

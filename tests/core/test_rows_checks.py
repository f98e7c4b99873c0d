"""Rows that are not independent, and rows of several data sets, are said to be so."""

from typing import Any

import numpy as np
import pandas as pd
import pytest

from core.parts import part
from hobrix.core.bringing import Stack, carry_out, proposed
from hobrix.core.data import Cases, Design, EachRow, Frame
from hobrix.core.questions import Question, answer

LENSES = ["distribution", "crosstab", "proportions", "odds"]


def visits(households: int = 80) -> pd.DataFrame:
    random = np.random.default_rng(2)
    own = random.random(households)
    rows = [
        {
            "household": f"H{i:03}",
            "visit": visit,
            "ill": "yes" if random.random() < 0.2 + 0.5 * own[i] else "no",
            "source": "river" if own[i] > 0.5 else "piped",
            "one": 1.5,
        }
        for i in range(households)
        for visit in (1, 2, 3)
    ]
    return pd.DataFrame(rows)


def ask(frame: Frame, **changes: Any) -> Question:
    fields = {
        "outcome": {"variable": "ill", "event": ["yes"]},
        "vary_with": [{"variable": "source", "reference": "piped"}],
        **changes,
    }
    return Question.model_validate(fields)


@pytest.mark.parametrize("lens", LENSES)
def test_rows_of_one_case_are_not_independent(lens: str) -> None:
    frame = part(visits(), cases=Cases(rows="several", case="household", order="visit")).frame
    given = answer(ask(frame, lens=lens), frame)
    check = next(check for check in given.checks if check.id == "repeated_rows")
    assert "240 rows are of 80 cases (household)" in check.text
    assert [remedy.data for remedy in check.remedies] == [None, "one-per-case"]
    clustered = check.remedies[0].question
    assert clustered is not None
    by_cluster = answer(clustered, frame)
    assert "repeated_rows" not in [check.id for check in by_cluster.checks]
    assert by_cluster.sample is not None
    assert by_cluster.sample.psus == 80


@pytest.mark.parametrize("lens", LENSES)
def test_one_row_per_case_needs_no_word(lens: str) -> None:
    frame = part(visits().query("visit == 1")).frame
    ids = [check.id for check in answer(ask(frame, lens=lens), frame).checks]
    assert not {"repeated_rows", "pooled"} & set(ids)


@pytest.mark.parametrize("lens", LENSES)
def test_a_design_of_clusters_only_is_one_with_weights_that_are_the_same(lens: str) -> None:
    frame = part(visits(), one="numeric").frame
    alone = answer(ask(frame, lens=lens, counted_by=Design(clusters="household")), frame)
    same = answer(
        ask(frame, lens=lens, counted_by=Design(weights="one", clusters="household")), frame
    )
    ours = [figure.value for figure in alone.reading.figures]
    assert ours == [figure.value for figure in same.reading.figures]
    assert ours
    assert "weight" not in alone.counted.counting
    assert "one" not in alone.write_up


def second() -> pd.DataFrame:
    table = visits(50)
    return table.assign(ill=np.where(np.arange(len(table)) % 5 == 0, "yes", "no"))


def pooled() -> Frame:
    tables = visits(), second()
    parts = [part(table, name) for table, name in zip(tables, ("one", "two"), strict=True)]
    common = [proposed(parts, [name, name], name) for name in ("ill", "source")]
    made = carry_out(Stack(names=("one", "two"), variables=tuple(common)), parts)
    frame = Frame.of([v for v, _ in made.columns], {v.name: s for v, s in made.columns}, made.rows)
    return Frame(
        rows=frame.rows,
        variables=frame.variables,
        load=frame.load,
        source=frame.source,
        pooled_by=made.pooled_by,
    )


@pytest.mark.parametrize("lens", LENSES)
def test_data_sets_counted_together_are_said_to_be(lens: str) -> None:
    frame = pooled()
    given = answer(ask(frame, lens=lens), frame)
    check = next(check for check in given.checks if check.id == "pooled")
    share = f"{(visits()['ill'] == 'yes').mean():.1%}"
    assert f"“yes” (ill): {share} in one and 20.0% in two" in check.text
    for remedy in check.remedies:
        assert remedy.question is not None
        after = answer(remedy.question, frame)
        assert "pooled" not in [check.id for check in after.checks]
    assert len(check.remedies) == 2


def test_a_question_among_one_data_set_pools_nothing() -> None:
    frame = pooled()
    among = {"all": [{"variable": "data_set", "is": ["one"]}]}
    given = answer(ask(frame, among=among, counted_by=EachRow()), frame)
    assert "pooled" not in [check.id for check in given.checks]

"""What must not change an answer with a design, and what must change it in a known way."""

from dataclasses import replace
from typing import Any

import polars as pl
import pytest

from core.weighted_people import DESIGN, TABLE, VARY, asked, frame
from hobrix.core.data import Design
from hobrix.core.questions import Answer, Question, answer

EACH_LENS: list[tuple[str, dict[str, Any]]] = [
    ("distribution", {}),
    ("distribution", {"outcome": {"variable": "age"}}),
    ("crosstab", {"vary_with": [{"variable": "schooling"}]}),
    ("proportions", {"vary_with": [{"variable": "schooling"}]}),
    ("odds", {**VARY, "within": ["half"]}),
]


def numbers_of(given: Answer, *also_left_out: str) -> dict[str, float]:
    """Every number of the sheet and of the sample by where it stands, without words and the sum of
    the weights."""
    left_out = {"sum_of_weights", "sum_of_weights_in_subset", "kish_weighting_deff", *also_left_out}
    found: dict[str, float] = {}

    def walk(value: Any, path: str) -> None:
        if isinstance(value, dict):
            for key, part in value.items():
                if key not in left_out:
                    walk(part, f"{path}.{key}")
        elif isinstance(value, list | tuple):
            for i, part in enumerate(value):
                walk(part, f"{path}[{i}]")
        elif isinstance(value, int | float):
            found[path] = float(value)

    walk(given.model_dump(include={"results", "sample"}), "")
    return found


@pytest.mark.parametrize(("lens", "fields"), EACH_LENS)
@pytest.mark.parametrize("errors", ["linearised", "jackknife"])
def test_nothing_depends_on_the_scale_of_the_weights_or_the_order_of_rows(
    lens: str, fields: dict[str, Any], errors: str
) -> None:
    how = {**DESIGN, "errors": errors}
    shuffled = TABLE.with_columns(w=pl.Series([repr(250 * float(w)) for w in TABLE["w"]])).sample(
        fraction=1, shuffle=True, seed=5
    )
    one = numbers_of(asked(lens, **fields, counted_by=how))
    other = numbers_of(asked(lens, shuffled, **fields, counted_by=how))
    assert one.keys() == other.keys()
    assert len(one) > 10
    for path, value in one.items():
        assert other[path] == pytest.approx(value, rel=1e-6, abs=1e-9), path


@pytest.mark.parametrize(("lens", "fields"), EACH_LENS)
def test_names_of_clusters_may_repeat_in_other_strata(lens: str, fields: dict[str, Any]) -> None:
    """Village 7 of district 2 may as well be called village 1: strata tell them apart."""
    renamed = TABLE.with_columns(village=(pl.col("village").cast(pl.Int64) // 5).cast(pl.String))
    one = numbers_of(asked(lens, **fields))
    other = numbers_of(asked(lens, renamed, **fields))
    assert other == pytest.approx(one, rel=1e-9, abs=1e-12)


@pytest.mark.parametrize(("lens", "fields"), EACH_LENS[:4])
def test_those_outside_the_subset_stay_in_the_design(lens: str, fields: dict[str, Any]) -> None:
    """Asking among some gives what an outcome that only they answered gives."""
    outcome = fields.get("outcome", {"variable": "ill"})["variable"]
    among = {"all": [{"variable": "source", "is": ["river", "well"]}]}
    silent = TABLE.with_columns(
        pl.when(pl.col("source") == "piped")
        .then(pl.lit(""))
        .otherwise(pl.col(outcome))
        .alias(outcome)
    )
    # Who gave no answer is another matter.
    silence = (
        "n_all",
        "n_missing",
        "percent_missing_of_all",
        "missing_breakdown",
        "percent_of_all",
    )
    one, other = (
        numbers_of(given, *silence)
        for given in (asked(lens, **fields, among=among), asked(lens, silent, **fields))
    )
    assert other == pytest.approx(one, rel=1e-9, abs=1e-12)
    alone = TABLE.filter(pl.col("source") != "piped")
    deleted = numbers_of(asked(lens, alone, **fields), *silence)
    assert deleted != pytest.approx(one, rel=1e-9, abs=1e-12)


def test_a_ratio_turned_round_is_its_inverse() -> None:
    there, back = (
        asked("proportions", vary_with=[{"variable": "half", "reference": reference}]).results.whole
        for reference in ("north", "south")
    )
    one, other = there.comparisons[0], back.comparisons[0]
    for key in ("risk_ratio", "odds_ratio"):
        a, b = getattr(one, key), getattr(other, key)
        assert a.estimate * b.estimate == pytest.approx(1, rel=1e-12)
        assert (a.ci[0] * b.ci[1], a.p) == pytest.approx((1, b.p), rel=1e-9)
    assert one.risk_difference.ci[0] == pytest.approx(-other.risk_difference.ci[1], rel=1e-9)


@pytest.mark.parametrize("lens", ["distribution", "crosstab", "proportions", "odds"])
def test_leaving_a_recorded_design_out_asks_for_care(lens: str) -> None:
    design = Design.model_validate(DESIGN)
    vary = [] if lens == "distribution" else [{"variable": "source"}]
    sentence = {"lens": lens, "outcome": {"variable": "ill"}, "vary_with": vary}
    plain = Question.model_validate(sentence)
    told = {
        recorded: next(
            check
            for check in answer(plain, replace(frame(), recorded=recorded)).checks
            if check.id == "counting"
        )
        for recorded in (None, design, design.weights_only())
    }
    assert told[None].status == "ok"
    assert told[design].status == "care"
    assert "intervals are likely too narrow" in told[design].text
    assert "too narrow" not in told[design.weights_only()].text
    (remedy,) = told[design].remedies
    assert remedy.question == plain.model_copy(update={"counted_by": design})
    gone = Design(weights="no such column")
    kept = answer(plain, replace(frame(), recorded=gone)).checks
    assert next(check for check in kept if check.id == "counting").status == "ok"

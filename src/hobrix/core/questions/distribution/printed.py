"""Distributions as papers print them: frequencies, numbers, observed against expected shares."""

from hobrix.core.data import Frame
from hobrix.core.questions import printed as p
from hobrix.core.questions.answer import Answered
from hobrix.core.questions.distribution.results import (
    DistributionPanels,
    DistributionResults,
    FrequencyRow,
    GoodnessOfFit,
    Summary,
    VariableDistribution,
)
from hobrix.core.questions.share_intervals import SHARE_INTERVALS, UNDER_DESIGN
from hobrix.core.questions.wording import level, number, plain, points


def tables(
    answer: Answered[DistributionResults, DistributionPanels], _frame: Frame
) -> list[p.Table]:
    """Of every variable of the question its frequencies, or its mean and quartiles."""
    found, at = [], level(answer.question.confidence)
    for variable in answer.results.variables:
        if variable.table:
            found.append(_frequencies(variable, at))
        if variable.summary is not None and not variable.table:
            found.append(_summary(variable, variable.summary, at))
        if variable.goodness_of_fit is not None:
            found.append(_expected(variable, variable.goodness_of_fit))
    return found


def _frequencies(variable: VariableDistribution, at: str) -> p.Table:
    has_order = any(row.cumulative_percent_of_answered is not None for row in variable.table)
    heads = ["n", "% of all", "% of answers", f"{at} CI"]
    if has_order:
        heads.append("Cumulative %")
    rows = [_answer(variable.variable, row, has_order) for row in variable.table]
    key = f"frequencies/{variable.variable}"
    answered = p.cases(f"{key}//answered", "Answered", variable.n_answered)
    filled = ["100", "", *([""] if has_order else [])]
    rows.append(
        p.plain_row(
            [
                "All who answered",
                answered,
                points(1 - variable.percent_missing_of_all / 100),
                *filled,
            ]
        )
    )
    blanks = ["", "", *([""] if has_order else [])]
    for missing in variable.missing_breakdown:
        label = missing.label or "No answer"
        n = p.cases(f"{key}/missing/{missing.code}/n", f"{label}: n", missing.count)
        part = p.share(
            f"{key}/missing/{missing.code}/share",
            f"{label}: share of all",
            missing.percent_of_all / 100,
        )
        rows.append(p.plain_row([f"{label} (missing)", n, part, *blanks]))
    weighted = any(row.weighted for row in variable.table)
    note = "n counts cases; percentages are weighted. " if weighted else ""
    return p.Table(
        name=f"frequencies/{variable.variable}",
        title=f"{variable.title}: how often each answer was given",
        columns=p.columns(variable.title, *heads),
        rows=tuple(rows),
        notes=(f"{note}Missing codes are not counted among the answers.",),
    )


def _answer(variable: str, row: FrequencyRow, has_order: bool) -> p.Row:
    key, label = f"frequencies/{variable}/{row.value}", f"“{row.label}”"
    cells: list[p.Cell | p.Part] = [
        row.label,
        p.cases(f"{key}/n", f"{label}: n", row.count),
        p.share(f"{key}/of_all", f"{label}: share of all", row.percent_of_all / 100),
        p.share(f"{key}/share", f"{label}: share of answers", row.percent_of_answered / 100),
    ]
    limits = None if row.ci is None else (row.ci[0] / 100, row.ci[1] / 100)
    cells.append(
        p.NONE if limits is None else p.limits(f"{key}/ci", f"{label}: interval", limits, points)
    )
    if has_order:
        so_far = row.cumulative_percent_of_answered
        cells.append(
            p.NONE
            if so_far is None
            else p.share(f"{key}/cumulative", f"{label} and below: share", so_far / 100)
        )
    return p.plain_row(cells)


def _summary(variable: VariableDistribution, found: Summary, at: str) -> p.Table:
    key = f"summary/{variable.variable}"
    lines: list[tuple[str, str, float | None]] = [
        ("mean", "Mean", found.mean),
        ("sd", "Standard deviation", found.sd),
        ("min", "Least", found.min),
        ("q1", "First quartile", found.q1),
        ("median", "Median", found.median),
        ("q3", "Third quartile", found.q3),
        ("max", "Largest", found.max),
    ]
    rows = [p.plain_row(["Answered, n", p.cases(f"{key}/n", "Answered", found.n)])]
    for name, title, value in lines:
        if value is not None:
            rows.append(p.plain_row([title, p.measurement(f"{key}/{name}", title, value)]))
    if found.mean_ci is not None:
        limits = p.limits(f"{key}/mean/ci", "Mean, interval", found.mean_ci, number)
        rows.insert(2, p.plain_row([f"Mean, {at} CI", limits]))
    unit = f", {variable.unit}" if variable.unit else ""
    return p.Table(
        name=f"summary/{variable.variable}",
        title=variable.title,
        columns=p.columns(f"{variable.title}{unit}", "Value"),
        rows=tuple(rows),
    )


def _expected(variable: VariableDistribution, fit: GoodnessOfFit) -> p.Table:
    rows = []
    for i, (value, label) in enumerate(zip(fit.values, fit.labels, strict=True)):
        key = f"expected/{variable.variable}/{value}"
        rows.append(
            p.plain_row(
                [
                    label,
                    p.cases(f"{key}/n", f"“{label}”: n", fit.observed[i]),
                    p.share(
                        f"{key}/observed", f"“{label}”: observed share", fit.observed_shares[i]
                    ),
                    p.share(
                        f"{key}/expected", f"“{label}”: expected share", fit.expected_shares[i]
                    ),
                    plain(fit.standardized_residuals[i], 1),
                ]
            )
        )
    notes = ["Departures are in standard errors, observed minus expected."]
    if fit.test is not None:
        notes.append(f"As expected: {p.reported('test', 'Test', fit.test).text}.")
    return p.Table(
        name=f"expected/{variable.variable}",
        title=f"{variable.title}: observed and expected shares",
        columns=p.columns(variable.title, "n", "Observed, %", "Expected, %", "Departure"),
        rows=tuple(rows),
        notes=(*notes, f"Cohen’s w = {plain(fit.cohens_w, 2)}."),
    )


def methods(answer: Answered[DistributionResults, DistributionPanels]) -> list[str]:
    """How shares and means were estimated."""
    if answer.sample is not None:
        return [UNDER_DESIGN]
    first = answer.results.variables[0]
    if not first.table:
        return ["Means have t intervals; quartiles are interpolated (type 7)."]
    interval = SHARE_INTERVALS[answer.question.options.distribution.share_interval]
    return [f"Shares have {interval}."]

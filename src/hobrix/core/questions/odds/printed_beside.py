"""What stands beside a model in print: its steps, what it is worth, its coefficients."""

from hobrix.core.questions import printed as p
from hobrix.core.questions.odds.opened import CoefficientsPanel, OddsPanels, Step, StepsPanel
from hobrix.core.questions.odds.results import OddsModel
from hobrix.core.questions.wording import listed, number, percent, plain, statistic


def steps_table(panel: StepsPanel) -> p.Table:
    has_likelihood = any(step.log_likelihood is not None for step in panel.steps)
    heads = ["Test of the step"]
    if has_likelihood:
        heads += ["AIC", "Sorted rightly, %"]
    return p.Table(
        name="steps",
        title="What each step adds to the model",
        columns=p.columns("Step", *heads),
        rows=tuple(_step(i, step, has_likelihood) for i, step in enumerate(panel.steps)),
        notes=(
            (
                f"Cut at {plain(panel.cutoff, 2)}; without a model "
                f"{percent(panel.baseline)} are sorted rightly.",
            )
            if has_likelihood
            else ()
        ),
    )


def _step(i: int, step: Step, has_likelihood: bool) -> p.Row:
    key, label = f"steps/{i}", f"Step {i + 1}"
    cells: list[p.Cell | p.Part] = [
        f"{i + 1}. {listed(step.titles)}",
        p.NONE if step.test is None else p.reported(f"{key}/test", f"{label}: test", step.test),
    ]
    if has_likelihood:
        cells.append(p.NONE if step.aic is None else plain(step.aic, 1))
        cells.append(
            p.NONE
            if step.accuracy is None
            else p.share(f"{key}/accuracy", f"{label}: sorted rightly", step.accuracy)
        )
    return p.plain_row(cells)


def worth_table(model: OddsModel, opened: OddsPanels) -> p.Table:
    """A line for each measure of the model: tests, R², how well it fits and sorts."""
    rows = [
        p.plain_row(["Cases", p.cases("worth/n", "Cases in the model", model.n)]),
        p.plain_row(["With the event", p.cases("worth/events", "With the event", model.events)]),
    ]
    if model.test is not None:
        test = p.reported("worth/model", "Model: test", model.test)
        rows.append(p.plain_row(["All terms", test]))
    likelihood = model.likelihood
    measures = []
    if likelihood is not None:
        measures = [
            ("cox_snell", "R², Cox and Snell", likelihood.cox_snell),
            ("nagelkerke", "R², Nagelkerke", likelihood.nagelkerke),
            ("mcfadden", "R², McFadden", likelihood.mcfadden),
            ("tjur", "Tjur’s D", likelihood.tjur),
        ]
    if opened.sorting is not None:
        measures.append(("auc", "Area under the curve", opened.sorting.auc.estimate))
    for key, title, value in measures:
        if value is not None:
            rows.append(p.plain_row([title, p.two_decimals(f"worth/{key}", title, value)]))
    if opened.fit is not None and opened.fit.test is not None:
        fit = p.reported("worth/fit", "Fit: test", opened.fit.test)
        rows.append(p.plain_row(["Fit", fit]))
    rows += _sorted_rightly(opened)
    return p.Table(
        name="worth",
        title="What the model is worth",
        columns=p.columns("Measure", "Value"),
        rows=tuple(rows),
    )


def _sorted_rightly(opened: OddsPanels) -> list[p.Row]:
    sorting = opened.sorting
    if sorting is None:
        return []
    at = next((c for c in sorting.classification if c.cutoff == sorting.cutoff), None)
    if at is None:
        return []
    before, after = "Sorted rightly without the model, %", "Sorted rightly with the model, %"
    return [
        p.plain_row([before, p.share("worth/before", before, at.baseline_accuracy)]),
        p.plain_row([after, p.share("worth/after", after, at.accuracy)]),
    ]


def coefficients_table(panel: CoefficientsPanel, at: str) -> p.Table:
    """Log odds with their errors, a line per column of the model."""
    intercept = p.measurement("coefficients//log_odds", "Intercept", panel.intercept)
    rows = [p.plain_row(["Intercept", intercept, "", "", "", ""])]
    for each in panel.coefficients:
        key, label = f"coefficients/{each.term}/{each.level or ''}", each.label
        rows.append(
            p.plain_row(
                [
                    label,
                    p.measurement(f"{key}/log_odds", f"{label}: log odds", each.log_odds),
                    p.measurement(f"{key}/se", f"{label}: standard error", each.se),
                    statistic(each.z),
                    p.limits(f"{key}/ci", f"{label}: interval", each.log_odds_ci, number),
                    p.NONE if each.p is None else p.probability(f"{key}/p", f"{label}: p", each.p),
                ]
            )
        )
    return p.Table(
        name="coefficients",
        title="Coefficients of the model, in log odds",
        columns=p.columns("Term", "Log odds", "Standard error", "z or t", f"{at} CI", "p"),
        rows=tuple(rows),
    )

"""How well a model fits: observed against predicted events, and whether numbers bend."""

import numpy as np

from hobrix.core.logistic import calibration
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import Patterns
from hobrix.core.logistic.splines import knots_of, spline_columns
from hobrix.core.questions.answer import Check, Remedy
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.lens import Found
from hobrix.core.questions.modelling.estimation import MANY_PATTERNS
from hobrix.core.questions.modelling.fitted import Fitted
from hobrix.core.questions.modelling.terms import Part
from hobrix.core.questions.odds import opened as r
from hobrix.core.questions.odds.bending import bent
from hobrix.core.questions.odds.work import OddsWork
from hobrix.core.questions.thresholds import NOTICED, PEOPLE_PER_PATTERN, SMALL_MISFIT
from hobrix.core.questions.wording import count, p_equals, points, reported_test, test_in_words
from hobrix.core.survey import logistic as weighted_logistic
from hobrix.core.survey.replicates import TooFewReplicates
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test

_NO_TEST = (
    "The test of fit needs three groups by predicted probability at least, and under a design more "
    "clusters (or replicates that all groups are in) and something that varies in each group."
)
_SATURATED = (
    "The model has a coefficient for every combination that occurs, so it fits exactly: there is no "
    "fit to test."
)


def fit(work: OddsWork) -> Found:
    panel = _weighted(work.model) if work.model.weighted else _counted(work.model)
    checks = [*_misfit(work, panel), *_linear(work, panel)]
    write_up = ""
    if panel.test is not None:
        write_up = f"Fit: {reported_test(panel.test)}."
    return Found(panel, tuple(checks), write_up)


def _counted(model: Fitted) -> r.FitPanel:
    found = calibration.hosmer_lemeshow(model.data, model.fitted)
    k = model.data.design.shape[1]
    patterns = len(model.data.trials)
    test, no_test = None, _NO_TEST
    if patterns == k:
        no_test = _SATURATED
    elif found.p is not None:
        test = NamedTest.chi_square(
            "Hosmer–Lemeshow test", ChiSquareTest(found.statistic, found.df, found.p)
        )
    return r.FitPanel(
        test=test,
        no_test=no_test if test is None else None,
        is_misfit=test is not None and test.p < NOTICED,
        groups=tuple(
            r.FitGroupOf(
                n=group.n,
                observed=group.observed_events / group.n,
                predicted=group.expected_events / group.n,
            )
            for group in found.table
        ),
        hosmer_lemeshow=found,
        pearson_goodness_of_fit=calibration.pearson_goodness_of_fit(model.data, model.fitted, k),
        deviance_goodness_of_fit=calibration.deviance_goodness_of_fit(model.data, model.fitted, k),
        mean_something=model.n >= PEOPLE_PER_PATTERN * patterns,
        covariate_patterns=patterns,
        brier=calibration.brier(model.data, model.fitted),
        linearity=linearity(model),
    )


def _weighted(model: Fitted) -> r.FitPanel:
    """Mean residuals in groups of about equal weight, tested with the errors of the design."""
    assert model.weighted is not None
    try:
        found = weighted_logistic.fit_test(model.weighted.totals, model.found, model.data.trials)
    except TooFewReplicates:
        found = None
    test, groups = None, []
    if found is not None:
        test = NamedTest(
            name="F test of mean residuals",
            sign="F",
            statistic=found.f,
            df=found.df1,
            df2=found.df2,
            p=found.p,
        )
        each = (found.n, found.observed, found.predicted)
        groups = list(zip(*(side.tolist() for side in each), strict=True))
    return r.FitPanel(
        test=test,
        no_test=_NO_TEST if test is None else None,
        is_misfit=test is not None and test.p < NOTICED,
        groups=tuple(r.FitGroupOf(n=n, observed=o, predicted=p) for n, o, p in groups),
        hosmer_lemeshow=None,
        pearson_goodness_of_fit=None,
        deviance_goodness_of_fit=None,
        mean_something=False,
        covariate_patterns=len(model.data.trials),
        brier=None,
        linearity=(),
    )


def _misfit(work: OddsWork, panel: r.FitPanel) -> list[Check]:
    """A small p means misfit; a large one that none was seen. Without a test nothing is checked."""
    if panel.test is None:
        return []
    told = test_in_words(panel.test)
    if not panel.is_misfit:
        text = f"No misfit was seen between predicted and observed events ({told})."
        return [Check(id="fit", status="ok", text=text)]
    gap = _mean_gap(panel)
    if gap < SMALL_MISFIT:
        text = (
            f"Predicted and observed events differ ({told}), but only by {points(gap)} points on "
            f"average: with {count(work.model.n)} counted, trifles are clear."
        )
        return [Check(id="fit", status="ok", text=text)]
    text = (
        f"Predicted and observed events differ ({told}), by {points(gap)} points on average: the model misses something. Let a number "
        "bend, or let two variables act together."
    )
    straight = [
        term.parts[0]
        for term in work.model.terms
        if not term.is_interaction and term.parts[0].is_numeric and term.parts[0].bend is None
    ]
    remedies = [
        Remedy(label=f"Let {part.variable.title} bend", question=bent(work.question, part.name))
        for part in straight[:3]
    ]
    return [Check(id="fit", status="care", text=text, remedies=tuple(remedies))]


def _mean_gap(panel: r.FitPanel) -> float:
    """Between the observed and predicted share of a group, over everybody."""
    n = np.array([group.n for group in panel.groups])
    gaps = [abs(group.observed - group.predicted) for group in panel.groups]
    return float(np.average(gaps, weights=n))


def _linear(work: OddsWork, panel: r.FitPanel) -> list[Check]:
    checks = []
    for each in panel.linearity:
        test = each.bend or each.box_tidwell
        if test is None:
            continue
        if test.p < NOTICED:
            text = (
                f"The log odds bends along {each.title} ({p_equals(test.p)}): one odds ratio per "
                "unit does not tell its whole story."
            )
            remedy = Remedy(
                label=f"Let {each.title} bend", question=bent(work.question, each.variable)
            )
            checks.append(Check(id="linearity", status="care", text=text, remedies=(remedy,)))
        else:
            text = f"No sign that the log odds bends along {each.title} ({p_equals(test.p)})."
            checks.append(Check(id="linearity", status="ok", text=text))
    return checks


def linearity(model: Fitted) -> tuple[r.Linearity, ...]:
    """For every number that enters straight and by itself."""
    if model.is_firth:
        return ()
    alone = {term.name: at[0] for term, at in zip(model.terms, model.places, strict=True)}
    interacting = {p.name for term in model.terms if term.is_interaction for p in term.parts}
    return tuple(
        _linearity(model, part, alone[part.name])
        for part in model.parts.values()
        if part.is_numeric and part.bend is None and part.name not in interacting
    )


def _linearity(model: Fitted, part: Part, column: int) -> r.Linearity:
    x = model.prepared.values[part.name]
    box = None
    if (
        x.min() > 0
        and len(x) < MANY_PATTERNS
        and (more := _with(model, (x * np.log(x))[:, None])) is not None
    ):
        box = _gain(model, more)
    knots = knots_of(x / part.per, model.data.trials)
    bend = None
    curve: tuple[tuple[float, float, float, float, float], ...] = ()
    if len(knots) >= 3:
        pieces = spline_columns(x / part.per, knots)[:, 1:]
        if (bent := _with(model, pieces)) is not None:
            bend = _gain(model, bent)
            curve = _curve(model, bent, part, column, knots)
    return r.Linearity(
        variable=part.name,
        title=part.variable.title,
        unit=part.variable.unit or "",
        box_tidwell=box,
        bend=bend,
        curve=curve,
    )


def _with(model: Fitted, columns: np.ndarray) -> ml.Fit | None:
    data = model.data
    more = Patterns(np.column_stack([data.design, columns]), data.events, data.trials)
    start = np.concatenate([model.found.coefficients, np.zeros(columns.shape[1])])
    try:
        return ml.fit(more, start)
    except (ml.Collinear, ml.NotFinite):
        return None


def _gain(model: Fitted, more: ml.Fit) -> ChiSquareTest:
    df = len(more.coefficients) - len(model.found.coefficients)
    gained = max(0.0, 2 * (more.log_likelihood - model.found.log_likelihood))
    return chi_square_test(gained, df)


def _curve(
    model: Fitted, found: ml.Fit, part: Part, column: int, knots: tuple[float, ...]
) -> tuple[tuple[float, float, float, float, float], ...]:
    k = model.data.design.shape[1]
    at = [column, *range(k, len(found.coefficients))]
    grid = np.linspace(part.at[0], part.at[3], 25) / part.per
    base = spline_columns(np.array([part.base / part.per]), knots)
    contrast = spline_columns(grid, knots) - base
    bent = contrast @ found.coefficients[at]
    covariance = found.covariance[np.ix_(at, at)]
    reach = model.quantile * np.sqrt(((contrast @ covariance) * contrast).sum(axis=1))
    straight = (grid - part.base / part.per) * model.found.coefficients[column]
    rows = np.column_stack([grid * part.per, straight, bent, bent - reach, bent + reach])
    return tuple((a, b, c, d, e) for a, b, c, d, e in rows.tolist())

"""How well the model fits, and how well it sorts."""

from dataclasses import asdict

import numpy as np

from hobrix.core.logistic import calibration, sorting
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic.patterns import Patterns
from hobrix.core.logistic.splines import knots_of, spline_columns
from hobrix.core.questions.odds import results as r
from hobrix.core.questions.odds.fitted import Fitted
from hobrix.core.questions.odds.terms import Part
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test

# Cut-offs that can be dragged to, and points drawn of a curve.
CUTOFFS = np.arange(1, 100) / 100
MOST_POINTS, BINS = 200, 20
# With more patterns the bending of a number is tested once, not twice.
MANY_PATTERNS = 100_000


def hosmer_lemeshow(model: Fitted) -> r.HosmerLemeshow:
    found = calibration.hosmer_lemeshow(model.data, model.fitted)
    return r.HosmerLemeshow(
        statistic=found.statistic,
        df=found.df,
        p=found.p,
        groups=len(found.table),
        table=tuple(r.FitGroup(**asdict(group)) for group in found.table),
    )


def goodness_of_fit(model: Fitted) -> tuple[ChiSquare | None, ChiSquare | None]:
    """Pearson's and the deviance test over distinct patterns."""
    k = model.data.design.shape[1]
    return (
        chi_square(calibration.pearson_goodness_of_fit(model.data, model.fitted, k)),
        chi_square(calibration.deviance_goodness_of_fit(model.data, model.fitted, k)),
    )


def chi_square(test: ChiSquareTest | None) -> ChiSquare | None:
    return None if test is None else ChiSquare(**vars(test))


def classifications(people: sorting.Sorted, cutoff: float) -> tuple[r.Classification, ...]:
    """At every hundredth, and at the cut-off asked for."""
    cutoffs = sorted({*CUTOFFS.tolist(), cutoff})
    return tuple(r.Classification(**vars(sorting.classify(people, c))) for c in cutoffs)


def area(people: sorting.Sorted, confidence: float) -> r.Area:
    here, at_95 = (sorting.area_under_curve(people, level) for level in (confidence, 0.95))
    return r.Area(
        estimate=here.estimate,
        se=here.se,
        ci=here.ci_logit and (here.ci_logit.low, here.ci_logit.high),
        ci_95=at_95.ci and (at_95.ci.low, at_95.ci.high),
        ci_95_logit=at_95.ci_logit and (at_95.ci_logit.low, at_95.ci_logit.high),
    )


def roc(people: sorting.Sorted) -> tuple[r.RocPoint, ...]:
    """The curve, thinned to what a picture can show."""
    false_share, true_share = sorting.roc_curve(people)
    chosen = np.unique(np.linspace(0, len(false_share) - 1, MOST_POINTS).round().astype(int))
    return tuple(
        r.RocPoint(false_positive_share=float(x), true_positive_share=float(y))
        for x, y in zip(false_share[chosen], true_share[chosen], strict=True)
    )


def concordance(people: sorting.Sorted) -> r.Concordance:
    found = sorting.concordance(people)
    c = (found.concordant + found.tied / 2) / found.pairs
    return r.Concordance(**asdict(found), c=c)


def predicted(people: sorting.Sorted) -> tuple[r.PredictedBin, ...]:
    """People by predicted probability and outcome, in twentieths."""
    place = np.minimum((people.fitted * BINS).astype(int), BINS - 1)
    events, others = (
        np.bincount(place, weights=side, minlength=BINS) for side in (people.events, people.others)
    )
    return tuple(
        r.PredictedBin(low=i / BINS, events=float(events[i]), others=float(others[i]))
        for i in range(BINS)
    )


def linearity(model: Fitted) -> tuple[r.Linearity, ...]:
    """For every number that enters straight and by itself."""
    if model.options.method == "firth":
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


def _gain(model: Fitted, more: ml.Fit) -> ChiSquare:
    df = len(more.coefficients) - len(model.found.coefficients)
    gained = max(0.0, 2 * (more.log_likelihood - model.found.log_likelihood))
    return ChiSquare(**vars(chi_square_test(gained, df)))


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
    reach = model.quantile * np.sqrt(np.einsum("ij,jk,ik->i", contrast, covariance, contrast))
    straight = (grid - part.base / part.per) * model.found.coefficients[column]
    rows = np.column_stack([grid * part.per, straight, bent, bent - reach, bent + reach])
    return tuple((a, b, c, d, e) for a, b, c, d, e in rows.tolist())

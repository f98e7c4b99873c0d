"""From one variable's column to its frequency table, summary, share and goodness of fit."""

import numpy as np
from numpy.typing import NDArray
from scipy import special

from hobrix.core.data import CategoricalColumn, Frame, NumericColumn, Variable, missing_reasons
from hobrix.core.data.column import FloatArray, as_number, as_text
from hobrix.core.questions.counted import Rows
from hobrix.core.questions.distribution import results as r
from hobrix.core.questions.distribution.options import DistributionOptions
from hobrix.core.questions.quantities import ChiSquare
from hobrix.core.tables import goodness_of_fit as fit
from hobrix.core.tables import numeric_summary as numbers
from hobrix.core.tables import one_proportion as share
from hobrix.core.tables.multiple import holm

# Numbers up to this many different ones are listed singly, on request up to the second.
LISTED, MOST_LISTED = 40, 2000

Mask = NDArray[np.bool_] | None


def variable_distribution(
    frame: Frame,
    variable: Variable,
    rows: Rows,
    where: Mask,
    options: DistributionOptions,
    confidence: float,
) -> r.VariableDistribution:
    """How one variable is answered in the rows ``where`` (None: all)."""
    column = frame.column(variable.name)
    weights = rows.weights
    reasons = missing_reasons(
        variable, frame.source(variable.name), column, weights=weights, where=where
    )
    n_missing = sum(reason.n for reason in reasons)
    taken = ~column.is_missing if where is None else ~column.is_missing & where
    used = None if weights is None else weights[taken]
    n_answered = float(np.count_nonzero(taken) if used is None else used.sum())
    n_all = n_answered + n_missing
    if isinstance(column, CategoricalColumn):
        counts = np.bincount(
            column.codes[taken], weights=used, minlength=len(column.categories)
        ).astype(np.float64)
        head = [(c.value, c.label, n) for c, n in zip(column.categories, counts, strict=True)]
        if variable.kind == "text":
            head = sorted((row for row in head if row[2] > 0), key=lambda row: -row[2])
        different, grouped = int(np.count_nonzero(counts)), len(head) > MOST_LISTED
        head = head[:MOST_LISTED]
        summary, histogram = _summary_of_codes(variable, counts), None
    else:
        assert isinstance(column, NumericColumn)
        found = numbers.distinct(column.values[taken], used)
        different = len(found.values)
        summary, histogram, head = None, None, []
        grouped = different > (MOST_LISTED if options.all_values else LISTED)
        if different:
            summary = _summary(numbers.summarise(found), of_codes=False)
            bins = numbers.histogram(found, options.bin_width)
            histogram = r.Bins(
                edges=tuple(bins.edges.tolist()),
                counts=tuple(bins.counts.tolist()),
                width=bins.width,
            )
            head = _binned(bins) if grouped else _listed(found)
    return r.VariableDistribution(
        variable=variable.name,
        title=variable.title,
        kind=variable.kind,
        unit=variable.unit,
        n_all=n_all,
        n_answered=n_answered,
        n_missing=n_missing,
        percent_missing_of_all=100 * n_missing / n_all if n_all else 0.0,
        missing_breakdown=tuple(
            r.MissingRow(
                code=reason.value,
                label=reason.label,
                count=reason.n,
                percent_of_all=100 * reason.n / n_all if n_all else 0.0,
            )
            for reason in reasons
        ),
        different=different,
        table=_table(
            head,
            n_all,
            n_answered,
            options,
            confidence,
            ordered=variable.kind in ("ordinal", "numeric"),
        ),
        grouped=grouped,
        summary=summary,
        histogram=histogram,
        share=None,
        goodness_of_fit=None,
    )


def _table(
    head: list[tuple[str, str, float]],
    n_all: float,
    n_answered: float,
    options: DistributionOptions,
    confidence: float,
    *,
    ordered: bool,
) -> tuple[r.FrequencyRow, ...]:
    if not n_answered:
        return ()
    so_far = np.cumsum([n for _, _, n in head]) / n_answered
    rows = []
    for (value, label, n), up_to in zip(head, so_far, strict=True):
        limits = share.share_interval(n, n_answered, confidence, options.interval)
        rows.append(
            r.FrequencyRow(
                value=value,
                label=label,
                count=n,
                percent_of_all=100 * n / n_all,
                percent_of_answered=100 * n / n_answered,
                cumulative_percent_of_answered=100 * float(up_to) if ordered else None,
                ci=(100 * limits.low, 100 * limits.high),
            )
        )
    return tuple(rows)


def _listed(found: numbers.Distinct) -> list[tuple[str, str, float]]:
    texts = [as_text(value) for value in found.values.tolist()]
    return list(zip(texts, texts, found.counts.tolist(), strict=True))


def _binned(bins: numbers.Histogram) -> list[tuple[str, str, float]]:
    edges = [as_text(float(f"{edge:.12g}")) for edge in bins.edges]
    return [
        (low, f"{low} to under {high}", n)
        for low, high, n in zip(edges, edges[1:], bins.counts.tolist(), strict=False)
    ]


def _summary(found: numbers.NumericSummary, *, of_codes: bool) -> r.Summary:
    fields = {name: getattr(found, name) for name in r.Summary.model_fields if name != "of_codes"}
    return r.Summary(of_codes=of_codes, **fields)


def _summary_of_codes(variable: Variable, counts: FloatArray) -> r.Summary | None:
    """Moments of ordered answers whose values are rising numbers, such as 1 to 5."""
    values = [as_number(category.value) for category in variable.categories]
    if variable.kind != "ordinal" or not counts.any() or any(value is None for value in values):
        return None
    scores = np.array(values, dtype=np.float64)
    if np.any(np.diff(scores) <= 0):
        return None
    present = counts > 0
    found = numbers.summarise(numbers.Distinct(scores[present], counts[present]))
    return _summary(found, of_codes=True)


def event_share(
    counted: r.VariableDistribution,
    variable: Variable,
    event: tuple[str, ...],
    options: DistributionOptions,
    confidence: float,
) -> r.EventShare | None:
    """The share with the event, and its tests where a share is stated."""
    if not event or not counted.n_answered:
        return None
    x = sum(row.count for row in counted.table if row.value in event)
    n = counted.n_answered
    limits = share.share_interval(x, n, confidence, options.interval)
    label = " or ".join(variable.label_of(value) for value in event)
    return r.EventShare(
        event=event,
        label=label,
        x=x,
        n=n,
        estimate=x / n,
        method=options.interval,
        ci=(limits.low, limits.high),
        tests=_share_tests(variable, label, x, n, options),
    )


def _share_tests(
    variable: Variable, label: str, x: float, n: float, options: DistributionOptions
) -> r.ShareTests | None:
    stated = options.against
    if stated is None:
        return None
    exact, score = share.exact_binomial_test(int(x), int(n), stated), share.score_test(x, n, stated)
    what = f"The share of “{label}” ({variable.title})"
    than = {"two_sided": "is not", "less": "is below", "greater": "is above"}[options.alternative]
    percent = f"{100 * stated:.10g}%"
    return r.ShareTests(
        against=stated,
        alternative=options.alternative,
        null=f"{what} is {percent}.",
        alternative_in_words=f"{what} {than} {percent}.",
        exact_binomial_test=_p(exact),
        score_z_test=_p(score),
    )


def _p(test: share.ShareTest) -> r.OneSidedP:
    return r.OneSidedP(
        p_two_sided=test.p_two_sided,
        p_less=test.p_less,
        p_greater=test.p_greater,
        statistic=test.statistic,
    )


def goodness_of_fit(
    counts: dict[str, float], labels: dict[str, str], stated: dict[str, float], source: str
) -> r.GoodnessOfFit:
    """Counts by value against shares by value, all above 0."""
    values = tuple(stated)
    observed = np.array([counts[value] for value in values])
    shares = np.array([stated[value] for value in values], dtype=np.float64)
    found = fit.goodness_of_fit(observed, shares)
    p = 2 * special.ndtr(-np.abs(found.standardized_residuals))
    # Two categories mirror each other: one comparison.
    adjusted = p if len(p) == 2 else holm(p)
    exact = fit.exact_multinomial(observed, shares)
    return r.GoodnessOfFit(
        source=source,
        values=values,
        labels=tuple(labels[value] for value in values),
        observed=tuple(observed.tolist()),
        stated=tuple(stated.values()),
        expected_shares=tuple(found.shares.tolist()),
        expected_counts=tuple(found.expected.tolist()),
        pearson=ChiSquare(**vars(found.pearson)),
        likelihood_ratio=ChiSquare(**vars(found.likelihood_ratio)),
        pearson_residuals=tuple(found.pearson_residuals.tolist()),
        standardized_residuals=tuple(found.standardized_residuals.tolist()),
        standardized_residuals_p_holm=tuple(adjusted.tolist()),
        cohens_w=found.cohens_w,
        exact_multinomial=None if exact is None else r.Exact(**vars(exact)),
    )

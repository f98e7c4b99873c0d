"""A distribution in words: how common, with its interval; how it differs from what was expected."""

from hobrix.core.data import Variable
from hobrix.core.questions.answer import Counted, Figure, Reading
from hobrix.core.questions.distribution.options import DistributionOptions
from hobrix.core.questions.distribution.results import (
    DistributionResults,
    EventShare,
    GoodnessOfFit,
    ShareTests,
    Summary,
    VariableDistribution,
)
from hobrix.core.questions.wording import (
    count,
    number,
    p_equals,
    p_in_print,
    percent,
    statistic,
)

METHODS = {
    "wilson": "Wilson",
    "clopper_pearson": "exact (Clopper–Pearson)",
    "agresti_coull": "Agresti–Coull",
    "jeffreys": "Jeffreys",
    "wald": "Wald",
}
MARKED = 0.05


def distribution_reading(
    results: DistributionResults,
    outcome: Variable,
    counted: Counted,
    options: DistributionOptions,
    confidence: float,
) -> Reading:
    first = results.whole.variables[0]
    sentences = [_lead(first, outcome, counted, confidence)]
    if first.goodness_of_fit is not None:
        sentences.append(_lead_of_fit(first.goodness_of_fit, confidence))
    if first.share is not None and first.share.tests is not None:
        sentences.append(_lead_of_test(first.share, first.share.tests, confidence))
    return Reading(
        lead=" ".join(sentences),
        headline=_headline(first),
        figures=_figures(first, confidence),
        notes=tuple(_notes(results, options, confidence)),
        cells=(),
    )


def p_of(tests: ShareTests) -> float:
    """The exact p for the alternative that was asked."""
    return {
        "two_sided": tests.exact_binomial_test.p_two_sided,
        "less": tests.exact_binomial_test.p_less,
        "greater": tests.exact_binomial_test.p_greater,
    }[tests.alternative]


def _lead(
    first: VariableDistribution, outcome: Variable, counted: Counted, confidence: float
) -> str:
    who = f"{count(first.n_answered)} {counted.noun_many if first.n_answered != 1 else counted.noun_one}"
    if first.share is not None:
        share = first.share
        low, high = share.ci
        return (
            f"**“{share.label}” is {percent(share.estimate)}** of the answers to {outcome.title} "
            f"({count(share.x)} of {who} who answered); with {100 * confidence:g}% confidence "
            f"between {percent(low)} and {percent(high)}."
        )
    if first.kind == "numeric" and first.summary is not None:
        s, unit = first.summary, f" {first.unit}" if first.unit else ""
        return (
            f"Half of the {who} who answered {outcome.title} lie **between {number(s.q1)} and "
            f"{number(s.q3)}**{unit}, with {number(s.median)} in the middle."
        )
    rows = sorted(first.table, key=lambda row: -row.count)
    most = rows[0]
    lead = (
        f"**“{most.label}” is the commonest answer** to {outcome.title}: "
        f"{most.percent_of_answered:.1f}% of {who} who answered"
    )
    if len(rows) > 1 and rows[1].count > 0:
        lead += f", before “{rows[1].label}” with {rows[1].percent_of_answered:.1f}%"
    lead += "."
    if first.kind == "ordinal":
        middle = next(r for r in first.table if (r.cumulative_percent_of_answered or 0) >= 50)
        lead += f" In order, the middle answer is “{middle.label}”."
    return lead


def _lead_of_fit(fit: GoodnessOfFit, confidence: float) -> str:
    p = fit_p(fit)
    expected = {
        "equal": "equal shares",
        "stated": "the stated shares",
        "variable": "the other variable’s shares",
    }[fit.source]
    if p >= 1 - confidence:
        return (
            f"**No clear departure** from {expected}: chance alone often brings differences this "
            f"wide ({p_equals(p)}). That does not show that the shares are as expected."
        )
    gaps = [o - e for o, e in zip(fit.observed, fit.expected_counts, strict=True)]
    at = max(range(len(gaps)), key=lambda i: abs(fit.standardized_residuals[i]))
    more = "more" if gaps[at] > 0 else "fewer"
    return (
        f"The answers **depart from {expected}** ({p_equals(p)}), most in “{fit.labels[at]}”: "
        f"{count(fit.observed[at])}, {number(abs(gaps[at]))} {more} than expected."
    )


def fit_p(fit: GoodnessOfFit) -> float:
    """The exact p where expected counts are small and it could be had, otherwise chi-square's."""
    if min(fit.expected_counts) < 5 and fit.exact_multinomial is not None:
        return fit.exact_multinomial.p
    return fit.pearson.p


def _lead_of_test(share: EventShare, tests: ShareTests, confidence: float) -> str:
    p = p_of(tests)
    against = f"{100 * tests.against:.10g}%"
    if p < 1 - confidence:
        way = {"two_sided": "differs from", "less": "is below", "greater": "is above"}
        return f"That **{way[tests.alternative]} {against}** ({p_equals(p)}, exact binomial test)."
    low, high = share.ci
    return (
        f"It is **not shown to be other than {against}** ({p_equals(p)}, exact binomial test); "
        f"values from {percent(low)} to {percent(high)} fit the data."
    )


def _headline(first: VariableDistribution) -> str:
    if first.goodness_of_fit is not None:
        fit = first.goodness_of_fit
        return f"w {fit.cohens_w:.2f} · {p_equals(fit_p(fit))}"
    if first.share is not None:
        low, high = first.share.ci
        return f"{percent(first.share.estimate)} · {100 * low:.1f} to {100 * high:.1f}"
    if first.kind == "numeric" and first.summary is not None:
        return f"median {number(first.summary.median)}"
    most = max(first.table, key=lambda row: row.count)
    return f"{most.label} {most.percent_of_answered:.1f}%"


def _figures(first: VariableDistribution, confidence: float) -> tuple[Figure, ...]:
    figures = []
    level = f"{100 * confidence:g}% CI"
    if first.share is not None:
        share = first.share
        low, high = share.ci
        figures.append(
            Figure(
                label=f"Share of “{share.label}”",
                value=percent(share.estimate),
                detail=f"{100 * low:.1f} to {100 * high:.1f}",
                exact=f"{share.estimate!r}, {level} {low!r} to {high!r}",
            )
        )
    if first.kind == "numeric" and first.summary is not None:
        figures += _figures_of_numbers(first.summary)
    if first.goodness_of_fit is not None:
        fit = first.goodness_of_fit
        figures.append(
            Figure(
                label="Chi-square, goodness of fit",
                value=statistic(fit.pearson.statistic),
                detail=f"df {fit.pearson.df}, {p_equals(fit.pearson.p)}",
                exact=f"χ² = {fit.pearson.statistic!r}, p = {fit.pearson.p!r}",
            )
        )
        figures.append(
            Figure(
                label="Departure, Cohen’s w",
                value=f"{fit.cohens_w:.2f}",
                detail="0 is a perfect fit",
                exact=repr(fit.cohens_w),
            )
        )
    figures.append(
        Figure(
            label="Answered",
            value=count(first.n_answered),
            detail=f"{first.percent_missing_of_all:.1f}% did not",
            exact=f"{first.n_answered:.0f} of {first.n_all:.0f}",
        )
    )
    if first.kind != "numeric":
        figures.append(
            Figure(
                label="Different answers",
                value=count(first.different),
                detail="somebody gave them",
                exact=str(first.different),
            )
        )
    return tuple(figures[:4])


def _figures_of_numbers(s: Summary) -> list[Figure]:
    return [
        Figure(
            label="Median",
            value=number(s.median),
            detail=f"middle half {number(s.q1)} to {number(s.q3)}",
            exact=repr(s.median),
        ),
        Figure(
            label="Mean",
            value=number(s.mean),
            detail="one value only" if s.sd is None else f"sd {number(s.sd)}",
            exact=f"mean {s.mean!r}, sd {s.sd!r}",
        ),
        Figure(
            label="Range",
            value=f"{number(s.min)} to {number(s.max)}",
            detail="least to greatest",
            exact=f"{s.min!r} to {s.max!r}",
        ),
    ]


def _notes(
    results: DistributionResults, options: DistributionOptions, confidence: float
) -> list[str]:
    first = results.whole.variables[0]
    notes = []
    if first.table and first.kind != "numeric":
        notes.append(
            f"Intervals of shares: {METHODS[options.interval]}, {100 * confidence:g}%, each for "
            "one share by itself."
        )
    fit = first.goodness_of_fit
    if fit is not None:
        total = sum(fit.stated)
        if fit.source == "stated" and abs(total - 100) > 1e-6:
            notes.append(
                f"The stated shares sum to {number(total)}; they were scaled to make up the whole."
            )
        if any(p < MARKED for p in fit.standardized_residuals_p_holm):
            notes.append(
                "▲ more and ▼ fewer than expected: standardised residuals that stand out with "
                "all categories allowed for (Holm, 5%)."
            )
    if first.grouped and first.kind == "numeric":
        notes.append(
            f"{count(first.different)} different numbers are shown in ranges; each range holds "
            "its lower end, the last one both."
        )
    if first.kind == "text":
        notes.append("Free text: answers count as the same only when they are written the same.")
    return notes


def distribution_write_up(
    results: DistributionResults, outcome: Variable, counted: Counted, confidence: float
) -> str:
    """The sentence for the paper."""
    first = results.whole.variables[0]
    level = f"{100 * confidence:g}% CI"
    answered = (
        f"Of {count(first.n_all)} {counted.noun_many}, {count(first.n_answered)} "
        f"({100 - first.percent_missing_of_all:.1f}%) answered {outcome.title}."
    )
    if first.share is not None:
        share = first.share
        low, high = share.ci
        said = (
            f" “{share.label}” was given by {count(share.x)} ({percent(share.estimate)}, {level} "
            f"[{100 * low:.1f}, {100 * high:.1f}], {METHODS[share.method]})"
        )
        if share.tests is not None:
            against = f"{100 * share.tests.against:.10g}%"
            said += f"; against {against}, exact binomial test, {p_in_print(p_of(share.tests))}"
        said += "."
    elif first.kind == "numeric" and first.summary is not None:
        s = first.summary
        sd = "" if s.sd is None else f", SD {number(s.sd)}"
        said = (
            f" The median was {number(s.median)} (quartiles {number(s.q1)} and {number(s.q3)}; "
            f"mean {number(s.mean)}{sd})."
        )
    else:
        parts = [
            f"“{row.label}” {count(row.count)} ({row.percent_of_answered:.1f}%)"
            for row in first.table[:8]
        ]
        said = f" Answers were {', '.join(parts)}{' and others' if len(first.table) > 8 else ''}."
    fit = first.goodness_of_fit
    if fit is not None:
        n, df = count(sum(fit.observed)), fit.pearson.df
        said += (
            f" The distribution was compared with {_expected_in_print(fit)}: "
            f"χ²({df}, N = {n}) = {statistic(fit.pearson.statistic)}, "
            f"{p_in_print(fit.pearson.p)}, Cohen’s w = {fit.cohens_w:.2f}"
        )
        if fit.exact_multinomial is not None and min(fit.expected_counts) < 5:
            said += f" (exact multinomial test, {p_in_print(fit.exact_multinomial.p)})"
        said += "."
    return answered + said


def _expected_in_print(fit: GoodnessOfFit) -> str:
    shares = ", ".join(
        f"{label} {percent(share)}"
        for label, share in zip(fit.labels, fit.expected_shares, strict=True)
    )
    return "equal shares" if fit.source == "equal" else f"expected shares ({shares})"

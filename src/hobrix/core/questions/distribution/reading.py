"""A distribution in words: how common, with its interval; how it differs from what was expected."""

import math

from hobrix.core.questions.answer import Counted, Figure, Reading
from hobrix.core.questions.distribution.results import (
    DistributionResults,
    EventShare,
    FrequencyRow,
    GoodnessOfFit,
    ShareTests,
    Summary,
    VariableDistribution,
)
from hobrix.core.questions.distribution.work import DistributionWork
from hobrix.core.questions.number_style import marked
from hobrix.core.questions.thresholds import MOVED_SHARE
from hobrix.core.questions.wording import (
    count,
    figure_of_test,
    first_of,
    how_often,
    interval,
    level,
    number,
    p_equals,
    percent,
    plain,
    points,
    test_in_words,
)

METHODS = {
    "wilson": "Wilson",
    "clopper_pearson": "exact (Clopper–Pearson)",
    "agresti_coull": "Agresti–Coull",
    "jeffreys": "Jeffreys",
    "wald": "Wald",
}


def distribution_reading(
    work: DistributionWork, results: DistributionResults, counted: Counted
) -> Reading:
    first = results.variables[0]
    sentences = [_lead(work, first, counted)]
    if first.goodness_of_fit is not None:
        sentences.append(_lead_of_fit(first.goodness_of_fit, work.question.alpha))
    if first.share is not None and first.share.tests is not None:
        sentences.append(_lead_of_test(first.share, first.share.tests, work.question.alpha))
    return Reading(
        lead=" ".join(sentences),
        headline=_headline(first),
        figures=tuple(_figures(first, work.question.confidence)[:4]),
        notes=tuple(_notes(work, first)),
    )


def _limits_of(row: FrequencyRow) -> tuple[float, float] | None:
    return None if row.ci is None else (row.ci[0] / 100, row.ci[1] / 100)


def _lead(work: DistributionWork, first: VariableDistribution, counted: Counted) -> str:
    """The answer or number to tell first; under a design its weighted share."""
    outcome, who = work.outcome, counted.people(first.n_answered)
    if counted.noun_many != "answers":
        who += " with an answer" if counted.noun_many == "rows" else " who answered"
    weighted = "Weighted, " if work.question.is_designed else ""
    if first.share is not None:
        share = first.share
        text = (
            f"{weighted}**“{share.label}” is {percent(share.share)}** of the answers to "
            f"{outcome.title} ({count(share.events)} of {who})"
        )
        if work.was_set:
            return f"{text}, as the study was set up: cases were sampled."
        if share.share_ci is None:
            return f"{text}."
        low, high = share.share_ci
        return (
            f"{text}; with {level(work.question.confidence)} confidence between {percent(low)} and "
            f"{percent(high)}."
        )
    if first.summary is not None and first.kind == "numeric":
        return weighted + _lead_of_number(first, first.summary, outcome.title, who)
    lead = weighted + _commonest(first, outcome.title, who)
    if first.kind == "ordinal":
        middle = next(
            (r for r in first.table if (r.cumulative_percent_of_answered or 0) >= 50), None
        )
        lead += f" In order, the middle answer is “{middle.label}”." if middle else ""
    return lead


def _commonest(first: VariableDistribution, title: str, who: str) -> str:
    """The most common answer, and the next; answers that are as common are named together."""
    rows = sorted(first.table, key=lambda row: -row.percent_of_answered)
    most = rows[0]
    share = percent(most.percent_of_answered / 100)
    tied = [row for row in rows if math.isclose(row.percent_of_answered, most.percent_of_answered)]
    if len(tied) == len(rows) and len(rows) > 1:
        return f"**All answers to {title} are equally common**: {share} each of {who}."
    if len(tied) > 1:
        names = first_of([f"“{row.label}”" for row in tied], 4)
        return f"**{names} are the commonest answers** to {title}: {share} each of {who}."
    text = f"**“{most.label}” is the commonest answer** to {title}: {share} of {who}"
    if len(rows) > 1 and rows[1].count > 0:
        after = rows[1].percent_of_answered
        tied = [row for row in rows[1:] if math.isclose(row.percent_of_answered, after)]
        names = first_of([f"“{row.label}”" for row in tied], 2)
        each = " each" if len(tied) > 1 else ""
        text += f", before {names} with {percent(after / 100)}{each}"
    return f"{text}."


def _lead_of_number(first: VariableDistribution, s: Summary, title: str, who: str) -> str:
    unit = f" {first.unit}" if first.unit else ""
    text = (
        f"half of the {who} {title} lie **between {number(s.q1)} and {number(s.q3)}**{unit}, with "
        f"{number(s.median)} in the middle."
    )
    if s.weighted is None:
        return text[0].upper() + text[1:]
    return f"{text} The mean is **{number(s.mean)}** ({interval(s.mean_ci, number)})."


def _lead_of_fit(fit: GoodnessOfFit, alpha: float) -> str:
    expected = {
        "equal": "equal shares",
        "stated": "the stated shares",
        "variable": "the shares of the other variable, taken as known",
    }[fit.source]
    test = fit.test
    if test is None:
        return f"Against {expected} there is no test: the design leaves no degree of freedom."
    if test.p >= alpha:
        return (
            f"**No clear departure** from {expected}: departures at least this wide come about "
            f"{how_often(test.p)} where those are the shares ({test_in_words(test)}). That does not "
            "show that they are."
        )
    # Of two answers both depart by as much: rounding must not choose.
    at = max(range(len(fit.values)), key=lambda i: round(abs(fit.standardized_residuals[i]), 9))
    more = "more" if fit.standardized_residuals[at] > 0 else "fewer"
    text = f"The answers **depart from {expected}** ({test_in_words(test)}), most in "
    if fit.expected_counts is None:
        return f"{text}“{fit.labels[at]}”: {more} than the {percent(fit.expected_shares[at])} expected."
    gap = number(abs(fit.observed[at] - fit.expected_counts[at]))
    return f"{text}“{fit.labels[at]}”: {count(fit.observed[at])}, {gap} {more} than expected."


def _lead_of_test(share: EventShare, tests: ShareTests, alpha: float) -> str:
    against, test = percent_stated(tests.against), tests.test
    if test is None:
        return f"It is not tested against {against}: nothing tells how much the share varies."
    sided = "" if tests.alternative == "two_sided" else "one-sided, "
    if test.p < alpha:
        way = {"two_sided": "differs from", "less": "is below", "greater": "is above"}
        return f"That **{way[tests.alternative]} {against}** ({sided}{test_in_words(test)})."
    than = {"two_sided": "other than", "less": "below", "greater": "above"}[tests.alternative]
    text = f"It is **not shown to be {than} {against}** ({sided}{test_in_words(test)})"
    if tests.alternative != "two_sided" or share.share_ci is None:
        return f"{text}."
    low, high = share.share_ci
    if not low <= tests.against <= high:
        return (
            f"{text}, though the interval leaves it out by a little: they are of two methods, and the "
            "test is the more careful."
        )
    return f"{text}; values from {percent(low)} to {percent(high)} fit the data."


def percent_stated(share: float) -> str:
    """As it was typed."""
    return marked(f"{100 * share:.10g}%")


def _headline(first: VariableDistribution) -> str:
    if first.goodness_of_fit is not None:
        fit = first.goodness_of_fit
        p = "" if fit.test is None else f" · {p_equals(fit.test.p)}"
        return f"w {plain(fit.cohens_w, 2)}{p}"
    if first.share is not None:
        ci = first.share.share_ci
        limits = "" if ci is None else f" · {interval(ci, points)}"
        return f"{percent(first.share.share)}{limits}"
    if first.kind == "numeric" and first.summary is not None:
        return f"median {number(first.summary.median)}"
    most = max(first.table, key=lambda row: row.percent_of_answered)
    return f"{most.label} {percent(most.percent_of_answered / 100)}"


def _figures(first: VariableDistribution, confidence: float) -> list[Figure]:
    figures = []
    if first.share is not None:
        share = first.share
        figures.append(
            Figure(
                label=f"Share of “{share.label}”",
                value=percent(share.share),
                detail=interval(share.share_ci, points),
                exact=f"{share.share!r}, {level(confidence)} CI {share.share_ci!r}",
            )
        )
        if share.weighted is not None:
            figures += _figures_of_design(share.unweighted, share, share.weighted.deff)
    if first.kind == "numeric" and first.summary is not None:
        figures += _figures_of_numbers(first.summary)
    if first.goodness_of_fit is not None:
        fit = first.goodness_of_fit
        if fit.test is not None:
            figures.append(figure_of_test(fit.test, "As expected?"))
        figures.append(
            Figure(
                label="Departure, Cohen’s w",
                value=plain(fit.cohens_w, 2),
                detail="0 is a perfect fit",
                exact=repr(fit.cohens_w),
            )
        )
    figures.append(
        Figure(
            label="Answered",
            value=count(first.n_answered),
            detail=f"{percent(first.percent_missing_of_all / 100)} did not",
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
    return figures


def _figures_of_design(unweighted: float, share: EventShare, deff: float | None) -> list[Figure]:
    figures = [
        Figure(
            label="Unweighted",
            value=percent(unweighted),
            detail=f"{count(share.events)} of {count(share.n)}",
            exact=repr(unweighted),
        )
    ]
    size = share.weighted.effective_sample_size if share.weighted else None
    if deff is not None and size is not None:
        figures.append(
            Figure(
                label="Design effect",
                value=f"{deff:.2f}",
                detail=f"as if {count(size)} drawn at random",
                exact=repr(deff),
            )
        )
    return figures


def _figures_of_numbers(s: Summary) -> list[Figure]:
    figures = [
        Figure(
            label="Median",
            value=number(s.median),
            detail=f"middle half {number(s.q1)} to {number(s.q3)}",
            exact=repr(s.median),
        ),
        Figure(
            label="Mean",
            value=number(s.mean),
            detail=interval(s.mean_ci, number)
            if s.weighted
            else "one value only"
            if s.sd is None
            else f"sd {number(s.sd)}",
            exact=f"mean {s.mean!r}, sd {s.sd!r}",
        ),
    ]
    if s.weighted is not None:
        deff = s.weighted.deff
        figures.append(
            Figure(
                label="Unweighted mean",
                value=number(s.weighted.unweighted),
                detail="" if deff is None else f"design effect {deff:.2f}",
                exact=repr(s.weighted.unweighted),
            )
        )
        return figures
    figures.append(
        Figure(
            label="Range",
            value=f"{number(s.min)} to {number(s.max)}",
            detail="least to greatest",
            exact=f"{s.min!r} to {s.max!r}",
        )
    )
    return figures


def _notes(work: DistributionWork, first: VariableDistribution) -> list[str]:
    at, sample = level(work.question.confidence), work.sampling.sample
    notes = []
    if sample is not None:
        logit = "; logit limits for shares" if first.table else ""
        notes.append(
            f"{at} intervals with {sample.errors} on {count(sample.design_df)} design degrees of "
            f"freedom{logit}. n is always unweighted: weights correct the sample, they do not count "
            "people."
        )
    elif first.table and not work.was_set:
        method = METHODS[work.options.share_interval]
        notes.append(f"Intervals of shares: {method}, {at}, each for one share by itself.")
    fit = first.goodness_of_fit
    if fit is not None:
        total = sum(fit.stated)
        if fit.source == "stated" and abs(total - 100) > 1e-6:
            notes.append(
                f"The stated shares sum to {number(total)}; they were scaled to make up the whole."
            )
        if any(fit.marks):
            what = "standardised residuals" if sample is None else "design-based departures"
            notes.append(
                f"▲ more and ▼ fewer than expected: {what} that stand out with all categories "
                "allowed for (Holm, 5%)."
            )
    if first.kind == "text":
        notes.append("Free text: answers count as the same only when they are written the same.")
    return notes


def moved(first: VariableDistribution) -> str:
    """What the design moved most against counting each row once."""
    if first.summary is not None and first.summary.weighted is not None and not first.table:
        before, now = first.summary.weighted.unweighted, first.summary.mean
        if number(before) == number(now):
            return "The design hardly moves the mean."
        return f"The design moves the mean from {number(before)} to {number(now)}."
    known = [
        (row.percent_of_answered / 100, row.count / first.n_answered, row)
        for row in first.table
        if row.weighted is not None
    ]
    if not known:
        return ""
    event = first.share.event if first.share else ()
    now, before, row = max(
        known, key=lambda each: (round(abs(each[0] - each[1]), 9), (each[2].value,) == event)
    )
    if abs(now - before) < MOVED_SHARE:
        gap = points(now - before)
        return f"The design hardly moves the shares: “{row.label}” most, by {gap} points."
    return f"The design moves “{row.label}” most, from {percent(before)} to {percent(now)}."

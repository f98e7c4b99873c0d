"""A distribution in print: the sentence for the paper."""

from hobrix.core.questions.answer import Counted
from hobrix.core.questions.distribution.reading import METHODS, percent_stated
from hobrix.core.questions.distribution.results import (
    DistributionResults,
    EventShare,
    FrequencyRow,
    GoodnessOfFit,
    Summary,
)
from hobrix.core.questions.distribution.work import DistributionWork
from hobrix.core.questions.wording import (
    count,
    interval_in_print,
    level,
    listed,
    number,
    p_in_print,
    percent,
    plain,
    points,
    reported_test,
)

# Answers listed in print.
_MOST_LISTED = 8


def distribution_write_up(
    work: DistributionWork, results: DistributionResults, counted: Counted
) -> str:
    """The sentence for the paper."""
    first, sample = results.variables[0], work.sampling.sample
    at = f"{level(work.question.confidence)} CI"
    weighted = "" if sample is None else "weighted "
    text = (
        f"Of {counted.people(first.n_all)}, {count(first.n_answered)} "
        f"({percent(first.n_answered / first.n_all)}) answered {work.outcome.title}."
    )
    if first.share is not None:
        text += _share_in_print(first.share, at, weighted)
    elif first.kind == "numeric" and first.summary is not None:
        text += _number_in_print(first.summary, at)
    else:
        parts = [_row_in_print(row, at) for row in first.table[:_MOST_LISTED]]
        more = " and others" if len(first.table) > _MOST_LISTED else ""
        named = f"{weighted}shares" if weighted else "Answers"
        text += f" {named[0].upper()}{named[1:]} were {', '.join(parts)}{more}."
    if first.goodness_of_fit is not None:
        text += _fit_in_print(first.goodness_of_fit)
    return text


def _row_in_print(row: FrequencyRow, at: str) -> str:
    share = percent(row.percent_of_answered / 100)
    if row.weighted is None:
        return f"“{row.label}” {count(row.count)} ({share})"
    limits = "no interval"
    if row.ci is not None:
        limits = f"{at} {interval_in_print(row.ci, lambda x: plain(x, 1))}"
    return f"“{row.label}” {share} ({count(row.count)} sampled, {limits})"


def _share_in_print(share: EventShare, at: str, weighted: str) -> str:
    method = f", {METHODS[share.method]}" if share.weighted is None else ""
    limits = interval_in_print(share.share_ci, points)
    said = f" The {weighted}share of “{share.label}” was {percent(share.share)} "
    sampled = "" if share.weighted is None else " sampled"
    said += f"({count(share.events)} of {count(share.n)}{sampled}"
    said += f", {at} {limits}{method})" if limits else ")"
    if share.tests is not None and share.tests.test is not None:
        test = share.tests.test
        side = {"two_sided": "", "less": ", one-sided (below)", "greater": ", one-sided (above)"}
        said += (
            f"; against {percent_stated(share.tests.against)}, {test.name}"
            f"{side[share.tests.alternative]}, {p_in_print(test.p)}"
        )
    return f"{said}."


def _number_in_print(s: Summary, at: str) -> str:
    sd = "" if s.sd is None else f", SD {number(s.sd)}"
    if s.weighted is not None:
        # Only the mean has an error under a design.
        limits = interval_in_print(s.mean_ci, number)
        ci = f"{at} {limits}" if limits else "no interval"
        return (
            f" The weighted mean was {number(s.mean)} ({ci}{sd}; median {number(s.median)}, "
            f"quartiles {number(s.q1)} and {number(s.q3)})."
        )
    return (
        f" The median was {number(s.median)} (quartiles {number(s.q1)} and {number(s.q3)}; mean "
        f"{number(s.mean)}{sd})."
    )


def _fit_in_print(fit: GoodnessOfFit) -> str:
    shares = [
        f"{label} {percent(share)}"
        for label, share in zip(fit.labels, fit.expected_shares, strict=True)
    ]
    expected = "equal shares" if fit.source == "equal" else f"expected shares ({listed(shares)})"
    tested = "no test" if fit.test is None else reported_test(fit.test, sum(fit.observed))
    return f" The distribution was compared with {expected}: {tested}, Cohen’s w = {plain(fit.cohens_w, 2)}."

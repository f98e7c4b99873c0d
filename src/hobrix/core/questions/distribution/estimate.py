"""The event's share and its tests, and observed against expected shares."""

import math

import numpy as np

from hobrix.core.errors import QuestionError
from hobrix.core.questions.distribution import results as r
from hobrix.core.questions.distribution.expected import SLOT, expected_shares
from hobrix.core.questions.distribution.work import DistributionWork
from hobrix.core.questions.estimates import NamedTest, Share
from hobrix.core.questions.marks import mark_of
from hobrix.core.questions.sampling import Sampling
from hobrix.core.questions.thresholds import EXPECTED
from hobrix.core.survey.design import t_tails
from hobrix.core.tables import goodness_of_fit as fit
from hobrix.core.tables import one_proportion as share


def event_share(work: DistributionWork, sampling: Sampling) -> r.EventShare | None:
    """The share with the event among those of a sampling who answered, tested where a share is
    stated."""
    if not work.event:
        return None
    column = work.frame.categorical(work.outcome.name, "outcome")
    lookup = [0 if c.value in work.event else 1 for c in column.categories] + [-1]
    codes = np.array(lookup, dtype=np.int8)[column.codes]
    label = " or ".join(work.outcome.label_of(value) for value in work.event)
    method = work.options.share_interval
    found = sampling.answers(codes, [("event", label), ("other", "")], method)
    if not found:
        return None
    return r.EventShare(
        **{name: getattr(found[0], name) for name in Share.model_fields},
        event=work.event,
        method=method,
        tests=_share_tests(work, found[0], sampling),
    )


def without_intervals(found: r.VariableDistribution) -> r.VariableDistribution:
    """Shares that were set by the design do not vary."""
    share = found.share and found.share.model_copy(update={"share_ci": None})
    table = tuple(row.model_copy(update={"ci": None}) for row in found.table)
    return found.model_copy(update={"share": share, "table": table})


def _share_tests(work: DistributionWork, found: Share, sampling: Sampling) -> r.ShareTests | None:
    stated, side = work.options.against, work.options.alternative
    if stated is None:
        return None
    what = f"The share of “{found.label}” ({work.outcome.title})"
    than = {"two_sided": "is not", "less": "is below", "greater": "is above"}[side]
    percent = f"{100 * stated:.10g}%"
    exact = score = test = None
    if found.weighted is None:
        exact = share.exact_binomial_test(int(found.events), int(found.n), stated)
        score = share.score_test(found.events, found.n, stated)
        test = NamedTest.exact("exact binomial test", exact.p(side))
        few = min(found.n * stated, found.n * (1 - stated)) < EXPECTED
        if work.options.share_interval == "wilson" and not few:
            # The test whose inversion Wilson's interval is.
            z = score.statistic
            test = NamedTest(name="score test", sign="z", statistic=z, df=None, p=score.p(side))
    elif sampling.sample is not None and found.share_ci is not None:
        df = sampling.sample.design_df
        t = (found.share - stated) / found.weighted.se
        p = t_tails(t, df).p(side)
        name = "t test with the errors of the design"
        test = NamedTest(name=name, sign="", statistic=None, df=df, p=p)
    return r.ShareTests(
        against=stated,
        alternative=side,
        null=f"{what} is {percent}.",
        alternative_in_words=f"{what} {than} {percent}.",
        test=test,
        exact_binomial_test=exact,
        score_z_test=score,
    )


def goodness_of_fit(work: DistributionWork) -> r.GoodnessOfFit | None:
    """The outcome against expected shares, where they are asked for.

    Raises:
        QuestionError: the outcome is not in categories, or shares that make no sense.
    """
    asked, outcome, first = work.options.expected, work.outcome, work.first
    if asked is None:
        return None
    if not outcome.is_categorical:
        raise QuestionError(
            f"{outcome.title} is not in categories, so it has no shares to compare. Band it in "
            "the Codebook first.",
            slot=SLOT,
        )
    counts = {row.value: row.count for row in first.table}
    stated = expected_shares(asked, outcome, counts, work.frame, work.sampling)
    values = tuple(stated)
    shares = np.array([stated[value] for value in values])
    names = [category.value for category in outcome.categories]
    place = np.full(len(names) + 1, -1, dtype=np.int64)
    place[[names.index(value) for value in values]] = np.arange(len(values))
    codes = place[work.frame.categorical(outcome.name, "outcome").codes]
    found = work.sampling.against_stated(codes, shares)
    observed = np.array([counts[value] for value in values])
    expected = shares / shares.sum()
    weighed = np.array([row.percent_of_answered for row in first.table if row.value in stated])
    own = weighed / weighed.sum()
    test, plain, exact = found.test, None, None
    if work.sampling.sample is None:
        plain, exact = (
            fit.goodness_of_fit(observed, shares),
            fit.exact_multinomial(observed, shares),
        )
        if exact is not None and plain.expected.min() < EXPECTED:
            test = NamedTest.exact("exact multinomial test", exact.p)
    return r.GoodnessOfFit(
        source=asked.kind,
        values=values,
        labels=tuple(outcome.label_of(value) for value in values),
        observed=tuple(observed.tolist()),
        observed_shares=tuple(own.tolist()),
        stated=tuple(stated.values()),
        expected_shares=tuple(expected.tolist()),
        test=test,
        standardized_residuals=tuple(found.z.tolist()),
        standardized_residuals_p_holm=tuple(found.p_adjusted.tolist()),
        marks=tuple(
            mark_of(z, p) for z, p in zip(found.z.tolist(), found.p_adjusted.tolist(), strict=True)
        ),
        cohens_w=math.sqrt(float(np.sum((own - expected) ** 2 / expected))),
        expected_counts=None if plain is None else tuple(plain.expected.tolist()),
        pearson=plain and plain.pearson,
        likelihood_ratio=plain and plain.likelihood_ratio,
        pearson_residuals=None if plain is None else tuple(plain.pearson_residuals.tolist()),
        exact_multinomial=exact,
    )

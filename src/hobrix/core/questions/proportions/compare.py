"""How far groups are apart beyond their shares: small counts, trends, strata, standard populations."""

import math

import numpy as np

from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.questions.estimates import Against, NamedTest
from hobrix.core.questions.groups import groups_of, is_whole
from hobrix.core.questions.pair import StratumOfPair
from hobrix.core.questions.proportions import results as r
from hobrix.core.questions.proportions.work import ProportionsWork
from hobrix.core.questions.sampling.designed import Designed
from hobrix.core.questions.slots import group_name
from hobrix.core.questions.thresholds import EXPECTED
from hobrix.core.survey import logistic
from hobrix.core.survey.patterns import PatternTotals
from hobrix.core.tables import exact_two_by_two, k_proportions, two_by_two
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import expected_counts
from hobrix.core.tables.one_proportion import Alternative


def closer_look(work: ProportionsWork) -> tuple[r.Closer, ...]:
    return tuple(_closer(work, each) for each in work.groups.comparisons)


def _closer(work: ProportionsWork, each: Against) -> r.Closer:
    mine, base = work.groups.group(each.value), work.groups.base
    overlap = (
        mine.share_ci is not None
        and base.share_ci is not None
        and mine.share_ci[0] <= base.share_ci[1]
        and base.share_ci[0] <= mine.share_ci[1]
    )
    gap = each.risk_difference
    leaves_out_0 = gap is not None and gap.ci is not None and not gap.ci[0] <= 0 <= gap.ci[1]
    table = table_of(work, each)
    is_sparse, fisher, exact_ci = False, None, None
    if table is not None and has_both(table):
        is_sparse = bool(expected_counts(table).min() < EXPECTED)
        if is_whole(table) and (is_sparse or np.any(table == 0)):
            fisher = exact_two_by_two.fisher_exact(table).two_sided
            exact_ci = exact_two_by_two.conditional_odds_ratio(
                table, work.question.confidence
            ).exact_ci
    return r.Closer(
        value=each.value,
        is_sparse=is_sparse,
        odds_ratio_exact_ci=exact_ci,
        fisher_p=fisher if is_sparse else None,
        overlap_misleads=overlap and leaves_out_0,
    )


def table_of(work: ProportionsWork, each: Against) -> FloatArray | None:
    """[[a, b], [c, d]] of a group and the reference; None under a design."""
    if work.split is None:
        return None
    found: FloatArray = work.split[[work.place(each.value), work.base]]
    return found


def has_both(table: FloatArray) -> bool:
    """Whether some have the event and some do not."""
    return bool(0 < table[:, 0].sum() < table.sum())


def one_sided(work: ProportionsWork, each: Against) -> NamedTest | None:
    """The test of the alternative that was asked; None where two sides were."""
    side = work.options.alternative
    if side == "two_sided":
        return None
    return tested_on(work, each, side)


def tested_on(work: ProportionsWork, each: Against, side: Alternative) -> NamedTest | None:
    """A group against the reference: exact where counts are small, else the pooled z; under a design
    the t of the difference."""
    table = table_of(work, each)
    if table is None:
        return _tested_by_t(each, side)
    if not has_both(table):
        return None
    small = bool(expected_counts(table).min() < EXPECTED)
    if is_whole(table) and (small or not work.groups.shares_have_meaning):
        return NamedTest.exact("Fisher’s exact test", exact_two_by_two.fisher_exact(table).p(side))
    z = two_by_two.z_test(table)
    return NamedTest(name="pooled z test", sign="z", statistic=z.statistic, df=None, p=z.p(side))


def _tested_by_t(each: Against, side: Alternative) -> NamedTest | None:
    gap = each.risk_difference.weighted if each.risk_difference else None
    if gap is None or gap.t is None or gap.p is None:
        return None
    towards = gap.t < 0 if side == "less" else gap.t > 0
    p = gap.p if side == "two_sided" else gap.p / 2 if towards else 1 - gap.p / 2
    name = "t test of the weighted difference"
    return NamedTest(name=name, sign="", statistic=None, df=gap.df, p=p)


def trend(work: ProportionsWork) -> r.TrendOfShares | None:
    """Along ordered groups, scored by their place in the codebook. None where they have no order or
    are fewer than three, or where everybody or nobody has the event."""
    if work.pair.explanatory.variable.kind != "ordinal" or len(work.groups.groups) < 3:
        return None
    scores = np.array(work.pair.whole.kept[0], dtype=np.float64)
    if work.split is None:
        return _weighted_trend(work, scores)
    found = k_proportions.trend(work.split[:, 0], work.split.sum(axis=1), scores)
    if found is None:
        return None
    rest = found.departure_from_trend
    return r.TrendOfShares(
        test=NamedTest(
            name="Cochran–Armitage test",
            sign="z",
            statistic=found.statistic,
            df=None,
            p=found.p_two_sided,
        ),
        rises=found.statistic > 0,
        departure=rest and NamedTest.chi_square("departure from the trend", rest),
        cochran_armitage_trend=found,
        per_step=None,
    )


def _weighted_trend(work: ProportionsWork, scores: FloatArray) -> r.TrendOfShares | None:
    """By the model with the number of the group, on the errors of the design."""
    sampling, pair = work.sampling, work.pair
    assert isinstance(sampling, Designed)
    place = np.full(len(pair.explanatory.variable.categories) + 1, -1, dtype=np.int64)
    place[list(pair.whole.kept[0])] = np.arange(len(scores))
    is_event = [c.value in pair.event for c in pair.outcome.variable.categories]
    outcome = sampling.drawn.codes(pair.outcome.codes)
    pattern = np.where(outcome >= 0, place[sampling.drawn.codes(pair.explanatory.codes)], -1)
    columns = np.column_stack([np.ones(len(scores)), scores])
    events = np.array([*is_event, False])[outcome].astype(np.float64)
    design = sampling.drawn.design
    try:
        totals = PatternTotals.count(design, columns, pattern, events)
        found = logistic.fit(totals, sampling.stages.part).fit
    except (ml.NotFinite, ml.Collinear):
        return None
    slope, se = float(found.coefficients[1]), math.sqrt(float(found.covariance[1, 1]))
    reach = design.t_quantile(work.question.confidence) * se if design.df > 0 else math.inf
    p = design.p_of(slope / se) if se else None
    if not math.isfinite(reach) or p is None:
        return None
    ci = (math.exp(slope - reach), math.exp(min(709.0, slope + reach)))
    name = "t test of the trend"
    return r.TrendOfShares(
        test=NamedTest(name=name, sign="", statistic=None, df=design.df, p=p),
        rises=slope > 0,
        departure=None,
        cochran_armitage_trend=None,
        per_step=r.TrendPerStep(odds_ratio=math.exp(slope), ci=ci, p=p),
    )


def strata(work: ProportionsWork) -> tuple[r.StratumShares, ...]:
    """The event's share in every group of every stratum that holds somebody."""
    return tuple(_stratum(work, stratum) for stratum in work.pair.strata if stratum.n)


def _stratum(work: ProportionsWork, stratum: StratumOfPair) -> r.StratumShares:
    table = stratum.table()
    is_event = work.pair.is_event_of(table)
    explanatory = work.pair.explanatory.variable
    rows = [explanatory.categories[i] for i in table.kept[0]]
    heads = [(row.value, group_name(explanatory, row)) for row in rows]
    shares, _ = table.shares(is_event, heads, work.options.share_interval)
    test = None
    if stratum.left_out is None and groups_of(work.pair, table) is not None:
        test = table.collapsed(is_event).test()
    return r.StratumShares(
        values=stratum.values,
        label=stratum.label,
        groups=tuple(shares),
        test=test,
    )


def standardised(work: ProportionsWork) -> tuple[r.StandardisedShare, ...]:
    """Directly standardised shares; the standard is everyone counted unless weights are stated."""
    pair = work.pair
    if not pair.strata or pair.is_case_control or work.question.is_designed:
        return ()
    tables = np.stack([stratum.counts for stratum in pair.strata])
    weights = tables.sum(axis=(1, 2))
    if work.options.standard is not None:
        weights = _stated(work, work.options.standard)
    is_event = [c.value in pair.event for c in pair.outcome.variable.categories]
    values = [category.value for category in pair.explanatory.variable.categories]
    found = []
    for group in work.groups.groups:
        of_group = tables[:, values.index(group.value), :]
        x, n = of_group[:, is_event].sum(axis=1), of_group.sum(axis=1)
        share = k_proportions.direct_standardisation(x, n, weights, work.question.confidence)
        known = {"share": None, "standard_error": None, "ci": None}
        known |= {} if share is None else vars(share)
        found.append(r.StandardisedShare(label=group.label, **known))
    return tuple(found)


def _stated(work: ProportionsWork, standard: dict[str, float]) -> FloatArray:
    slot = "options.proportions.standard"
    known = {" · ".join(stratum.values) for stratum in work.pair.strata}
    for value in standard:
        if value not in known:
            raise QuestionError(f"“{value}” is no stratum of this question.", slot=slot)
    if not any(standard.values()):
        message = "All weights of the strata are 0. At least one must be above 0."
        raise QuestionError(message, slot=slot)
    return np.array([standard.get(" · ".join(s.values), 0.0) for s in work.pair.strata])

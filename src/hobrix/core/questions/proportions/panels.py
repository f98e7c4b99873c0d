"""What can be opened under shares: tests one by one, margins, pairs, the statement, planning."""

import math

import numpy as np

from hobrix.core.questions.answer import Check
from hobrix.core.questions.estimates import Against, NamedTest
from hobrix.core.questions.groups import is_whole, mcnemar_of
from hobrix.core.questions.lens import Found
from hobrix.core.questions.pair_checks import needed_check
from hobrix.core.questions.proportions import results as r
from hobrix.core.questions.proportions.compare import has_both, table_of, trend
from hobrix.core.questions.proportions.statement import statement
from hobrix.core.questions.proportions.work import ProportionsWork
from hobrix.core.questions.wording import against, interval, level, points
from hobrix.core.tables import exact_two_by_two, k_proportions, paired, two_by_two
from hobrix.core.tables.one_proportion import share_interval

MOST_PAIRED, MOST_TESTED = 40, 60
_AFTER_THE_FACT = (
    "For a new study. Of this one, power from the difference that was seen says no more than p does: "
    "plan for the smallest difference that would matter."
)


def tests(work: ProportionsWork) -> Found:
    split = work.split
    named = [work.test] if work.test is not None else []
    if (found := trend(work)) is not None:
        named += [found.test, *([found.departure] if found.departure else [])]
    homogeneity = None
    pairs: tuple[r.PairOfGroups, ...] = ()
    if split is not None:
        x, n = split[:, 0], split.sum(axis=1)
        homogeneity = k_proportions.homogeneity(x, n)
        if work.exact_p is not None:
            named.insert(1, NamedTest.chi_square("chi-square test", homogeneity))
        if 3 <= len(n) <= MOST_PAIRED:
            labels = [group.label for group in work.groups.groups]
            pairs = tuple(
                r.PairOfGroups(
                    one=labels[test.groups[0]],
                    other=labels[test.groups[1]],
                    **{k: v for k, v in vars(test).items() if k != "groups"},
                )
                for test in k_proportions.pairwise(x, n)
            )
    return Found(
        r.SharesTestsPanel(
            tests=tuple(named),
            chi_square_homogeneity=homogeneity,
            exact_p=work.exact_p,
            comparisons=tuple(
                _tested(work, each) for each in work.groups.comparisons[:MOST_TESTED]
            ),
            pairwise=pairs,
        ),
        needed_check(work.groups),
    )


def _tested(work: ProportionsWork, each: Against) -> r.TestedGroup:
    table, gap = table_of(work, each), each.risk_difference
    z = fisher = None
    if table is not None and has_both(table):
        z = two_by_two.z_test(table) if gap is not None else None
        fisher = exact_two_by_two.fisher_exact(table) if is_whole(table) else None
    needed = None
    if gap is not None and gap.estimate is not None:
        needed = math.inf if gap.estimate == 0 else 1 / abs(gap.estimate)
    return r.TestedGroup(
        label=each.label,
        number_needed=needed,
        z_test=z,
        fisher_p=fisher and fisher.two_sided,
        fisher_less=fisher and fisher.less,
        fisher_greater=fisher and fisher.greater,
    )


def has_shares(work: ProportionsWork) -> bool:
    return work.groups.shares_have_meaning


def has_margin(work: ProportionsWork) -> bool:
    return has_shares(work) and work.options.margin is not None


def margin(work: ProportionsWork) -> Found:
    """Two one-sided tests by the interval at 1 - 2 (1 - confidence) (Schuirmann 1987)."""
    asked, groups = work.options, work.groups
    if asked.margin is None:
        return Found(r.MarginPanel(within_margin=()))
    at = 1 - 2 * work.question.alpha
    every = work.pair.whole.at(at).against(work.pair.is_event, work.base)
    of = {
        "equivalent": "equivalent to",
        "not_below": "not lower than",
        "not_above": "not higher than",
    }
    width = f"{100 * asked.margin:.10g} percentage points"
    found = []
    for each in groups.comparisons:
        apart = every[work.place(each.value)]
        assert apart is not None
        ci = apart.risk_difference.ci
        above = ci is not None and ci[0] > -asked.margin
        below = ci is not None and ci[1] < asked.margin
        shown = {"equivalent": above and below, "not_below": above, "not_above": below}[asked.aim]
        verdict = "is shown to be" if shown else "is **not** shown to be"
        words = (
            f"{each.label} {verdict} {of[asked.aim]} {groups.reference_label} within {width} "
            f"({level(round(at, 6))} interval of the difference {interval(ci, points)})."
        )
        found.append(
            r.WithinMargin(
                label=each.label,
                aim=asked.aim,
                margin=asked.margin,
                ci=ci,
                level=at,
                is_shown=shown,
                words=words,
            )
        )
    return Found(r.MarginPanel(within_margin=tuple(found)))


def are_pairs(work: ProportionsWork) -> bool:
    return mcnemar_of(work.pair) is not None


def in_pairs(work: ProportionsWork) -> Found:
    """The explanatory variable as the first and the outcome as the second time."""
    pair, found = work.pair, mcnemar_of(work.pair)
    assert found is not None
    values = [category.value for category in pair.outcome.variable.categories]
    # The event first, in rows and in columns.
    is_first = values.index(pair.event[0]) == 0
    table = pair.counts if is_first else pair.counts[::-1, ::-1]
    difference = paired.marginal_difference(table.T, work.question.confidence)
    n = float(table.sum())
    return Found(
        r.PairedPanel(
            first_share=float(table[0].sum()) / n,
            second_share=float(table[:, 0].sum()) / n,
            difference=difference.estimate,
            standard_error=difference.standard_error,
            ci=difference.ci,
            mcnemar=found,
        )
    )


def in_statement(work: ProportionsWork) -> Found:
    return Found(r.StatementPanel(lines=statement(work)))


def can_plan(work: ProportionsWork) -> bool:
    return has_shares(work) and not work.question.is_designed


def plan(work: ProportionsWork) -> Found:
    """What n per group would show for the shares seen: the reference and the group that differs most clearly."""
    groups, confidence = work.groups, work.question.confidence
    far, base = groups.group(groups.clearest.value), groups.base
    sizes = np.array([group.n for group in groups.groups])
    n = work.options.plan_n or max(2, round(float(sizes.mean())))
    limits = share_interval(far.share * n, n, confidence)
    wished = work.options.plan_width
    return Found(
        r.PlanPanel(
            n_per_group=n,
            label=against(far.label, base.label),
            half_width=(limits.high - limits.low) / 2,
            power=k_proportions.power(far.share, base.share, n, work.question.alpha)
            if far.share != base.share
            else None,
            wished_half_width=wished,
            n_needed=k_proportions.needed_for_width(far.share, wished, confidence),
        ),
        (Check(id="planning", status="care", text=_AFTER_THE_FACT),),
    )

"""The event in each group of a table, and every group against the reference."""

import numpy as np

from hobrix.core.data.subset import Mask
from hobrix.core.questions.estimates import Against, Groups, SomeLimits
from hobrix.core.questions.pair import Pair
from hobrix.core.questions.sampling import PairTable
from hobrix.core.questions.sampling.each_row import CountedTable
from hobrix.core.questions.sampling.shape import Apart
from hobrix.core.questions.slots import group_name
from hobrix.core.questions.thresholds import EXPECTED
from hobrix.core.tables import exact_two_by_two, paired
from hobrix.core.tables.independence import expected_counts
from hobrix.core.tables.one_proportion import Alternative, Method


def groups_of(
    pair: Pair, table: PairTable, method: Method = "wilson", side: Alternative = "two_sided"
) -> Groups | None:
    """Of the whole table or that of a stratum; None without an event, or where everybody or nobody
    has it. A reference that nobody is in cannot be compared with: the first group stands in. The
    group that leads is the one that differs most on the ``side`` that is asked about."""
    is_event = pair.is_event_of(table)
    if not is_event.any() or is_event.all():
        return None
    explanatory, outcome = pair.explanatory.variable, pair.outcome.variable
    rows = [explanatory.categories[i] for i in table.kept[0]]
    heads = [(row.value, group_name(explanatory, row)) for row in rows]
    values = [value for value, _ in heads]
    base = values.index(pair.reference) if pair.reference in values else 0
    apart = table.against(is_event, base)
    shares, overall = table.shares(is_event, heads, method)
    many = len(heads) - 1
    at = max(
        (i for i in range(len(heads)) if i != base),
        key=lambda i: round(_towards(apart[i], side), 9),
    )
    level = 1 - pair.question.alpha / many
    picked = None
    if many > 1:
        picked = _against(pair, heads[at], table.at(level).apart(is_event, at, base))
    return Groups(
        event=pair.event,
        event_label=" or ".join(outcome.label_of(value) for value in pair.event),
        reference=values[base],
        reference_label=heads[base][1],
        overall=overall,
        shares_have_meaning=not pair.is_case_control,
        groups=tuple(shares),
        comparisons=tuple(
            _against(pair, head, each)
            for head, each in zip(heads, apart, strict=True)
            if each is not None
        ),
        picked=picked,
        exact_odds_ratio_ci=_exact_limits(table, is_event, (at, base), level),
    )


def _exact_limits(
    table: PairTable, is_event: Mask, rows: tuple[int, int], level: float
) -> SomeLimits | None:
    if not isinstance(table, CountedTable):
        return None
    split = table.split(is_event)[list(rows)]
    if not split.sum(axis=0).all() or not is_whole(split):
        return None
    if expected_counts(split).min() >= EXPECTED:
        return None
    return exact_two_by_two.conditional_odds_ratio(split, level).exact_ci


def _towards(apart: Apart | None, side: Alternative) -> float:
    """How clearly a group differs on the side that is asked about."""
    assert apart is not None
    if side == "two_sided":
        return apart.clearness
    gap = apart.risk_difference.estimate or 0.0
    return apart.clearness * (1 if (gap > 0) == (side == "greater") else -1)


def _against(pair: Pair, head: tuple[str, str], apart: Apart) -> Against:
    has_shares = not pair.is_case_control
    return Against(
        value=head[0],
        label=head[1],
        odds_ratio=apart.odds_ratio,
        risk_ratio=apart.risk_ratio if has_shares else None,
        risk_difference=apart.risk_difference if has_shares else None,
        clearness=apart.clearness,
    )


def has_same_answers(pair: Pair) -> bool:
    """Whether both variables have the same answers in the same order."""
    first, second = (
        [category.label for category in used.variable.categories]
        for used in (pair.explanatory, pair.outcome)
    )
    return first == second


def mcnemar_of(pair: Pair) -> paired.McNemar | None:
    """For two variables with the same two answers, such as the same question before and after;
    weights have no form of it."""
    if pair.counts.shape != (2, 2) or not has_same_answers(pair) or pair.question.is_designed:
        return None
    return paired.mcnemar(pair.counts)


def is_whole(counts: np.ndarray) -> bool:
    """Whether all counts are whole numbers, which exact tests need."""
    return bool(np.all(counts == np.rint(counts)))

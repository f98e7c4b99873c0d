"""The event in each group of a table, and every group against the reference."""

import numpy as np

from hobrix.core.questions.estimates import Against, Groups
from hobrix.core.questions.pair import Pair
from hobrix.core.questions.sampling import PairTable
from hobrix.core.questions.slots import group_name
from hobrix.core.tables import paired
from hobrix.core.tables.one_proportion import Method


def groups_of(pair: Pair, table: PairTable, method: Method = "wilson") -> Groups | None:
    """Of the whole table or that of a stratum; None without an event, or where everybody or nobody
    has it. A reference that nobody is in cannot be compared with: the first group stands in."""
    is_event = pair.is_event_of(table)
    if not is_event.any() or is_event.all():
        return None
    explanatory, outcome = pair.explanatory.variable, pair.outcome.variable
    rows = [explanatory.categories[i] for i in table.kept[0]]
    heads = [(row.value, group_name(explanatory, row)) for row in rows]
    values = [value for value, _ in heads]
    base = values.index(pair.reference) if pair.reference in values else 0
    has_shares = not pair.is_case_control
    return Groups(
        event=pair.event,
        event_label=" or ".join(outcome.label_of(value) for value in pair.event),
        reference=values[base],
        reference_label=heads[base][1],
        overall=table.overall(is_event, method),
        shares_have_meaning=has_shares,
        groups=tuple(table.shares(is_event, heads, method)),
        comparisons=tuple(
            Against(
                value=value,
                label=label,
                odds_ratio=each.odds_ratio,
                risk_ratio=each.risk_ratio if has_shares else None,
                risk_difference=each.risk_difference if has_shares else None,
                clearness=each.clearness,
            )
            for (value, label), each in zip(heads, table.against(is_event, base), strict=True)
            if each is not None
        ),
    )


def mcnemar_of(pair: Pair) -> paired.McNemar | None:
    """For two variables with the same two answers, such as the same question before and after;
    weights have no form of it."""
    variables = (pair.explanatory.variable, pair.outcome.variable)
    answers = [[category.label for category in variable.categories] for variable in variables]
    if pair.counts.shape != (2, 2) or answers[0] != answers[1] or pair.question.is_designed:
        return None
    return paired.mcnemar(pair.counts)


def is_whole(counts: np.ndarray) -> bool:
    """Whether all counts are whole numbers, which exact tests need."""
    return bool(np.all(counts == np.rint(counts)))

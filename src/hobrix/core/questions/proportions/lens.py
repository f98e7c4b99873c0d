"""The Proportions lens: how common is the event in each group, and how far apart are they?"""

import numpy as np

from hobrix.core.data import Frame
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Answer, NextStep
from hobrix.core.questions.crosstab.estimate import event_by_group, without_shares
from hobrix.core.questions.crosstab.results import Group, PooledPair
from hobrix.core.questions.crosstab.strata import pooled_pairs
from hobrix.core.questions.proportions.checks import proportion_checks
from hobrix.core.questions.proportions.estimate import (
    paired_shares,
    plan,
    proportions,
    split_counts,
)
from hobrix.core.questions.proportions.options import ProportionOptions, options_of
from hobrix.core.questions.proportions.reading import (
    proportion_reading,
    proportion_statement,
    proportion_write_up,
)
from hobrix.core.questions.proportions.results import (
    Proportions,
    ProportionsResults,
    StandardisedShare,
    StratumShares,
)
from hobrix.core.questions.quantities import Unavailable
from hobrix.core.questions.question import Question
from hobrix.core.questions.slots import group_name
from hobrix.core.questions.two_way import TwoWay, count_two_way
from hobrix.core.tables.independence import drop_empty
from hobrix.core.tables.k_proportions import direct_standardisation
from hobrix.core.tables.one_proportion import share_interval

MAX_GROUPS = 1000


def answer_proportions(question: Question, frame: Frame) -> Answer:
    """Answer through the Proportions lens.

    Raises:
        QuestionError: a slot is empty or cannot be used, no event, nobody left, or options that
            make no sense.
    """
    options = options_of(question)
    asked = count_two_way(question, frame, options.categories, MAX_GROUPS)
    if not asked.event:
        raise QuestionError(
            f"Shares are those of an event: choose which answer to {asked.outcome.variable.title} "
            "is the event.",
            slot="outcome",
        )
    whole = proportions(asked, options)
    results = ProportionsResults(
        whole=whole,
        strata=_strata(asked, options),
        pooled=_pooled(asked),
        standardised=_standardised(asked, whole, options),
        paired=paired_shares(asked, question.confidence),
        plan=plan(whole, options, question.confidence),
        statement=proportion_statement(whole, asked, options),
        unavailable=_unavailable(asked, whole),
    )
    return Answer(
        lens="proportions",
        question=question,
        counted=asked.counted,
        results=results,
        checks=proportion_checks(asked, results, options),
        reading=proportion_reading(asked, results, options),
        next_steps=tuple(_next_steps(question, whole)),
        write_up=proportion_write_up(asked, results),
    )


def _strata(asked: TwoWay, options: ProportionOptions) -> tuple[StratumShares, ...]:
    found = []
    explanatory, confidence = asked.explanatory.variable, asked.question.confidence
    for (values, label), table in zip(asked.labels, asked.tables, strict=True):
        split = split_counts(table, asked.outcome.variable, asked.event)
        groups = []
        for category, (x, rest) in zip(explanatory.categories, split.tolist(), strict=True):
            if x + rest > 0:
                limits = share_interval(x, x + rest, confidence, options.interval)
                groups.append(
                    Group(
                        value=category.value,
                        label=group_name(explanatory, category),
                        n=x + rest,
                        events=x,
                        share=x / (x + rest),
                        share_ci=(limits.low, limits.high),
                    )
                )
        if groups:
            found.append(StratumShares(values=values, label=label, groups=tuple(groups)))
    return tuple(found)


def _pooled(asked: TwoWay) -> tuple[PooledPair, ...]:
    if np.count_nonzero(asked.tables.sum(axis=(1, 2))) < 2:
        return ()
    reduced = drop_empty(asked.table)
    rows = [asked.explanatory.variable.categories[i] for i in reduced.kept_rows]
    columns = [asked.outcome.variable.categories[j] for j in reduced.kept_columns]
    by_group = event_by_group(
        reduced.counts,
        rows,
        columns,
        asked.explanatory.variable,
        asked.outcome.variable,
        asked.event,
        asked.reference,
        asked.question.confidence,
    )
    if asked.frame.study_design == "case_control":
        by_group = without_shares(by_group)
    tables = asked.tables[:, list(reduced.kept_rows), :][:, :, list(reduced.kept_columns)]
    names = [row.value for row in rows], [column.value for column in columns]
    return pooled_pairs(tables, by_group, *names, asked.question.confidence)


def _standardised(
    asked: TwoWay, whole: Proportions, options: ProportionOptions
) -> tuple[StandardisedShare, ...]:
    """Directly standardised shares; the standard is everyone counted unless weights are stated."""
    if not len(asked.tables) or asked.frame.study_design == "case_control":
        return ()
    weights = asked.tables.sum(axis=(1, 2))
    if options.standard is not None:
        weights = _stated(asked, options.standard)
    is_event = [c.value in asked.event for c in asked.outcome.variable.categories]
    found = []
    values = [category.value for category in asked.explanatory.variable.categories]
    for group in whole.groups:
        tables = asked.tables[:, values.index(group.value), :]
        x, n = tables[:, is_event].sum(axis=1), tables.sum(axis=1)
        share = direct_standardisation(x, n, weights, asked.question.confidence)
        found.append(
            StandardisedShare(
                label=group.label,
                share=None if share is None else share.share,
                standard_error=None if share is None else share.standard_error,
                ci=None if share is None else (share.interval.low, share.interval.high),
            )
        )
    return tuple(found)


def _stated(asked: TwoWay, standard: dict[str, float]) -> np.ndarray:
    known = {" · ".join(values): label for values, label in asked.labels}
    for value in standard:
        if value not in known:
            message = f"“{value}” is no stratum of this question."
            raise QuestionError(message, slot="options.standard")
    if not any(standard.values()):
        message = "All weights of the strata are 0. At least one must be above 0."
        raise QuestionError(message, slot="options.standard")
    return np.array([standard.get(value, 0.0) for value in known])


def _unavailable(asked: TwoWay, whole: Proportions) -> tuple[Unavailable, ...]:
    missing = []
    if asked.frame.study_design == "case_control":
        reason = "In a case–control study the share of cases was set by the researcher."
        keys = ("risk_difference", "risk_ratio", "number_needed", "z_test", "standardised")
        missing += [Unavailable(quantity=key, reason=reason) for key in keys]
    if whole.cochran_armitage_trend is None:
        reason = "The groups have no order, or everyone or nobody has the event."
        missing.append(Unavailable(quantity="cochran_armitage_trend", reason=reason))
    if not whole.pairwise:
        reason = "Pairs are compared among 3 to 40 groups."
        missing.append(Unavailable(quantity="pairwise", reason=reason))
    return tuple(missing)


def _next_steps(question: Question, whole: Proportions) -> list[NextStep]:
    base = next(g for g in whole.groups if g.value == whole.reference)
    others = [g for g in whole.groups if g.value != whole.reference]
    far = max(others, key=lambda g: abs(g.share - base.share))
    crossed = question.model_copy(update={"lens": "crosstab"})
    return [
        NextStep(
            label=f"Turn round: {base.label} against {far.label}",
            question=question.with_reference(far.value),
        ),
        NextStep(label="Look at the whole table", question=crossed),
    ]

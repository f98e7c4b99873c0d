"""Design-based shares and comparisons within each stratum of the question."""

from dataclasses import replace

import numpy as np

from hobrix.core.data import Frame, Variable
from hobrix.core.questions.question import Question
from hobrix.core.questions.strata import refuse_too_many, strata_codes
from hobrix.core.questions.survey import results as r
from hobrix.core.questions.survey import tables
from hobrix.core.questions.survey.frequencies import category_shares
from hobrix.core.questions.survey.numeric import mean_of
from hobrix.core.questions.survey.sample import Sample
from hobrix.core.questions.two_way import Named

Part = tuple[tuple[str, ...], str, Sample]


def _parts(question: Question, frame: Frame, sample: Sample) -> list[Part]:
    """Values, label and sample of every stratum that holds somebody; the subset is the stratum."""
    codes, labels = strata_codes(question, frame)
    if codes is None:
        return []
    own = sample.of(codes)
    inside = own >= 0 if sample.inside is None else sample.inside & (own >= 0)
    present = np.unique(own[inside])
    refuse_too_many(question, frame, len(present))
    return [
        (*labels[code], replace(sample, inside=inside & (own == code))) for code in present.tolist()
    ]


def shares_within(
    question: Question, frame: Frame, sample: Sample, outcome: Variable
) -> tuple[r.SurveyStratum, ...]:
    """The share of every answer in each stratum, or the mean of a number."""
    found = []
    if not outcome.is_categorical:
        for values, label, part in _parts(question, frame, sample):
            mean = mean_of(frame, outcome, part, question.confidence)
            why = "" if mean else "nobody answered"
            stratum = _stratum(values, label, mean.n if mean else 0.0, (), why)
            found.append(stratum.model_copy(update={"mean": mean}))
        return tuple(found)
    for values, label, part in _parts(question, frame, sample):
        shares = category_shares(frame, outcome, part, question.confidence)
        n = shares[0].n if shares else 0.0
        found.append(_stratum(values, label, n, shares, "" if shares else "nobody answered"))
    return tuple(found)


def groups_within(
    question: Question, frame: Frame, sample: Sample, asked: Named
) -> tuple[r.SurveyStratum, ...]:
    """The event's share in each group, compared, and the test of the table in each stratum."""
    found = []
    for values, label, part in _parts(question, frame, sample):
        crossed = tables.crossed(asked, part)
        n = float(crossed.totals.n.sum())
        if min(len(crossed.rows), len(crossed.columns)) < 2:
            why = "all gave the same answer to one of the two, so there is nothing to compare"
            found.append(_stratum(values, label, n, (), why if n else "nobody is in it"))
            continue
        shares: tuple[r.SurveyShare, ...] = ()
        comparisons: tuple[r.SurveyComparison, ...] = ()
        if asked.event:
            shares = tables.group_shares(crossed, question.confidence)
            comparisons = tables.comparisons(crossed, asked.reference, question.confidence)
        test = tables.independence_test(crossed)
        stratum = _stratum(values, label, n, shares, "")
        found.append(
            stratum.model_copy(update={"comparisons": comparisons, "rao_scott_second_order": test})
        )
    return tuple(found)


def _stratum(
    values: tuple[str, ...],
    label: str,
    n: float,
    shares: tuple[r.SurveyShare, ...],
    why: str,
) -> r.SurveyStratum:
    return r.SurveyStratum(
        values=values,
        label=label,
        n=n,
        shares=shares,
        comparisons=(),
        mean=None,
        rao_scott_second_order=None,
        left_out=why or None,
    )

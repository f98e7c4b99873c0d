"""Before and after: two variables with the same answers, of the same people."""

import numpy as np

from hobrix.core.questions.crosstab import results as r
from hobrix.core.questions.crosstab.work import CrosstabWork
from hobrix.core.questions.groups import has_same_answers
from hobrix.core.questions.lens import Found
from hobrix.core.questions.wording import (
    count,
    interval_in_print,
    p_in_print,
    percent,
    plain,
    points,
    statistic,
)
from hobrix.core.tables import agreement, paired
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import ChiSquareTest

# Answers that are compared one by one.
MOST_ANSWERS = 20


def is_twice(work: CrosstabWork) -> bool:
    """Whether both have the same answers in the same order, and somebody is counted one by one."""
    many = len(work.pair.outcome.variable.categories)
    same = has_same_answers(work.pair)
    return same and 2 <= many <= MOST_ANSWERS and not work.question.is_designed


def twice(work: CrosstabWork) -> Found:
    """From the variable it varies with, the first time, to the outcome, the second."""
    pair, confidence = work.pair, 1 - work.question.alpha
    counts, labels = pair.counts, [c.label for c in pair.outcome.variable.categories]
    both = agreement.marginal_homogeneity(counts)
    is_ordered = len(labels) > 2 and pair.outcome.variable.kind == "ordinal"
    weights: list[agreement.Weights] = ["unweighted"]
    if is_ordered:
        weights += ["linear", "quadratic"]
    found = r.TwicePanel(
        n=float(counts.sum()),
        same=float(np.trace(counts)),
        answers=tuple(_answer(counts, i, label, confidence) for i, label in enumerate(labels)),
        moved=_moved(counts, labels),
        symmetry=agreement.symmetry(counts),
        homogeneity=both and both[0],
        homogeneity_bhapkar=both and both[1],
        mcnemar=paired.mcnemar(counts) if len(labels) == 2 else None,
        change_odds=_odds(work, counts, confidence) if len(labels) == 2 else None,
        agreement=tuple(
            r.Agreement(weights=name, estimate=k.estimate, ci=k.ci, p=k.p)
            for name in weights
            for k in (agreement.kappa(counts, name, confidence),)
            if k.estimate is not None and k.ci is not None
        ),
        greatest=agreement.greatest_kappa(counts),
    )
    return Found(found, write_up=_written(work, found))


def _answer(counts: FloatArray, at: int, label: str, confidence: float) -> r.AnswerTwice:
    """This answer against all others, the first time and the second."""
    own, first, second = counts[at, at], counts[at].sum(), counts[:, at].sum()
    rest = counts.sum() - first - second + own
    # The second time comes first, so that the difference is the change.
    table = np.array([[own, second - own], [first - own, rest]])
    change = paired.marginal_difference(table, confidence)
    n = float(counts.sum())
    return r.AnswerTwice(
        label=label,
        first=float(first) / n,
        second=float(second) / n,
        change=change.estimate,
        ci=change.newcombe_ci,
    )


def _moved(counts: FloatArray, labels: list[str]) -> tuple[r.Moved, ...]:
    """Pairs of answers between which somebody went, most first."""
    pairs = [(i, j) for i in range(len(labels)) for j in range(i + 1, len(labels))]
    pairs.sort(key=lambda at: -(counts[at] + counts[at[::-1]]))
    return tuple(
        r.Moved(one=labels[i], other=labels[j], there=float(counts[i, j]), back=float(counts[j, i]))
        for i, j in pairs
        if counts[i, j] + counts[j, i] > 0
    )


def _odds(work: CrosstabWork, counts: FloatArray, confidence: float) -> paired.ChangeOdds | None:
    """Came to have the event to lost it; without an event, the second answer stands for it."""
    categories = work.pair.outcome.variable.categories
    event = next((i for i, c in enumerate(categories) if c.value in work.pair.event), 1)
    other = 1 - event
    gained, lost = counts[other, event], counts[event, other]
    return paired.change_odds(np.array([[0.0, gained], [lost, 0.0]]), confidence)


def _written(work: CrosstabWork, found: r.TwicePanel) -> str:
    first, second = work.pair.explanatory.variable.title, work.pair.outcome.variable.title
    text = (
        f"From {first} to {second}, {count(found.same)} of {count(found.n)} "
        f"({percent(found.same / found.n)}) gave the same answer."
    )
    if found.mcnemar is not None:
        event = work.pair.event
        categories = work.pair.outcome.variable.categories
        at = next((i for i, c in enumerate(categories) if c.value in event), 1)
        answer = found.answers[at]
        text += (
            f" “{answer.label}” changed by {points(answer.change)} percentage points, 95% CI "
            f"{interval_in_print(answer.ci, points)}, {p_in_print(found.mcnemar.exact_p)} (McNemar’s exact test)."
        )
    elif found.homogeneity is not None:
        text += f" Marginal homogeneity: {_test(found.homogeneity, 'Stuart–Maxwell')}."
    for each in found.agreement[:1]:
        text += f" Kappa was {plain(each.estimate, 2)}, 95% CI {interval_in_print(each.ci, _two)}."
    return text


def _two(value: float) -> str:
    return plain(value, 2)


def _test(test: ChiSquareTest, name: str) -> str:
    return f"{name} χ²({test.df}) = {statistic(test.statistic)}, {p_in_print(test.p)}"

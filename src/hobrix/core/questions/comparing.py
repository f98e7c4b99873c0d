"""Answers side by side: aligned by what is estimated, with what differs between the questions in
words, and whether two of them differ only where they rest on different people."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from hobrix.core.data import EachRow, Frozen
from hobrix.core.errors import QuestionError
from hobrix.core.questions.asking import Begun, begin
from hobrix.core.questions.estimates import NamedTest, Quantity, SomeLimits
from hobrix.core.questions.lens import Likelihood
from hobrix.core.questions.lenses import form_of, lens_of
from hobrix.core.questions.other_people import Asked, rows_used, why_not_other_people
from hobrix.core.questions.question import Question
from hobrix.core.questions.slots import event_in_words, event_of
from hobrix.core.questions.wording import listed, reported_test
from hobrix.core.tables.independence import chi_square_test
from hobrix.core.tables.interval import MaybeInfinite

# So many answers are read beside each other.
FEWEST, MOST = 2, 8
# These are compared by their difference, those by their quotient.
_RATIOS = ("ratio",)


class OtherQuestion(Frozen):
    """A question that can stand beside the first one."""

    label: str
    question: Question


class AnswerSideBySide(Frozen):
    """An answer in the comparison: its title, what sets its question apart from the others, how many
    were counted, or why there is no answer."""

    title: str
    data_set: str
    differs: tuple[str, ...]
    counted: float | None
    why_not: str | None


class ComparedCell(Frozen):
    """A number with its interval, or why it cannot stand there and what could."""

    estimate: MaybeInfinite | None
    ci: SomeLimits | None
    n: float | None
    events: float | None
    p: float | None
    why_not: str | None
    offer: OtherQuestion | None = None


class Contrast(Frozen):
    """An answer against the first: a difference (shares and numbers) or a quotient (ratios).

    ``ci`` where both rest on different people, from the limits of both (MOVER; Zou & Donner 2008,
    Statistics in Medicine 27:1693); ``says`` how to read it, or why nothing is tested.
    """

    estimate: float | None
    ci: tuple[float, float] | None
    is_apart: bool
    says: str


class ComparedRow(Frozen):
    """One estimated thing over all answers. ``contrasts`` are those of the others with the first."""

    measure: str
    of: str
    label: str
    unit: str
    cells: tuple[ComparedCell, ...]
    contrasts: tuple[Contrast | None, ...]


class NestedModels(Frozen):
    """Two of the models, by place, of which the larger has all terms of the smaller: whether the others
    add anything, or why that is not tested."""

    smaller: int
    larger: int
    test: NamedTest | None
    says: str


class SideBySide(Frozen):
    """Two to eight answers side by side."""

    answers: tuple[AnswerSideBySide, ...]
    rows: tuple[ComparedRow, ...]
    nested: tuple[NestedModels, ...]


@dataclass(frozen=True)
class _Answered:
    asked: Asked
    quantities: dict[tuple[str, str, str], Quantity]
    counted: float | None
    why_not: str | None
    likelihood: Likelihood | None = None
    begun: Begun | None = None

    @property
    def event(self) -> str:
        """Of a question that has an answer, or at least an outcome; otherwise ""."""
        question, frame = self.asked.question, self.asked.frame
        if question.outcome is None or question.outcome.variable not in frame.variables:
            return ""
        outcome = frame.variables[question.outcome.variable]
        if outcome.is_categorical and event_of(question, outcome):
            return event_in_words(question, outcome)
        return outcome.title


def compare(asked: Sequence[Asked]) -> SideBySide:
    """The answers in their order; the first is what the others are held against.

    Raises:
        QuestionError: fewer than two answers, or more than eight.
    """
    if not FEWEST <= len(asked) <= MOST:
        message = f"Choose {FEWEST} to {MOST} answers to compare, not {len(asked)}."
        raise QuestionError(message, slot="questions")
    found = [_answered(each) for each in asked]
    keys = list(dict.fromkeys(key for each in found for key in each.quantities))
    return SideBySide(
        answers=tuple(
            AnswerSideBySide(
                title=each.asked.title,
                data_set=each.asked.data_set,
                differs=_differs(each.asked, asked),
                counted=each.counted,
                why_not=each.why_not,
            )
            for each in found
        ),
        rows=tuple(_row(key, found) for key in keys),
        nested=tuple(_nested(found)),
    )


def _nested(found: Sequence[_Answered]) -> Iterator[NestedModels]:
    """Each model beside those that have its terms and more."""
    for at, small in enumerate(found):
        for place, large in enumerate(found):
            more = _terms(large) - _terms(small)
            if at == place or not more or not _terms(small) < _terms(large):
                continue
            if None in (small.begun, large.begun) or small.event != large.event:
                continue
            if small.likelihood and large.likelihood:
                if small.likelihood.of != large.likelihood.of:
                    continue
                test, says = _gain(small, large, more, _by_likelihood)
                yield NestedModels(smaller=at, larger=place, test=test, says=says)
            elif _same_design(small, large):
                test, says = _gain(small, large, more, _by_wald)
                yield NestedModels(smaller=at, larger=place, test=test, says=says)


def _same_design(small: _Answered, large: _Answered) -> bool:
    one, other = small.asked.question, large.asked.question
    assert small.begun is not None
    assert large.begun is not None
    if small.begun.lens is not large.begun.lens:
        return False
    return one.is_designed and one.counted_by == other.counted_by and one.lens == other.lens


def _terms(answered: _Answered) -> "Terms":
    question = answered.asked.question
    return {
        (term.variable, term.bend or "", term.together_with or "")
        for term in (*question.vary_with, *question.allowing_for)
    }


Terms = set[tuple[str, str, str]]


def _gain(
    small: _Answered,
    large: _Answered,
    more: Terms,
    test_of: Callable[[_Answered, _Answered, Terms], NamedTest | None],
) -> tuple[NamedTest | None, str]:
    one, other = small.asked, large.asked
    if one.data_set != other.data_set or not np.array_equal(rows_used(one), rows_used(other)):
        return None, (
            f"“{one.title}” and “{other.title}” rest on different people, so that what the larger adds "
            "cannot be tested: ask both among those who answered everything."
        )
    test = test_of(small, large, more)
    frame = other.frame
    titles = listed(sorted({frame.variables[name].title for name, _, _ in more}))
    said = "not tested: the design leaves too few degrees of freedom"
    if test is not None:
        said = reported_test(test)
    return test, f"“{other.title}” has {titles} besides: {said}."


def _by_likelihood(small: _Answered, large: _Answered, _more: Terms) -> NamedTest | None:
    assert small.likelihood is not None
    assert large.likelihood is not None
    gain = max(0.0, 2 * (large.likelihood.log - small.likelihood.log))
    found = chi_square_test(gain, large.likelihood.coefficients - small.likelihood.coefficients)
    return NamedTest.chi_square("likelihood-ratio test", found)


def _by_wald(_small: _Answered, large: _Answered, more: Terms) -> NamedTest | None:
    """Of the terms the larger has besides, in the larger model."""
    assert large.begun is not None
    terms = [
        frozenset(name for name in (variable, together) if name) for variable, _, together in more
    ]
    return large.begun.lens.gained(large.begun.work, terms)


def _answered(asked: Asked) -> _Answered:
    try:
        begun = begin(asked.question, asked.frame)
        sheet = begun.sheet()
    except QuestionError as error:
        return _Answered(asked, {}, None, error.message)
    quantities: dict[tuple[str, str, str], Quantity] = {}
    lens = begun.lens
    likelihood = lens.likelihood(sheet.results)
    found = _Answered(asked, quantities, sheet.counted.counted, None, likelihood, begun)
    for each in lens.quantities(sheet.results):
        if each.measure:
            quantities[(each.measure, found.event, _label(each, asked))] = each
    return found


def _label(quantity: Quantity, asked: Asked) -> str:
    """ "Water source: River against Piped", the same from whichever lens."""
    terms = asked.question.vary_with
    title = quantity.variable or (
        asked.frame.variables[terms[0].variable].title if terms and quantity.about else ""
    )
    about = quantity.about.replace(f"{title}: ", "") if title else quantity.about
    return ": ".join(part for part in (title, about) if part)


def _row(key: tuple[str, str, str], found: Sequence[_Answered]) -> ComparedRow:
    measure, event, label = key
    cells = tuple(_cell(key, each, found) for each in found)
    unit = next(each.quantities[key].unit for each in found if key in each.quantities)
    return ComparedRow(
        measure=measure,
        of=event,
        label=label,
        unit=unit,
        cells=cells,
        contrasts=(
            None,
            *(_contrast(key, found[0], other, unit) for other in found[1:]),
        ),
    )


def _cell(
    key: tuple[str, str, str], answered: _Answered, found: Sequence[_Answered]
) -> ComparedCell:
    quantity = answered.quantities.get(key)
    if quantity is not None:
        return ComparedCell(
            estimate=quantity.estimate,
            ci=quantity.ci,
            n=quantity.n,
            events=quantity.events,
            p=quantity.p,
            why_not=None,
        )
    model = next(each for each in found if key in each.quantities)
    why_not, offer = _refusal(key, answered, model)
    return ComparedCell(
        estimate=None, ci=None, n=None, events=None, p=None, why_not=why_not, offer=offer
    )


def _refusal(
    key: tuple[str, str, str], answered: _Answered, model: _Answered
) -> tuple[str, OtherQuestion | None]:
    """Why an answer has no such number, and the question that would have it."""
    if answered.why_not is not None:
        return "no answer", None
    measure, event, label = key
    own, theirs = answered.asked.question, model.asked.question
    assert own.outcome is not None
    assert theirs.outcome is not None
    if answered.event != event:
        return f"the event is {answered.event} there", _offer(
            f"Ask about {event}", answered, outcome=theirs.outcome
        )
    same = [k for k in answered.quantities if k[0] == measure and k[1] == event]
    title = label.partition(": ")[0]
    if any(k[2].partition(": ")[0] == title for k in same):
        return "against another reference, or other groups, there", _offer(
            f"Take the reference of “{model.asked.title}”", answered, vary_with=theirs.vary_with
        )
    if same:
        return f"does not vary with {title} there", _offer(
            f"Vary with {title}", answered, vary_with=theirs.vary_with
        )
    return f"no {measure} in that lens", _offer(
        f"Ask through the lens of “{model.asked.title}”", answered, lens=theirs.lens
    )


def _offer(label: str, answered: _Answered, **changes: object) -> OtherQuestion | None:
    """The question changed so, where it can be answered."""
    changed = answered.asked.question.changed(**changes)
    try:
        frame = answered.asked.frame
        refused = form_of(changed, frame).refusal(changed, frame)
    except QuestionError:
        return None
    return None if refused else OtherQuestion(label=label, question=changed)


def _contrast(
    key: tuple[str, str, str], first: _Answered, other: _Answered, unit: str
) -> Contrast | None:
    one, two = first.quantities.get(key), other.quantities.get(key)
    if one is None or two is None:
        return None
    is_ratio = unit in _RATIOS
    if is_ratio and not (0 < one.estimate < math.inf and 0 < two.estimate < math.inf):
        return None
    change = two.estimate / one.estimate if is_ratio else two.estimate - one.estimate
    why_not = why_not_other_people(first.asked, other.asked)
    if why_not is not None:
        return Contrast(estimate=change, ci=None, is_apart=False, says=why_not)
    if first.asked.question.confidence != other.asked.question.confidence:
        says = "their intervals are of different levels: not tested"
        return Contrast(estimate=change, ci=None, is_apart=False, says=says)
    ci = _mover(one, two, is_ratio=is_ratio)
    if ci is None:
        return Contrast(estimate=change, ci=None, is_apart=False, says="no interval to test with")
    none = 1.0 if is_ratio else 0.0
    is_apart = not ci[0] <= none <= ci[1]
    word = "ratio" if is_ratio else "difference"
    says = (
        f"they differ: the interval of the {word} leaves out {none:g}"
        if is_apart
        else f"no clear difference: the interval of the {word} holds {none:g}"
    )
    return Contrast(estimate=change, ci=ci, is_apart=is_apart, says=says)


def _mover(one: Quantity, two: Quantity, *, is_ratio: bool) -> tuple[float, float] | None:
    """Limits of two minus one (of their quotient) from the limits of both, which are independent."""
    if one.ci is None or two.ci is None:
        return None
    values = [*one.ci, *two.ci, one.estimate, two.estimate]
    if is_ratio:
        if not all(0 < value < math.inf for value in values):
            return None
        values = [math.log(value) for value in values]
    l1, u1, l2, u2, first, second = values
    d = second - first
    low = d - math.hypot(second - l2, u1 - first)
    high = d + math.hypot(u2 - second, first - l1)
    return (math.exp(low), math.exp(high)) if is_ratio else (low, high)


def _differs(asked: Asked, others: Sequence[Asked]) -> tuple[str, ...]:
    """What is not the same in all of the questions, as it stands in this one."""
    said = [_said(each) for each in others]
    own = _said(asked)
    return tuple(own[slot] for slot in own if len({each[slot] for each in said}) > 1)


def _said(asked: Asked) -> dict[str, str]:
    question, frame = asked.question, asked.frame

    def titles(names: Sequence[str]) -> str:
        return listed([frame.variables[n].title if n in frame.variables else n for n in names])

    allowing = [term.variable for term in question.allowing_for if term.together_with is None]
    vary = [term.variable for term in question.vary_with if term.together_with is None]
    counting = question.counted_by
    return {
        "data": asked.data_set,
        "among": f"among {question.among.words(frame)}" if question.among else "everyone",
        "vary": f"varies with {titles(vary)}" if vary else "by itself",
        "allowing": f"allows for {titles(allowing)}" if allowing else "allows for nothing",
        "within": f"within each {titles(question.within)}" if question.within else "not in strata",
        "counted": (
            "each row once"
            if isinstance(counting, EachRow)
            else "with the design"
            if question.is_designed
            else "by counts"
        ),
        "lens": lens_of(question).title,
        "level": f"{question.confidence:.4g} limits",
    }

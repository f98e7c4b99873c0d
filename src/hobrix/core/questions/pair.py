"""Two variables counted together, overall and within strata: what several lenses start from."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np

from hobrix.core.data import Frame, Variable
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Counted
from hobrix.core.questions.lens import Refusal, Work
from hobrix.core.questions.question import Question, Term
from hobrix.core.questions.recast import Used, use
from hobrix.core.questions.sampling import PairTable, Sampling
from hobrix.core.questions.slots import event_of, reference_of
from hobrix.core.questions.strata import refuse_too_many, strata_codes
from hobrix.core.tables.counts import FloatArray


@dataclass(frozen=True)
class StratumOfPair:
    """One category of each stratifying variable. Where its table cannot be made, ``left_out`` says
    why."""

    values: tuple[str, ...]
    label: str
    counts: FloatArray
    left_out: str | None
    _table: Callable[[], PairTable]

    @property
    def n(self) -> float:
        return float(self.counts.sum())

    def table(self) -> PairTable:
        return self._table()


@dataclass(frozen=True)
class Pair(Work):
    """Explanatory variable (rows) by outcome (columns) as the question uses them.

    ``original`` are both as the codebook has them. ``full``, shape (R + 1, C + 1), holds cases and
    keeps missing at index 0; ``strata`` are none without stratifying variables.
    """

    original: tuple[Variable, Variable]
    explanatory: Used
    outcome: Used
    event: tuple[str, ...]
    reference: str
    full: FloatArray
    whole: PairTable
    strata: tuple[StratumOfPair, ...]
    counted: Counted

    @property
    def is_case_control(self) -> bool:
        return self.frame.was_set(self.outcome.variable.name)

    @property
    def counts(self) -> FloatArray:
        """Cases that answered both, shape (R, C) in the order of the codebook."""
        return self.full[1:, 1:]

    @property
    def has_event(self) -> bool:
        """Whether an event is named that some but not all of those counted have."""
        return bool(self.is_event.any() and not self.is_event.all())

    @property
    def is_event(self) -> Mask:
        """Which columns of the whole table are the event, shape (C,)."""
        return self.is_event_of(self.whole)

    def is_event_of(self, table: PairTable) -> Mask:
        categories = self.outcome.variable.categories
        return np.array([categories[j].value in self.event for j in table.kept[1]], dtype=bool)

    @property
    def within(self) -> list[Variable]:
        return [self.frame.variables[name] for name in self.question.within]


@dataclass(frozen=True)
class Named:
    """The two variables as the question uses them; not counted yet."""

    original: tuple[Variable, Variable]
    explanatory: Used
    outcome: Used
    event: tuple[str, ...]
    reference: str


def needed(question: Question) -> tuple[str, ...]:
    """What a row must have answered to be counted in a table of two variables."""
    names = [question.outcome.variable] if question.outcome else []
    names += [term.variable for term in question.vary_with[:1]]
    return tuple(dict.fromkeys([*names, *question.within]))


def refusal_of_pair(question: Question, frame: Frame) -> Refusal | None:
    """Why two variables cannot be crossed, from the codebook alone."""
    if question.outcome is None:
        return Refusal("Choose the outcome: what is the question about?", "outcome", is_open=True)
    if not question.vary_with:
        return Refusal("Choose what the outcome may vary with.", "vary_with", is_open=True)
    outcome = frame.variable(question.outcome.variable, "outcome")
    explanatory = frame.variable(question.vary_with[0].variable, "vary_with")
    if outcome.name == explanatory.name:
        why = f"{outcome.title} cannot vary with itself. Choose another variable here."
        return Refusal(why, "vary_with")
    for variable, slot in ((outcome, "outcome"), (explanatory, "vary_with")):
        if variable.kind == "numeric":
            why = f"{variable.title} is numeric. Band it in the Codebook to use it here."
            return Refusal(why, slot)
        if variable.kind == "text":
            why = f"{variable.title} holds free text: read it as categories in the Codebook."
            return Refusal(why, slot)
    return None


def name_pair(question: Question, frame: Frame, term: Term, most_categories: int) -> Named:
    """Read the slots, with ``term`` as the explanatory variable.

    Raises:
        QuestionError: too many categories, an event or reference that there is not, or recast
            categories that make no sense.
    """
    assert question.outcome is not None
    outcome = frame.variable(question.outcome.variable, "outcome")
    explanatory = frame.variable(term.variable, "vary_with")
    for variable, slot in ((outcome, "outcome"), (explanatory, "vary_with")):
        if len(frame.categorical(variable.name, slot).categories) > most_categories:
            raise QuestionError(
                f"{variable.title} has {len(variable.categories):,} categories, more than a table "
                f"can show ({most_categories}). Combine categories in the Codebook first.",
                slot=slot,
            )
    recasts = question.options.categories
    first, second = (
        use(variable, frame.categorical(variable.name, slot), recasts.get(variable.name))
        for variable, slot in ((explanatory, "vary_with"), (outcome, "outcome"))
    )
    event = [second.into[v] for v in event_of(question, outcome) if v in second.into]
    return Named(
        original=(explanatory, outcome),
        explanatory=first,
        outcome=second,
        event=tuple(dict.fromkeys(event)),
        reference=first.into.get(reference_of(term, explanatory), ""),
    )


def count_pair(question: Question, frame: Frame, sampling: Sampling, most_categories: int) -> Pair:
    """Count the question's first explanatory variable by its outcome. With strata, those who
    answered the stratifying variables are counted.

    Raises:
        QuestionError: as ``name_pair`` does; too many strata, or nobody and nothing to compare.
    """
    named = name_pair(question, frame, question.vary_with[0], most_categories)
    uses = [named.explanatory, named.outcome]
    names = [variable.name for variable in named.original]
    groups, labels = strata_codes(question, frame, names)
    left_out, where = _left_out(uses, sampling)
    sizes = (len(uses[0].variable.categories), len(uses[1].variable.categories))
    pairs = sampling.pairs([used.codes for used in uses], sizes, groups, len(labels), where)
    full = pairs.full[0] if groups is None else pairs.full[1:].sum(axis=0)
    if groups is not None:
        present = int(np.count_nonzero(pairs.full[1:].sum(axis=(1, 2))))
        refuse_too_many(question, frame, present)
    _refuse_nothing_to_compare(full[1:, 1:], uses[0].variable, uses[1].variable, frame)
    without_stratum = float(pairs.full[0].sum()) if groups is not None else 0.0
    strata = [] if groups is None else list(enumerate(labels))
    return Pair(
        question=question,
        frame=frame,
        sampling=sampling,
        original=named.original,
        explanatory=uses[0],
        outcome=uses[1],
        event=named.event,
        reference=named.reference,
        full=full,
        whole=pairs.whole(),
        strata=tuple(
            _stratum(*label, pairs.full[k + 1, 1:, 1:], partial(pairs.stratum, k))
            for k, label in strata
        ),
        counted=_counted(question, frame, sampling, uses, full, left_out, without_stratum),
    )


def _stratum(
    values: tuple[str, ...], label: str, counts: FloatArray, table: Callable[[], PairTable]
) -> StratumOfPair:
    left_out = None
    if not counts.any():
        left_out = "nobody is in it"
    elif min(np.count_nonzero(counts.sum(axis=axis)) for axis in (0, 1)) < 2:
        left_out = "all gave the same answer to one of the two, so there is nothing to compare"
    return StratumOfPair(values, label, counts, left_out, table)


def _left_out(uses: list[Used], sampling: Sampling) -> tuple[dict[str, float], Mask | None]:
    """Cases left out of this question by variable title, and the rows that are not; None for all."""
    kept: Mask | None = None
    found = {}
    for used in uses:
        if used.left_out is None:
            continue
        aside = used.left_out if kept is None else used.left_out & kept
        counted = aside if sampling.where is None else aside & sampling.where
        found[used.variable.title] = sampling.people(counted)
        kept = ~used.left_out if kept is None else kept & ~used.left_out
    return found, kept


def _counted(
    question: Question,
    frame: Frame,
    sampling: Sampling,
    uses: list[Used],
    full: FloatArray,
    left_out: dict[str, float],
    without_stratum: float,
) -> Counted:
    """The strip: also those left out of this question, and those in no stratum."""
    extra = [(f"left out of this question by {title}", n) for title, n in left_out.items()]
    if without_stratum:
        titles = " and ".join(frame.variables[n].title for n in question.within)
        extra.append((f"no answer to {titles}", without_stratum))
    answered = "answered both"
    if extra:
        answered = "answered all" if question.within else "counted"
    return sampling.rows.counted(full, uses[1].variable, uses[0].variable, extra, answered)


def _refuse_nothing_to_compare(
    table: FloatArray, explanatory: Variable, outcome: Variable, frame: Frame
) -> None:
    if table.sum() == 0:
        raise QuestionError(
            f"No {frame.noun.one} answered both {outcome.title} and {explanatory.title}.",
            slot="vary_with",
        )
    for variable, axis, slot in ((explanatory, 1, "vary_with"), (outcome, 0, "outcome")):
        present = [
            category.label
            for category, n in zip(variable.categories, table.sum(axis=axis), strict=True)
            if n > 0
        ]
        if len(present) < 2:
            raise QuestionError(
                f"Everyone counted gave the same answer to {variable.title}: “{present[0]}”. "
                "There is nothing to compare.",
                slot=slot,
            )

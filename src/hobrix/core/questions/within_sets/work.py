"""The model of a question while it is being answered."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from hobrix.core.data import EachRow, Frame
from hobrix.core.data.column import IntArray
from hobrix.core.data.keys import common_keys
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.logistic import fit as ml
from hobrix.core.logistic import inference, matched
from hobrix.core.logistic.answers import Separated
from hobrix.core.logistic.matched import MatchedSets
from hobrix.core.logistic.patterns import FloatArray
from hobrix.core.questions.estimates import NamedTest
from hobrix.core.questions.lens import Work
from hobrix.core.questions.modelling.contrasts import column_names
from hobrix.core.questions.modelling.fitted import Estimate
from hobrix.core.questions.modelling.inference import Inference
from hobrix.core.questions.modelling.prepare import Asked, LaidOut, ask, lay_out, rows_of
from hobrix.core.questions.modelling.terms import design_of, places_of
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling import Sampling
from hobrix.core.questions.within_sets.options import MatchedOptions
from hobrix.core.questions.within_sets.results import MatchedResults
from hobrix.core.questions.wording import count, first_of, listed
from hobrix.core.tables.independence import ChiSquareTest, chi_square_test

SLOT = "matched"
NO_FINITE = "The model does not settle on an estimate: choose fewer variables."


@dataclass(frozen=True)
class MatchedFitted:
    """``sets`` have the columns of the design but the first and those that do not vary within sets; ``kept`` says
    where in the design they are."""

    laid: LaidOut
    sets: MatchedSets
    kept: tuple[int, ...]
    found: ml.Fit
    is_profiled: bool
    confidence: float

    @property
    def inference(self) -> Inference:
        return Inference(self.confidence, None)

    @cached_property
    def places(self) -> list[list[int]]:
        """The columns of each term in the design."""
        return places_of(self.laid.terms)

    def at(self, columns: Sequence[int]) -> list[int]:
        """Where columns of the design stand among those that are kept."""
        return [self.kept.index(column) for column in columns if column in self.kept]

    def estimate(self, of_columns: FloatArray) -> Estimate:
        """Of c'b, c over the columns of the design, with the limits asked for."""
        contrast = of_columns[list(self.kept)]
        value, se = inference.estimate_of(self.found, contrast)
        limits = self.inference.limits_of(value, se)
        if self.is_profiled:
            limits = matched.profile_interval(self.sets, self.found, contrast, self.confidence)
        return Estimate(value, se, self.inference.p_of(value / se if se else 0.0), limits)

    def alone(self, columns: Sequence[int]) -> "MatchedFitted":
        """Within the same sets, with these columns of the design only."""
        at = self.at(columns)
        sets = self.sets.keep(at)
        kept = tuple(self.kept[i] for i in at)
        return replace(self, sets=sets, kept=kept, found=matched.fit(sets))

    def wald(self, columns: Sequence[int]) -> ChiSquareTest | None:
        at = self.at(columns)
        return inference.wald_test(self.found, at) if at else None

    def tests(self, columns: Sequence[int]) -> tuple[ChiSquareTest | None, ChiSquareTest | None]:
        """Of all these columns: by the likelihood ratio, and the score test."""
        at = self.at(columns)
        if not at:
            return None, None
        rest = [i for i in range(len(self.kept)) if i not in at]
        start, reached = np.zeros(len(self.kept)), self.sets.null
        if rest:
            without = matched.fit(self.sets.keep(rest))
            start[rest], reached = without.coefficients, without.log_likelihood
        gain = max(0.0, 2 * (self.found.log_likelihood - reached))
        return chi_square_test(gain, len(at)), matched.score_test(self.sets, start, at)

    def test(self, columns: Sequence[int]) -> NamedTest | None:
        ratio, _ = self.tests(columns)
        return None if ratio is None else NamedTest.chi_square("likelihood-ratio test", ratio)


@dataclass(frozen=True)
class MatchedWork(Work):
    """``used`` are the rows that answered everything and are in a set, shape (rows,); ``set_of`` says which set each
    row of the data is in, -1 for none."""

    asked: Asked
    used: Mask
    set_of: IntArray
    model: MatchedFitted
    # The results, once they are worked out.
    kept: list[MatchedResults] = field(default_factory=list)

    @property
    def options(self) -> MatchedOptions:
        return self.question.options.within_sets

    @property
    def set_title(self) -> str:
        assert self.question.matched is not None
        return self.frame.variables[self.question.matched].title


def work_on(question: Question, frame: Frame, sampling: Sampling) -> MatchedWork:
    """Prepare and fit.

    Raises:
        QuestionError: sets that tell nothing, terms that do not vary within any, the outcome told apart, or what
            ``ask`` refuses.
    """
    refuse_counting(question, frame)
    assert question.matched is not None
    variable = frame.variable(question.matched, SLOT)
    asked = ask(question, frame, sampling.rows)
    taken = {asked.outcome.name, *(term.variable for _, term in asked.terms)}
    if variable.name in taken:
        raise QuestionError(f"{variable.title} is in the sentence already.", slot=SLOT)
    set_of = common_keys([[(variable, frame.source(variable.name))]])[0]
    used = asked.complete(sampling.rows) & (set_of >= 0)
    rows = rows_of(used)
    laid, _ = lay_out(asked, rows, asked.trials[rows])
    design = design_of(laid.terms, laid.values)[laid.pattern]
    _, numbered = np.unique(set_of[rows], return_inverse=True)
    sets = MatchedSets(design[:, 1:], asked.events[rows], numbered)
    if not sets.tells.any():
        raise QuestionError(_nothing_told(variable.title, sets), slot=SLOT)
    kept = tuple(int(i) + 1 for i in np.flatnonzero(~sets.constant))
    if not kept:
        raise QuestionError(_nothing_varies(variable.title, laid), slot="vary_with")
    sets = sets.keep([i - 1 for i in kept])
    found = _fit(sets, laid, kept, asked)
    is_profiled = question.options.within_sets.limits == "profile"
    model = MatchedFitted(laid, sets, kept, found, is_profiled, question.confidence)
    return MatchedWork(question, frame, sampling, asked, used, set_of, model)


def refuse_counting(question: Question, frame: Frame) -> None:
    """Members of a set are told apart row by row."""
    if not frame.has_own_rows:
        message = (
            "Matched sets are looked at row by row, and the rows of these data stay where they are."
        )
        raise QuestionError(message, slot=SLOT)
    if not isinstance(question.counted_by, EachRow):
        message = "Matched sets are looked at row by row, each counted once: without weights, a survey design or counts."
        each = question.changed(counted_by=EachRow())
        raise QuestionError(message, slot=SLOT, remedies=(("Count each row once", each),))
    if question.within:
        message = "Sets are what is looked within here: leave out “within each”, or let the variable act together with another."
        alone = question.changed(within=())
        raise QuestionError(message, slot="within", remedies=(("Leave it out", alone),))


def _fit(sets: MatchedSets, laid: LaidOut, kept: tuple[int, ...], asked: Asked) -> ml.Fit:
    named = column_names(laid.terms)
    try:
        return matched.fit(sets)
    except ml.Collinear as refused:
        titles = dict.fromkeys(named[kept[i]][2] for i in refused.columns)
        message = (
            f"{listed(list(titles))} can be worked out from the other variables within sets, exactly or all but, so its "
            "odds ratio cannot be told apart. Leave one of them out."
        )
        raise QuestionError(message, slot="vary_with") from None
    except Separated as refused:
        without = [
            named[column][2]
            for column, fate in zip(kept, refused.found.fates, strict=True)
            if fate != "finite"
        ]
        whole = "completely" if refused.found.kind == "complete" else "in part"
        message = (
            f"Within sets {asked.outcome.title} is told apart {whole} by {first_of(without, 3) or 'the variables together'}: "
            "the odds ratio would be infinite. Combine categories, or leave the variable out."
        )
        raise QuestionError(message, slot="vary_with") from None
    except ml.NotFinite:
        raise QuestionError(NO_FINITE, slot="vary_with") from None


def _nothing_told(title: str, sets: MatchedSets) -> str:
    many = len(sets.people_of)
    return (
        f"Not one of {count(many)} sets told by {title} holds somebody with the event and somebody without who answered "
        "everything, so nothing can be compared within sets. Is it the variable that tells which set a row is of?"
    )


def _nothing_varies(title: str, laid: LaidOut) -> str:
    titles = listed(list(dict.fromkeys(term.title for term in laid.terms)))
    return f"{titles} is the same for all members of every set told by {title}, so nothing can be compared within sets."

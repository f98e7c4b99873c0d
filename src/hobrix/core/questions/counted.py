"""Who is counted: the steps from everyone surveyed to those the numbers rest on."""

from collections.abc import Sequence

from hobrix.core.data import CountsColumn, Design, Frame, RowNoun, Variable, row_counts
from hobrix.core.data.column import FloatArray
from hobrix.core.data.design_columns import weights_of
from hobrix.core.data.subset import Mask
from hobrix.core.errors import QuestionError
from hobrix.core.questions.answer import Counted, SetAside
from hobrix.core.questions.question import Question


class Rows:
    """The rows a question counts: ``subset`` of those asked about, ``mask`` of those that also have
    a weight where there is a survey design, and how many cases each stands for."""

    def __init__(self, question: Question, frame: Frame) -> None:
        self.frame = frame
        self.question = question
        self.weights: FloatArray | None = row_counts(question.counted_by, frame)
        self.subset: Mask | None = None if question.among is None else question.among.mask(frame)
        if self.subset is not None and not self.subset.any():
            raise QuestionError(
                f"No {frame.noun.one} is left: nobody has {question.among.words(frame)}.",  # type: ignore[union-attr]
                slot="among",
            )
        self.mask = self.subset
        weighted = self.weighted()
        if weighted is not None:
            self.mask = weighted if self.subset is None else weighted & self.subset

    def weighted(self) -> Mask | None:
        """Rows with a weight above 0; None where all have one, or none is asked for."""
        design = self.question.counted_by
        if not isinstance(design, Design):
            return None

        def found() -> Mask | None:
            has_weight = weights_of(design, self.frame) > 0
            return None if has_weight.all() else has_weight

        return self.frame.once(("weighted", design.weights), found)

    @property
    def noun(self) -> RowNoun:
        """What is counted; rows of a summary table stand for several answers each."""
        noun = self.frame.noun
        if isinstance(self.question.counted_by, CountsColumn) and noun == RowNoun():
            return RowNoun("answer", "answers")
        return noun

    @property
    def surveyed(self) -> float:
        return float(self.frame.size if self.weights is None else self.weights.sum())

    def counted(
        self,
        table: FloatArray,
        outcome: Variable,
        explanatory: Variable,
        extra: Sequence[tuple[str, float]] = (),
        answered: str = "answered both",
    ) -> Counted:
        """The strip for a table of shape (R + 1, C + 1) that keeps missing at index 0; ``extra``
        are cases that are not in the table, with the reason."""
        without_outcome = float(table[1:, 0].sum())
        without_explanatory = float(table[0, 1:].sum())
        without_both = float(table[0, 0])
        reasons = [
            (f"no answer to {outcome.title}", without_outcome),
            (f"no answer to {explanatory.title}", without_explanatory),
            (f"no answer to {outcome.title} nor {explanatory.title}", without_both),
        ]
        both = float(table[1:, 1:].sum())
        in_subset = float(table.sum()) + sum(n for _, n in extra)
        return self.strip(in_subset, both, [*reasons, *extra], answered)

    def strip(
        self,
        in_subset: float,
        counted: float,
        reasons: list[tuple[str, float]],
        answered: str,
    ) -> Counted:
        """The strip from the cases in the subset, those counted, and why others are not; cases in
        the subset are those with a weight where there is a design."""
        among = self.question.among
        weighted = self.weighted()
        if weighted is not None:
            lost = ~weighted if self.subset is None else ~weighted & self.subset
            n = float(self.frame.how_many(lost))
            in_subset, reasons = in_subset + n, [*reasons, ("no weight above 0", n)]
        return Counted(
            surveyed=self.surveyed,
            in_subset=in_subset,
            counted=counted,
            answered=answered,
            set_aside=tuple(SetAside(reason=reason, n=n) for reason, n in reasons if n > 0),
            rows=self.frame.how_many(self.subset),
            noun_one=self.noun.one,
            noun_many=self.noun.many,
            counting=self._counting(),
            subset=None if among is None else among.words(self.frame),
        )

    def _counting(self) -> str:
        counting = self.question.counted_by
        if isinstance(counting, CountsColumn):
            return f"each row counts {self.frame.variables[counting.variable].title} times"
        if isinstance(counting, Design):
            # Whom the sample stands for is said once it is known.
            return counting.words(self.frame.variables)
        return f"each {self.frame.noun.one} counts once"

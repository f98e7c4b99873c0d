"""The groups of a question while it is being answered."""

from dataclasses import dataclass
from functools import cached_property

from hobrix.core.data import Frame
from hobrix.core.errors import QuestionError
from hobrix.core.questions.estimates import Groups, NamedTest
from hobrix.core.questions.groups import groups_of, is_whole
from hobrix.core.questions.lens import Work
from hobrix.core.questions.pair import Pair, count_pair
from hobrix.core.questions.proportions.options import ProportionOptions
from hobrix.core.questions.proportions.results import Leading
from hobrix.core.questions.question import Question
from hobrix.core.questions.sampling import Sampling
from hobrix.core.questions.sampling.each_row import CountedTable
from hobrix.core.questions.thresholds import COMMON, EXPECTED
from hobrix.core.tables import exact, exact_two_by_two
from hobrix.core.tables.counts import FloatArray
from hobrix.core.tables.independence import expected_counts

MAX_GROUPS = 1000
# Small tables of so many people and groups are tested exactly.
_ENUMERATED, _MOST_EXACT = 60, 6


@dataclass(frozen=True)
class ProportionsWork(Work):
    """``split`` holds events and non-events of every group, shape (R, 2); None under a design."""

    pair: Pair
    groups: Groups

    @property
    def options(self) -> ProportionOptions:
        return self.question.options.proportions

    @cached_property
    def split(self) -> FloatArray | None:
        table = self.pair.whole
        return table.split(self.pair.is_event) if isinstance(table, CountedTable) else None

    @property
    def base(self) -> int:
        return [group.value for group in self.groups.groups].index(self.groups.reference)

    def place(self, value: str) -> int:
        return [group.value for group in self.groups.groups].index(value)

    @property
    def leading(self) -> Leading:
        """Odds where cases were sampled or where only they have exact limits, as counts are small; the
        ratio where the event is rare; else the difference."""
        if self.pair.is_case_control or self.is_exact:
            return "odds_ratio"
        return "risk_ratio" if self.groups.overall.share < COMMON else "risk_difference"

    @property
    def is_exact(self) -> bool:
        """The group that leads and its reference are too few for approximate limits: those of a
        difference or a ratio of shares may contradict the exact test."""
        return self.groups.exact_odds_ratio_ci is not None

    @cached_property
    def exact_p(self) -> float | None:
        """The exact test of all groups at once, for small tables with small expected counts; of two
        groups whenever they are small."""
        split = self.split
        if split is None or not is_whole(split) or not split.sum(axis=0).all():
            return None
        if expected_counts(split).min() >= EXPECTED:
            return None
        if len(split) == 2:
            return exact_two_by_two.fisher_exact(split).two_sided
        if split.sum() > _ENUMERATED or len(split) > _MOST_EXACT:
            return None
        try:
            return exact.fisher_freeman_halton(split).p
        except exact.TooLarge:
            return None

    @cached_property
    def test(self) -> NamedTest | None:
        """Are all groups alike? Of the event against the rest, however many answers there are."""
        if self.exact_p is not None:
            two = len(self.groups.groups) == 2
            name = "Fisher’s exact test" if two else "exact test (Fisher–Freeman–Halton)"
            return NamedTest.exact(name, self.exact_p)
        return self.pair.whole.collapsed(self.pair.is_event).test()


def work_on(question: Question, frame: Frame, sampling: Sampling) -> ProportionsWork:
    """Count, and refuse a question without an event.

    Raises:
        QuestionError: everybody or nobody counted has the event; a margin in a case–control study.
    """
    pair = count_pair(question, frame, sampling, MAX_GROUPS)
    if pair.is_case_control and question.options.proportions.margin is not None:
        raise QuestionError(
            "In a case–control study shares have no meaning, so no margin for them either.",
            slot="options.proportions.margin",
        )
    asked = question.options.proportions
    groups = groups_of(pair, pair.whole, asked.share_interval, asked.alternative)
    if groups is None:
        raise QuestionError(
            f"Everybody or nobody counted has the event of {pair.outcome.variable.title}: there is "
            "nothing to compare.",
            slot="outcome",
        )
    return ProportionsWork(question, frame, sampling, pair, groups)

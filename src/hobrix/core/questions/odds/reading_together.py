"""Two variables that act together, in words: an odds ratio at every level of the other."""

from dataclasses import dataclass

from hobrix.core.questions.answer import Figure
from hobrix.core.questions.odds.results import OddsModel, OddsRow, OddsTerm
from hobrix.core.questions.wording import (
    figure_of_test,
    interval_in_print,
    level,
    listed,
    p_equals,
    ratio,
    reported_test,
    test_in_words,
)

SCALE = (
    "Whether **odds ratios** are the same at every level is one question; whether differences in "
    "probability are is another. Each can hold without the other."
)
# Levels whose odds ratios are listed.
_MOST_LISTED = 3


@dataclass(frozen=True)
class Together:
    """``main`` is the variable whose odds ratios are told, ``both`` its interaction with another, and
    ``rows`` the odds ratio that differs most clearly from 1, at every level of the other."""

    main: OddsTerm
    both: OddsTerm
    rows: tuple[OddsRow, ...]
    alpha: float

    @property
    def other(self) -> str:
        return self.both.title.split(" with ", 1)[1]

    def lead(self, opening: str) -> str:
        """``opening``: "Allowing for Age, the odds of “Yes” (Illness), River against Piped"."""
        told = [f"**{_limited(row)}** at {row.given}" for row in self.told]
        size = f"a ratio of {listed(told)}"
        if len(self.told) < len(self.rows):
            size = f"ratios from {' to '.join(told)}"
        return f"{opening}, have {size}.{self._differ()}"

    @property
    def told(self) -> tuple[OddsRow, ...]:
        """All of a few; of many the least and the greatest."""
        if len(self.rows) <= _MOST_LISTED:
            return self.rows
        by_size = sorted(self.rows, key=lambda row: row.odds_ratio)
        return by_size[0], by_size[-1]

    def _differ(self) -> str:
        test = self.both.test
        if test is None:
            return ""
        if test.p < self.alpha:
            return (
                f" The odds ratios of {self.main.title} **differ by** {self.other} "
                f"({test_in_words(test)})."
            )
        return (
            f" **No clear sign** that the odds ratios of {self.main.title} differ by {self.other} "
            f"({test_in_words(test)}); such tests seldom notice differences unless they are large or "
            "the sample is."
        )

    @property
    def headline(self) -> str:
        sizes = [row.odds_ratio for row in self.rows]
        p = "" if self.both.test is None else f" · {p_equals(self.both.test.p)}"
        return f"OR {ratio(min(sizes))} to {ratio(max(sizes))} by {self.other}{p}"

    def figures(self) -> list[Figure]:
        found = [
            Figure(
                label=f"Odds ratio at {row.given}",
                value=ratio(row.odds_ratio),
                detail=f"{ratio(row.ci[0])} to {ratio(row.ci[1])}",
                exact=repr(row.odds_ratio),
            )
            for row in self.told
        ]
        if self.both.test is not None:
            found.append(figure_of_test(self.both.test, f"The same at every {self.other}?"))
        return found

    def in_print(self, what: str, confidence: float) -> str:
        """``what``: "the odds ratio for River against Piped"."""
        at = f"{level(confidence)} CI"
        sizes = [
            f"{ratio(row.odds_ratio)}, {at} {interval_in_print(row.ci, ratio)}, at {row.given}"
            for row in self.told
        ]
        among = "ranged from" if len(self.told) < len(self.rows) else "was"
        joined = " to ".join(sizes) if among == "ranged from" else listed(sizes)
        text = f"{what} {among} {joined}"
        if self.both.test is not None:
            text += f"; interaction of {self.both.title}: {reported_test(self.both.test)}"
        return text


def together_with(model: OddsModel, term: OddsTerm, alpha: float) -> Together | None:
    """The first interaction that the term is part of; None where it is in none."""
    both = next(
        (
            each
            for each in model.terms
            if each.together_with and term.variable in (each.variable, each.together_with)
        ),
        None,
    )
    if both is None:
        return None
    main = next(
        each
        for each in model.terms
        if each.variable == both.variable and each.together_with is None
    )
    clearest = max(both.rows, key=lambda row: round(abs(row.z), 9))
    rows = tuple(row for row in both.rows if row.label == clearest.label)
    return Together(main, both, rows, alpha)


def _limited(row: OddsRow) -> str:
    return f"{ratio(row.odds_ratio)} ({ratio(row.ci[0])} to {ratio(row.ci[1])})"

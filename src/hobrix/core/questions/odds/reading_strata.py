"""The model within strata in words: what they share comes before what the whole says without them."""

import math
from dataclasses import dataclass

from hobrix.core.questions.answer import Figure
from hobrix.core.questions.estimates import NamedTest, SomeLimits
from hobrix.core.questions.odds.results import (
    OddsResults,
    OddsRow,
    SameInStrata,
    StratumRatio,
)
from hobrix.core.questions.thresholds import MOVED
from hobrix.core.questions.wording import (
    figure_of_test,
    interval_in_print,
    level,
    p_equals,
    p_in_print,
    ratio,
    reported_test,
    test_in_words,
)

Labelled = tuple[str, StratumRatio]


@dataclass(frozen=True)
class WithinStrata:
    """One odds ratio of the whole, as the strata have it: ``common`` to all, or ``each`` by itself.
    ``within`` names what they are strata of."""

    row: OddsRow
    within: str
    confidence: float
    same: SameInStrata
    common: StratumRatio | None
    each: tuple[Labelled, ...]

    @property
    def test(self) -> NamedTest | None:
        return self.same.test

    @property
    def differ(self) -> bool:
        return self.test is not None and self.test.p < 1 - self.confidence

    @property
    def ends(self) -> tuple[Labelled, Labelled]:
        """The strata with the least and the greatest odds ratio."""
        by_size = sorted(self.each, key=lambda each: each[1].odds_ratio)
        return by_size[0], by_size[-1]

    def lead(self, what: str) -> str:
        """``what``: "the odds of “Yes” (Illness), River against Piped"."""
        if self.common is None or self.differ:
            (low, least), (high, most) = self.ends
            told = "" if self.test is None else f" ({test_in_words(self.test)})"
            text = (
                f"{what}, have ratios that are **not the same**: from {ratio(least.odds_ratio)} "
                f"({low}) to {ratio(most.odds_ratio)} ({high}){told}."
            )
        else:
            p = "" if self.common.p is None else f", {p_equals(self.common.p)}"
            text = (
                f"{what}, have a common ratio of **{ratio(self.common.odds_ratio)}** "
                f"({_limits(self.common.ci)}{p})."
            )
            if self.test is not None:
                text += (
                    f" No clear sign that the coefficients differ between strata "
                    f"({test_in_words(self.test)})."
                )
            elif self.same.reason:
                text += (
                    f" Whether it is the same in every stratum was not tested. {self.same.reason}"
                )
        return f"{text}{self._without_regard()}"

    def _without_regard(self) -> str:
        told = f" Without regard to {self.within} it is {ratio(self.row.odds_ratio)}"
        return f"{told}, **on the other side of 1**." if self._is_reversed else f"{told}."

    @property
    def _is_reversed(self) -> bool:
        if self.differ or self.common is None or not 0 < self.row.odds_ratio < math.inf:
            return False
        here, there = math.log(self.row.odds_ratio), math.log(self.common.odds_ratio)
        return here * there < 0 and min(abs(here), abs(there)) > MOVED

    @property
    def headline(self) -> str:
        if self.common is None or self.differ:
            (_, least), (_, most) = self.ends
            return f"OR {ratio(least.odds_ratio)} to {ratio(most.odds_ratio)} by {self.within}"
        p = "" if self.common.p is None else f" · {p_equals(self.common.p)}"
        return f"OR {ratio(self.common.odds_ratio)}{p}"

    def figures(self, pair: str) -> list[Figure]:
        """The common odds ratio, or the least and the greatest; the whole; and whether they differ."""
        if self.common is not None and not self.differ:
            told = [(f"Odds ratio common to strata, {pair}", self.common)]
        else:
            told = [(f"Odds ratio, {pair}, in {label}", found) for label, found in self.ends]
        figures = [
            Figure(
                label=label,
                value=ratio(found.odds_ratio),
                detail=_limits(found.ci),
                exact=repr(found.odds_ratio),
            )
            for label, found in told
        ]
        figures.append(
            Figure(
                label=f"Without regard to {self.within}",
                value=ratio(self.row.odds_ratio),
                detail=_limits(self.row.ci),
                exact=repr(self.row.odds_ratio),
            )
        )
        if self.test is not None:
            figures.append(figure_of_test(self.test, "The same in every stratum?"))
        return figures

    def in_print(self, what: str) -> str:
        """``what``: "the odds ratio for River against Piped"."""
        if self.common is None or self.differ:
            (low, least), (high, most) = self.ends
            return (
                f"{what} differed between the strata of {self.within}, from "
                f"{self._printed(least)} in {low} to {self._printed(most)} in {high}"
            )
        p = "" if self.common.p is None else f", {p_in_print(self.common.p)}"
        return (
            f"{what}, common to the strata of {self.within} (an intercept for each), was "
            f"{self._printed(self.common)}{p}"
        )

    def _printed(self, found: StratumRatio) -> str:
        text = ratio(found.odds_ratio)
        if found.ci[1] < math.inf or found.ci[0] > 0:
            text += f", {level(self.confidence)} CI {interval_in_print(found.ci, ratio)}"
        return text

    def sameness_in_print(self) -> str:
        if self.test is not None:
            return f" Same coefficients within each {self.within}: {reported_test(self.test)}."
        return f" Sameness was not tested. {self.same.reason}" if self.same.reason else ""


def within_strata(
    results: OddsResults, row: OddsRow, within: str, confidence: float
) -> WithinStrata | None:
    """None without strata, or where none of them tells anything."""
    if results.same is None or results.common is None:
        return None
    rows = [each for term in results.whole.terms for each in term.rows]
    at = next(i for i, each in enumerate(rows) if each is row)
    each = tuple(
        (stratum.label, here)
        for stratum in results.strata
        if at < len(stratum.ratios) and (here := stratum.ratios[at]) is not None
    )
    common = results.common.ratios[at] if at < len(results.common.ratios) else None
    if common is None and not each:
        return None
    return WithinStrata(row, within, confidence, results.same, common, each)


def _limits(ci: SomeLimits) -> str:
    low, high = ci
    return f"{ratio(low)} to {ratio(high)}" if high < math.inf or low > 0 else "no interval"

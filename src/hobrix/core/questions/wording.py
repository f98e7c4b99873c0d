"""Numbers and lists in words: one format everywhere, the same as in the browser."""

import math
from collections.abc import Callable, Sequence
from typing import Protocol

from hobrix.core.questions.answer import Figure
from hobrix.core.questions.estimates import NamedTest, SomeLimits
from hobrix.core.questions.number_style import apart, below_one, marked, style_asked

# Levels of significance in use.
_LEVELS = (0.1, 0.05, 0.01)


def count(n: float) -> str:
    """1234 -> "1,234"."""
    return marked(f"{n:,.0f}")


def percent(share: float) -> str:
    """0.31378 -> "31.4%"; 0.0004 -> "0.04%", 0.9999 -> "99.99%"."""
    return f"{points(share)}%"


def points(share: float) -> str:
    """A share in percent, or a difference of shares in percentage points: -0.0213 -> "−2.1". What is
    not 0 or 100 is not written so."""
    value = 100 * share
    edge = min(abs(value), abs(100 - abs(value)))
    style = style_asked()
    return plain(value, _decimals(edge, 1 if style is None else style.percent_digits))


def _decimals(size: float, usual: int) -> int:
    """As many as it takes to show a digit of a size that is not 0; rounding errors are."""
    rounds_away = 1e-6 < size < 10**-usual
    return max(usual, math.ceil(-math.log10(size))) if rounds_away else usual


def ratio(value: float) -> str:
    """Two decimals; large ones with fewer, and more where the value would look like 0 or 1: 1.0004,
    0.002; "∞" where it has no end."""
    if value == float("inf"):
        return "∞"
    if value >= 100:
        return plain(value, 0 if value >= 1000 else 1)
    return plain(value, _decimals(min(value, abs(value - 1)), 2))


class _Limited(Protocol):
    @property
    def ci(self) -> SomeLimits: ...


class _Picking(Protocol):
    @property
    def picked(self) -> _Limited | None: ...


def ratio_limits(row: _Limited, term: _Picking | None = None) -> str:
    """ "2.04 to 4.09", or that there are none; of several those that allow for the picking."""
    low, high = row.ci if term is None or term.picked is None else term.picked.ci
    return f"{ratio(low)} to {ratio(high)}" if high < math.inf or low > 0 else "no interval"


def all_allowed_for(many: int) -> str:
    return f"{'both' if many == 2 else f'all {many}'} allowed for"


def number(value: float) -> str:
    """A measurement as people read it: about four digits, no trailing zeros; 45.8, 0.0123, 1,250."""
    if value == 0:
        return "0"
    size = abs(value)
    if size >= 1000 or value == int(value):
        text = f"{value:,.0f}"
    elif size >= 0.001:
        decimals = 1 if size >= 10 else 2 if size >= 1 else 3
        text = f"{value:,.{decimals}f}".rstrip("0").rstrip(".")
    else:
        text = f"{value:.2g}"
    return marked(text.replace("-", "−"))


def statistic(value: float) -> str:
    text = f"{value:,.1f}" if abs(value) >= 10 else f"{value:.2f}"
    return marked(text.replace("-", "−"))


def p_value(p: float) -> str:
    """Two or three decimals down to "< 0.001", never 0.000; more where p would look like a level
    of significance that it is not: 0.0496."""
    text = _p_value(p)
    return below_one(marked(text), usual=True)


def _p_value(p: float) -> str:
    style = style_asked()
    digits = None if style is None else style.p_digits
    if p < 10 ** -(digits or 3):
        return "< 0.01" if digits == 2 else "< 0.001"
    if p > 0.99:
        return "> 0.99"
    text = f"{p:.{digits or (3 if p < 0.0995 else 2)}f}"
    for decimals in range(len(text) - 1, 7):
        if float(text) not in _LEVELS or p == float(text):
            break
        text = f"{p:.{decimals}f}"
    return text


def p_equals(p: float) -> str:
    """ "p = 0.042" or "p < 0.001"."""
    text = p_value(p)
    return f"p {text}" if text[0] in "<>" else f"p = {text}"


def p_in_print(p: float) -> str:
    """As papers print it, without the leading zero: "p < .001", "p = .042"."""
    text = below_one(marked(_p_value(p)), usual=False)
    return f"p {text}" if text[0] in "<>" else f"p = {text}"


def unit_in_print(value: float) -> str:
    """A number between -1 and 1 as papers print it: ".19"."""
    return below_one(marked(f"{value:.2f}"), usual=False)


def listed(items: Sequence[str], joined_by: str = "and") -> str:
    """ "a", "a and b", "a, b and c"."""
    if len(items) < 2:
        return "".join(items)
    return f"{', '.join(items[:-1])} {joined_by} {items[-1]}"


def first_of(items: Sequence[str], most: int, joined_by: str = "and") -> str:
    """All of a few; of many the first, and how many more: "a, b and 3 more"."""
    if len(items) <= most:
        return listed(items, joined_by)
    return f"{', '.join(items[:most])} and {len(items) - most:,} more"


def plain(value: float, decimals: int) -> str:
    """Fixed decimals with a true minus sign, and no negative zero: -0.126 -> "−0.13"."""
    text = f"{value:,.{decimals}f}"
    return marked(text.replace("-", "" if not float(text.replace(",", "")) else "−"))


def interval(ci: tuple[float, float] | None, words: Callable[[float], str]) -> str:
    """ "2.04 to 4.09", or that there is none."""
    if ci is None or not (math.isfinite(ci[0]) and math.isfinite(ci[1])):
        return "no interval"
    return f"{words(ci[0])} to {words(ci[1])}"


def interval_in_print(ci: tuple[float, float] | None, words: Callable[[float], str]) -> str:
    """ "[2.04, 4.09]"."""
    return "" if ci is None else f"[{words(ci[0])}{apart()}{words(ci[1])}]"


def level(confidence: float) -> str:
    """0.95 -> "95%"."""
    return marked(f"{100 * confidence:g}%")


def against(one: str, other: str, word: str = "against") -> str:
    """ "River against Piped"; a variable that both name is said once: "Smoker: yes against no"."""
    title, colon, answer = other.partition(": ")
    return f"{one} {word} {answer if colon and one.startswith(f'{title}: ') else other}"


def mid_sentence(title: str) -> str:
    """“Water source” -> “water source”; names in capitals (GPS, WHO) and proper nouns stay."""
    first = title.split(" ", 1)[0]
    return title[0].lower() + title[1:] if " " in title and first[1:].islower() else title


def test_in_words(test: NamedTest) -> str:
    """ "p = 0.042, chi-square test"."""
    return f"{p_equals(test.p)}, {test.name}"


def how_often(p: float) -> str:
    """What p says of samples in which there is nothing to find: "in 6 of 100 samples"."""
    if p > 0.99:
        return "in nearly every sample"
    if p < 0.001:
        return "in fewer than 1 of 1,000 samples"
    return (
        f"in {100 * p:.0f} of 100 samples" if p >= 0.01 else f"in {1000 * p:.0f} of 1,000 samples"
    )


def reported_test(test: NamedTest, n: float | None = None) -> str:
    """ "χ²(3, N = 2,412) = 12.3, p < .001", "likelihood-ratio χ²(2) = 4.1, p = .13", "Rao–Scott F(1.8, 98.2) = 5.31, p = .008", "z = 2.10,
    p = .036", "exact test, p = .04"."""
    if test.statistic is None:
        return f"{test.name}, {p_in_print(test.p)}"
    sign: str = test.sign
    freedom = ""
    if test.sign == "F":
        sign = f"{test.name.removesuffix(' test')} F"
        freedom = f"({_df(test.df)}{apart()}{_df(test.df2)})"
    elif test.df is not None:
        if not test.name.startswith("chi-square"):
            sign = f"{test.name.split(' test')[0]} {sign}"
        freedom = f"({_df(test.df)}{'' if n is None else f'{apart()}N = {count(n)}'})"
    return f"{sign}{freedom} = {statistic(test.statistic)}, {p_in_print(test.p)}"


def _df(df: float | None) -> str:
    assert df is not None
    # Degrees of freedom that are estimated come to whole numbers with rounding.
    df = round(df, 9)
    return marked(f"{df:.0f}" if df == int(df) else f"{df:.2f}" if df < 10 else f"{df:.1f}")


def figure_of_test(test: NamedTest, label: str) -> Figure:
    """A headline figure: p with the statistic it rests on."""
    detail = test.name
    exact = f"p = {test.p!r}"
    if test.statistic is not None:
        freedom = [_df(df) for df in (test.df, test.df2) if df is not None]
        detail = f"{test.sign} {statistic(test.statistic)}"
        detail += f", df {', '.join(freedom)}" if freedom else ""
        exact = f"{test.sign} = {test.statistic!r}, {exact}"
    return Figure(label=label, value=p_equals(test.p), detail=detail, exact=exact)

"""Numbers and lists in words: one format everywhere, the same as in the browser."""

from collections.abc import Sequence


def count(n: float) -> str:
    """1234 -> "1,234"."""
    return f"{n:,.0f}"


def percent(share: float) -> str:
    """0.31378 -> "31.4%"."""
    return f"{100 * share:.1f}%"


def points(difference: float) -> str:
    """A difference of shares in percentage points: -0.0213 -> "−2.1"."""
    return f"{100 * difference:.1f}".replace("-", "−")


def ratio(value: float) -> str:
    """Two decimals; large ones with fewer; "∞" where it has no end."""
    if value == float("inf"):
        return "∞"
    if value >= 1000:
        return f"{value:,.0f}"
    return f"{value:.1f}" if value >= 100 else f"{value:.2f}"


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
    return text.replace("-", "−")


def statistic(value: float) -> str:
    return f"{value:,.1f}" if value >= 10 else f"{value:.2f}"


def p_value(p: float) -> str:
    """Two significant digits down to "< 0.001"; never 0.000."""
    if p < 0.001:
        return "< 0.001"
    text = f"{p:.3f}" if p < 0.0995 else f"{p:.2f}"
    return "> 0.99" if p > 0.99 else text


def p_equals(p: float) -> str:
    """ "p = 0.042" or "p < 0.001"."""
    text = p_value(p)
    return f"p {text}" if text[0] in "<>" else f"p = {text}"


def p_in_print(p: float) -> str:
    """As papers print it, without the leading zero: "p < .001", "p = .042"."""
    return p_equals(p).replace(" 0.", " .")


def unit_in_print(value: float) -> str:
    """A number between -1 and 1 as papers print it: ".19"."""
    return f"{value:.2f}".replace("0.", ".", 1)


def listed(items: Sequence[str], joined_by: str = "and") -> str:
    """ "a", "a and b", "a, b and c"."""
    if len(items) < 2:
        return "".join(items)
    return f"{', '.join(items[:-1])} {joined_by} {items[-1]}"

"""Intervals of shares by name, for methods paragraphs."""

from hobrix.core.tables.one_proportion import Method

SHARE_INTERVALS: dict[Method, str] = {
    "wilson": "the score interval (Wilson 1927)",
    "clopper_pearson": "the exact interval (Clopper and Pearson 1934)",
    "agresti_coull": "the adjusted Wald interval (Agresti and Coull 1998)",
    "jeffreys": "the Jeffreys interval (Brown, Cai and DasGupta 2001)",
    "wald": "the Wald interval",
}
UNDER_DESIGN = (
    "Under the design, shares have logit intervals on t with its degrees of freedom (Binder 1983), and "
    "ratios have intervals on the log scale."
)
AGAINST_REFERENCE = (
    "Differences between shares have Newcombe’s interval (1998), odds ratios Woolf’s (1955)."
)


def picked_in_words(many: int) -> str:
    """How the choice of one group among several was allowed for."""
    return (
        f"Where one group was picked among several (up to {many}), its limits allow for all of them "
        "(Bonferroni)."
    )

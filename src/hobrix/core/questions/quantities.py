"""Numbers of answers that can stand beside those of other questions."""

from hobrix.core.questions.estimates import Against, Quantity, Share
from hobrix.core.questions.wording import against


def quantity_of(share: Share) -> Quantity:
    """How common the event is in a group."""
    return Quantity(
        label=share.label,
        unit="share",
        estimate=share.share,
        ci=share.share_ci,
        measure="share",
        about=share.label,
        n=share.n,
        events=share.events,
    )


def odds_ratio_of(group: Against, reference: str) -> Quantity:
    """The odds ratio of a group against the reference, which has one."""
    odds, about = group.odds_ratio, against(group.label, reference)
    assert odds.estimate is not None
    return Quantity(
        label=f"Odds ratio, {about}",
        unit="ratio",
        estimate=odds.estimate,
        ci=odds.ci,
        measure="odds ratio",
        about=about,
        p=odds.p,
    )

"""What comparing shares assumes, and whether that holds here."""

from hobrix.core.questions.answer import Check, Remedy, in_order
from hobrix.core.questions.pair_checks import fragile_reference, same_people, set_aside
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.core.questions.proportions.work import ProportionsWork
from hobrix.core.questions.rows_checks import rows_checks
from hobrix.core.questions.shared_checks import counting_checks
from hobrix.core.questions.thresholds import EXPECTED, TINY_GROUP
from hobrix.core.questions.wording import first_of


def proportion_checks(work: ProportionsWork, results: ProportionsResults) -> list[Check]:
    """Checks, those that ask for care first."""
    whole = results.whole
    shares = whole.groups if whole.shares_have_meaning else ()
    return list(
        in_order(
            [
                set_aside(work.pair),
                *fragile_reference(work.pair, work.groups),
                *same_people(work.pair, "paired"),
                *_sparse(work, results),
                *_ends(results),
                *_reference(work),
                *_tiny(work),
                *_wald(work),
                *_design(work),
                *rows_checks(work),
                *counting_checks(work, work.pair.counted, shares),
            ]
        )
    )


def _sparse(work: ProportionsWork, results: ProportionsResults) -> list[Check]:
    if work.question.is_designed:
        return []
    labels = {each.value: each.label for each in results.whole.comparisons}
    sparse = [labels[each.value] for each in results.closer if each.is_sparse]
    if not sparse:
        text = (
            f"Every comparison has expected counts of at least {EXPECTED:.0f}: the usual intervals "
            "hold."
        )
        return [Check(id="expected_counts", status="ok", text=text)]
    text = (
        f"Expected counts below {EXPECTED:.0f} in the comparison of {first_of(sparse, 4)} with "
        f"{results.whole.reference_label}: Fisher’s exact p and the exact limits of the odds "
        "ratio stand for it. Limits of a difference or a ratio of shares are approximate there, and "
        "may leave out no difference where the exact test does not."
    )
    return [Check(id="expected_counts", status="care", text=text)]


def _ends(results: ProportionsResults) -> list[Check]:
    ends = [g.label for g in results.whole.groups if g.events in (0, g.n)]
    if not ends:
        return []
    text = (
        f"Nobody, or everybody, has the event in {first_of(ends, 5)}: a ratio with such a group is "
        "0 or infinite and has no usual interval; the difference has one where its error is known."
    )
    return [Check(id="zero_cells", status="care", text=text)]


def _reference(work: ProportionsWork) -> list[Check]:
    """Say so when another group stands in for a reference that nobody counted is in."""
    asked, found = work.pair.reference, work.groups.reference
    if not asked or asked == found:
        return []
    label = work.pair.explanatory.variable.label_of(asked)
    text = (
        f"Nobody counted is in the reference, “{label}”: the others are compared against "
        f"“{work.groups.reference_label}” instead."
    )
    return [Check(id="reference", status="care", text=text)]


def _tiny(work: ProportionsWork) -> list[Check]:
    present = {g.value for g in work.groups.groups}
    categories = work.pair.explanatory.variable.categories
    empty = [f"“{c.label}”" for c in categories if c.value not in present]
    tiny = [g.label for g in work.groups.groups if g.n < TINY_GROUP]
    checks = []
    if empty:
        text = f"Nobody counted is in {first_of(empty, 5, 'or')}: left out."
        checks.append(Check(id="empty_groups", status="care", text=text))
    # A design speaks up for larger groups already.
    if tiny and not work.question.is_designed:
        text = (
            f"Fewer than {TINY_GROUP} {work.pair.counted.noun_many} in {first_of(tiny, 5)}: a share "
            "there says little."
        )
        checks.append(Check(id="small_groups", status="care", text=text))
    return checks


def _wald(work: ProportionsWork) -> list[Check]:
    if work.options.share_interval != "wald" or work.question.is_designed:
        return []
    wilson = work.question.with_options("proportions", share_interval="wilson")
    text = "Wald’s interval is too narrow for small groups and for shares near 0 or 100%."
    remedy = Remedy(label="Use Wilson’s interval", question=wilson)
    return [Check(id="interval", status="care", text=text, remedies=(remedy,))]


def _design(work: ProportionsWork) -> list[Check]:
    if not work.pair.is_case_control:
        return []
    text = (
        "Cases were sampled in this study, so shares only describe the sample: compare odds. "
        "Differences and ratios of shares are not given."
    )
    return [Check(id="study_design", status="care", text=text)]

"""What comparing shares assumes, and whether that holds here."""

from hobrix.core.questions.answer import Check, Remedy
from hobrix.core.questions.proportions.options import ProportionOptions
from hobrix.core.questions.proportions.results import ProportionsResults
from hobrix.core.questions.shared_checks import counting_check, passed_over_check
from hobrix.core.questions.two_way import TwoWay
from hobrix.core.questions.wording import count, listed, percent


def proportion_checks(
    asked: TwoWay, results: ProportionsResults, options: ProportionOptions
) -> tuple[Check, ...]:
    """Checks, those that ask for care first."""
    checks = [
        _set_aside(asked),
        _sparse(results),
        *_ends(results),
        *_reference(asked, results),
        *_tiny(asked, results),
        *_wald(asked, options),
        *_design(asked),
        *passed_over_check(asked.question, asked.frame),
        counting_check(asked.question, asked.frame, asked.counted),
    ]
    order = {"fail": 0, "care": 1, "ok": 2}
    return tuple(sorted(checks, key=lambda check: order[check.status]))


def _set_aside(asked: TwoWay) -> Check:
    counted = asked.counted
    lost = counted.in_subset - counted.counted
    if not lost:
        text = f"Every one of the {count(counted.in_subset)} {counted.noun_many} is counted."
        return Check(id="set_aside", status="ok", text=text)
    share = lost / counted.in_subset
    noun = counted.noun_one if lost == 1 else counted.noun_many
    text = f"{count(lost)} {noun} ({percent(share)}) are set aside."
    return Check(id="set_aside", status="care" if share > 0.1 else "ok", text=text)


def _sparse(results: ProportionsResults) -> Check:
    sparse = [each.label for each in results.whole.comparisons if each.is_sparse]
    if not sparse:
        text = "Every comparison has expected counts of at least 5: the usual intervals hold."
        return Check(id="expected_counts", status="ok", text=text)
    text = (
        f"Expected counts below 5 in the comparison of {listed(sparse[:4])}"
        f"{' and others' if len(sparse) > 4 else ''} with {results.whole.reference_label}: Fisher’s "
        "exact p and exact limits are given there and should lead."
    )
    return Check(id="expected_counts", status="care", text=text)


def _ends(results: ProportionsResults) -> list[Check]:
    ends = [g.label for g in results.whole.groups if g.events in (0, g.n)]
    if not ends:
        return []
    text = (
        f"Nobody, or everybody, has the event in {listed(ends[:5])}"
        f"{' and others' if len(ends) > 5 else ''}: a ratio with such a group is 0 or infinite and "
        "has no usual interval; the difference has one."
    )
    return [Check(id="zero_cells", status="care", text=text)]


def _reference(asked: TwoWay, results: ProportionsResults) -> list[Check]:
    """Say so when another group stands in for a reference that nobody counted is in."""
    whole = results.whole
    if not asked.reference or asked.reference == whole.reference:
        return []
    label = asked.explanatory.variable.label_of(asked.reference)
    text = (
        f"Nobody counted is in the reference, “{label}”: the others are compared against "
        f"“{whole.reference_label}” instead."
    )
    return [Check(id="reference", status="care", text=text)]


def _tiny(asked: TwoWay, results: ProportionsResults) -> list[Check]:
    present = {g.value for g in results.whole.groups}
    categories = asked.explanatory.variable.categories
    empty = [f"“{c.label}”" for c in categories if c.value not in present]
    tiny = [g.label for g in results.whole.groups if g.n < 10]
    checks = []
    if empty:
        text = f"Nobody counted is in {listed(empty[:5], 'or')}: left out."
        checks.append(Check(id="empty_groups", status="care", text=text))
    if tiny:
        text = (
            f"Fewer than 10 {asked.counted.noun_many} in {listed(tiny[:5])}"
            f"{' and others' if len(tiny) > 5 else ''}: a share there says little."
        )
        checks.append(Check(id="small_groups", status="care", text=text))
    return checks


def _wald(asked: TwoWay, options: ProportionOptions) -> list[Check]:
    if options.interval != "wald":
        return []
    question = asked.question
    wilson = question.model_copy(update={"options": {**question.options, "interval": "wilson"}})
    text = "Wald’s interval is too narrow for small groups and for shares near 0 or 100%."
    remedy = Remedy(label="Use Wilson’s interval", question=wilson)
    return [Check(id="interval", status="care", text=text, remedies=(remedy,))]


def _design(asked: TwoWay) -> list[Check]:
    if asked.frame.study_design != "case_control":
        return []
    text = (
        "Cases were sampled in this study, so shares only describe the sample: compare odds. "
        "Differences and ratios of shares are not given."
    )
    return [Check(id="study_design", status="care", text=text)]
